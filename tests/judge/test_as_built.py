"""Legs that are built otherwise than they are drawn: they limp, the walk drifts, and what puts it right."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.way_walked import drift
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from bustle.core.servo.servo_table import fitted, told
from bustle.core.servo.zero_trims import with_zeros_trimmed
from tests.long import in_turns
from tests.projects import changed, start
from tests.seeded import SeededTest

WALK = "Forward"


def built(project, limb, lengths=None, zeros=None):
    """The project with what was measured of one of its legs."""
    values = document(project)
    truth = {"limb": limb, "link_length_mm": lengths or {}, "joint_zero_deg": zeros or {}}
    values["walker"]["as_built"]["limbs"].append(truth)
    return parse_project(values)


def found(project, code):
    return [f for f in evaluate(project, WALK).findings if f.code == code]


class Limps(SeededTest):
    @in_turns
    def test_one_long_shank_is_told_by_how_much_lower_it_reaches(self):
        project = start("four_upright", "Long shank", float(self.random.uniform(120, 300)))
        leg = project.walker.legs[int(self.random.integers(4))]
        shank, longer = leg.links[-1], float(self.random.uniform(2.5, 6.0))
        uneven = built(project, leg.name, {shank.name: shank.length_mm + longer})
        finding = found(uneven, "F14")[0]
        self.assertEqual(finding.subjects[0][0], leg.name)
        # A shank leans by as much as the knee bends it, and no foot comes lower than it is longer.
        self.assertLess(finding.value, longer)
        self.assertGreater(finding.value, 0.6 * longer)

    def test_legs_all_as_much_longer_do_not_limp(self):
        project = start("four_upright", "All long", 200.0)
        for leg in project.walker.legs:
            project = built(project, leg.name, {k.name: k.length_mm * 1.04 for k in leg.links if k.length_mm})
        self.assertEqual(found(project, "F14") + found(project, "F11"), [])

    def test_each_remedy_clears_it(self):
        project = start("six_sprawled", "Zero off", 200.0)
        leg = project.walker.legs[int(self.random.integers(6))]
        long = {"tibia": leg.links[-1].length_mm + 3.0}
        for uneven, said in (
            (built(project, leg.name, long), ["Draw"]),
            (built(project, leg.name, zeros={"femur": -3.0}), ["Trim"]),
        ):
            finding = found(uneven, "F14")[0]
            offered = remedies(uneven, WALK, finding)
            self.assertEqual([remedy.title.partition(" ")[0] for remedy in offered], said)
            for remedy in offered:
                self.assertEqual(found(patched(uneven, remedy.patch), "F14"), [], remedy.title)


class ZerosTrimmed(SeededTest):
    def test_the_servo_is_told_as_much_less_as_its_joint_stood_too_far(self):
        project = start("six_sprawled", "Zero off", 200.0)
        off = float(self.random.uniform(1.0, 4.0))
        after = with_zeros_trimmed(built(project, "L2", zeros={"femur": off}))
        self.assertEqual(after.walker.as_built.limbs[0].joint_zero_deg, {})
        first, then = (evaluate(p, WALK).reading for p in (project, after))
        servos = first.of(fitted)
        here = [s.joint for s in servos.servos].index("L2/femur")
        moved = then.of(told) - first.of(told)
        self.assertTrue(np.allclose(np.delete(moved, here, axis=1), 0.0))
        self.assertTrue(np.allclose(moved[:, here], -off * servos.per_deg[here], atol=0.1))


class Steers(SeededTest):
    def test_legs_led_so_bring_it_as_far_aside_in_a_metre(self):
        for shape in ("six_sprawled", "four_upright", "six_upright"):
            aside = float(self.random.uniform(-90, 90))
            project = start(shape, "Steered", 200.0)
            steered = changed(project, {"motions/0/steer_mm_m": aside})
            plan = evaluate(steered, project.motions[0].name)
            with self.subTest(shape=shape, aside=aside, seed=self.seed):
                self.assertAlmostEqual(plan.reading.of(drift).aside_mm, aside, delta=0.01 * abs(aside) + 0.1)
                self.assertAlmostEqual(plan.figure("drift_mm_m"), abs(aside), delta=0.01 * abs(aside) + 0.1)

    def test_what_turns_tightly_has_no_drift(self):
        """Round and round it comes back to where it began, and no line leads there."""
        project = start("six_sprawled", "Steered", 200.0)
        walk = project.motions[0]
        for round_deg in (0.0, 30.0, 85.0, 179.0, 360.0):
            omega = round_deg * walk.twist.vx_mm_s / 1000.0
            plan = evaluate(changed(project, {"motions/0/twist/omega_deg_s": omega}), walk.name)
            with self.subTest(round_deg=round_deg):
                self.assertEqual(plan.figure("drift_mm_m") is None, round_deg > 90.0)

    def test_what_stands_or_turns_on_the_spot_is_not_steered(self):
        project = start("six_sprawled", "Steered", 200.0)
        for name in ("Stand", "Turn left"):
            n = [m.name for m in project.motions].index(name)
            steered = changed(project, {f"motions/{n}/steer_mm_m": 60.0})
            one, other = (evaluate(p, name).reading.course.solved.joints for p in (project, steered))
            self.assertTrue(np.array_equal(one, other))
