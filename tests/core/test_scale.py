"""A walker one and a half times as large: what is a length grows as much, what is an angle stays, of every figure."""

from __future__ import annotations

import numpy as np

from bustle.core.at_rest.outer_size import extents_mm
from bustle.core.at_rest.posed_joints import posed_joints
from bustle.core.clamp.leg_on_the_clamp import clamp
from bustle.core.clamp.straight_line_test import LINES, line_test
from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.project.walker import FoldedPose, MeasuredLimb
from bustle.core.starting.starting_walkers import SHAPES
from tests.long import in_turns, is_long, share
from tests.projects import changed, hexapod, start
from tests.seeded import SeededTest

TIMES = 1.5
# Servos grow with the levers they turn: then the same weight makes the body sag as much more as it is larger.
GROWS = ("_mm", "_mm_s", "stall_torque_nm")


# What comes of weight and acceleration grows otherwise: the masses here stay as they are.
OF_FORCES = (
    "held_share", "held_rms", "grip_needed", "lag_deg", "lag_mm", "sag_mm", "damping", "carried_margin_mm", "fall_j",
    "halted_margin_mm", "rocks_s", "export_error_mm", "current_most", "current_mean",
)  # fmt: skip
# A metre is so many strides fewer.
OF_A_METRE = ("drift_mm_m", "dragged_mm_m")


def larger(value, name=""):
    """The document with every length and every speed of a length one and a half times as large."""
    if isinstance(value, dict):
        return {key: larger(v, name or key) for key, v in value.items()}
    if isinstance(value, list):
        return [larger(v, name) for v in value]
    grows = name.endswith(GROWS) and isinstance(value, float)
    return value * TIMES if grows else value


def grown(project):
    """Keys are looked at one by one, so that a dictionary under a length's key does not pass the key on."""

    def walk(value):
        if isinstance(value, dict):
            return {k: larger(v, k) if k.endswith(GROWS) else walk(v) for k, v in value.items()}
        return [walk(v) for v in value] if isinstance(value, list) else value

    return parse_project(walk(document(project)))


def still(project):
    """What may be stopped anywhere: walks that live by their timing do not grow with their lengths alone."""
    gaits = [m for m in project.motions if m.kind == "phase_gait" and m.balance == "static"]
    return [gaits[0], gaits[-1]] if gaits else [next(m for m in project.motions if m.name == "Stand")]


class Scale(SeededTest):
    @is_long
    def test_figures(self):
        compared = set()
        # Of few shapes are any parts near enough for a figure.
        for shape in dict.fromkeys(["four_upright", *share(self.random, list(SHAPES), 5)]):
            # What is sent to make up for what servos give grows with the weight, and not with lengths alone.
            project = changed(start(shape, "Scale", 200.0), {"against_sag": "off"})
            for motion in still(project):
                small = {f.name: f for f in evaluate(project, motion.name, 60).figures}
                large = {f.name: f for f in evaluate(grown(project), motion.name, 60).figures}
                # Parts further apart than is looked for have no figure.
                self.assertEqual(small.keys() - {"clearance_mm"}, large.keys() - {"clearance_mm"}, shape)
                # Casters give the same under the same weight, however large the machine.
                of_casters = ("clear_mm",) if any(m.passive for m in project.walker.limbs) else ()
                unlike = (*OF_FORCES, *OF_A_METRE, *of_casters)
                for name, figure in [(n, f) for n, f in small.items() if n in large and n not in unlike]:
                    factor = TIMES if figure.unit in ("mm", "mm/s") else 1.0
                    with self.subTest(shape=shape, motion=motion.name, figure=name):
                        self.assertAlmostEqual(
                            large[name].value, figure.value * factor, delta=max(0.02, 1e-3 * abs(figure.value))
                        )
                    compared.add(name)
        self.assertLessEqual({"worst_margin_mm", "clearance_mm", "belly_mm", "slip_mm", "foot_play_mm"}, compared)

    @in_turns
    def test_findings_stay_what_they_are(self):
        for shape in SHAPES:
            project = start(shape, "Scale", 200.0)
            motion = still(project)[0].name
            codes = [sorted(f.code for f in evaluate(p, motion, 60).findings) for p in (project, grown(project))]
            self.assertEqual(codes[0], codes[1], shape)

    @in_turns
    def test_the_clamp(self):
        for shape in ("six_sprawled", "four_upright", "six_two", "two_planar"):
            small, large = start(shape, "Scale", 180.0), grown(start(shape, "Scale", 180.0))
            limb = small.walker.legs[0]
            foot = np.array([*limb.neutral_mm, -small.motions[0].pose.ride_height_mm])
            here = clamp(small, limb.name, foot, ["side"])
            there = clamp(large, limb.name, foot * TIMES, ["side"])
            np.testing.assert_allclose([j.value for j in there.joints], [j.value for j in here.joints], atol=1e-6)
            np.testing.assert_allclose(there.points, here.points * TIMES, atol=1e-6)
            self.assertAlmostEqual(there.short_mm, here.short_mm * TIMES, places=6)
            for one, other in zip(here.joints, there.joints, strict=True):
                self.assertAlmostEqual(other.per_unit_mm, one.per_unit_mm * TIMES, places=6)

    def test_give_grows_with_the_square(self):
        project = changed(hexapod(), {f"walker/drives/{n}/stiffness_nm_deg": 0.03 for n in range(18)})
        limb = project.walker.legs[0]
        foot = np.array([*limb.neutral_mm, -project.motions[0].pose.ride_height_mm])
        here, there = clamp(project, limb.name, foot, []), clamp(grown(project), limb.name, foot * TIMES, [])
        np.testing.assert_allclose(there.give_mm_per_n, np.array(here.give_mm_per_n) * TIMES**2, atol=1e-9)
        self.assertGreater(here.give_mm_per_n[2], 0.1)

    def test_straight_lines_and_errors_in_zeros(self):
        project = hexapod()
        limb = project.walker.legs[1]
        foot = np.array([*limb.neutral_mm, -project.motions[0].pose.ride_height_mm])
        error = MeasuredLimb(limb=limb.name, joint_zero_deg={"tibia": 3.0}, joint_play_deg={"femur": 1.0})
        for line in LINES:
            here = line_test(project, limb.name, foot, line, 40.0, error)
            there = line_test(grown(project), limb.name, foot * TIMES, line, 40.0 * TIMES, error)
            np.testing.assert_allclose(there.off_mm, np.asarray(here.off_mm) * TIMES, atol=1e-6, err_msg=line)
            self.assertGreater(np.max(here.off_mm), 0.01, line)

    def test_folded_size(self):
        for shape in ("six_sprawled", "four_casters", "two_parallelogram"):
            small, large = start(shape, "Scale", 180.0), grown(start(shape, "Scale", 180.0))
            pose = FoldedPose(box_mm=(100.0, 100.0, 100.0))
            sizes = [extents_mm(p.walker, posed_joints(p.walker, pose.joints)[None]) for p in (small, large)]
            np.testing.assert_allclose(sizes[1], sizes[0] * TIMES, atol=1e-6, err_msg=shape)
