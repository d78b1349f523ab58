"""Flat soles that overlap, against an independent geometry library; and what is done about them."""

from __future__ import annotations

import numpy as np
from shapely.geometry import Polygon

from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.feet.sole_gaps import THICK_MM, soles_that_overlap
from bustle.core.machine import soles
from bustle.core.machine.limbs_on_soles import end_turn, foot_at
from bustle.core.search.remedies import remedies
from bustle.core.starting.fresh_set import fresh_set
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from tests.long import in_turns, is_long, share
from tests.projects import changed, start
from tests.seeded import SeededTest

ON_SOLES = ("two_full", "two_servo", "two_planar", "two_parallelogram", "two_moving_mass")


def corners(r, limb):
    """(N, 4, 3) mm in order round the sole."""
    one = r.project.walker.limbs[limb]
    foot = foot_at(one, limb, r.course.body, r.course.solved)
    turn = end_turn(one, limb, r.course.body, r.course.solved, r.course.headings)
    four = soles.corners(one.feet[0], foot, turn)[:, : r.samples].swapaxes(0, 1)
    middle = four[..., :2].mean(axis=1, keepdims=True)
    order = np.argsort(np.arctan2(*(four[..., :2] - middle).T[::-1]).T, axis=1)
    return np.take_along_axis(four, order[..., None], axis=1)


def together(project, mm, mounts=False):
    """Both feet so much nearer to the middle line, or whole legs."""
    edits = {}
    for n, limb in enumerate(project.walker.limbs):
        if limb.steps:
            x, y = limb.neutral_mm
            edits[f"walker/limbs/{n}/neutral_mm"] = [x, y - np.sign(y) * mm]
            if mounts:
                x, y, z = limb.mount.at_mm
                edits[f"walker/limbs/{n}/mount/at_mm"] = [x, y - np.sign(y) * mm, z]
    return changed(project, edits)


class Apart(SeededTest):
    @in_turns
    def test_what_overlaps_is_what_a_geometry_library_has_overlap(self):
        """Walks of random spacing, toes and soles: the same instants, and no deeper than both are."""
        machine = start("two_full", "Apart", float(self.random.uniform(180, 320)))
        width = machine.walker.limbs[0].feet[0].sole.width_mm
        for _ in range(6):
            edits = {f"walker/limbs/{n}/toe_deg": float(self.random.uniform(-20, 20)) for n in range(2)}
            project = changed(together(machine, float(self.random.uniform(0, 0.6)) * width), edits)
            r = evaluate(project, "Forward").reading
            one, other = (corners(r, limb) for limb in (0, 1))
            level = np.abs(one[..., 2].mean(axis=1) - other[..., 2].mean(axis=1)) < THICK_MM
            shared = np.array([Polygon(a[:, :2]).intersection(Polygon(b[:, :2])).area if flat else 0.0
                               for a, b, flat in zip(one, other, level, strict=True)])  # fmt: skip
            found = soles_that_overlap(r)
            with self.subTest(seed=self.seed, shared=shared.max()):
                self.assertEqual(bool(found), bool((shared > 1e-6).any()))
                if found:
                    self.assertGreater(shared[found[0].sample], 0.0)
                    self.assertLessEqual(-found[0].distance_mm, width + 1e-6)

    @is_long
    def test_no_starting_shape_steps_on_its_own_feet(self):
        for shape in share(self.random, ON_SOLES, 2):
            project = start(shape, "Apart", float(SHAPES[shape].usual_mm * self.random.uniform(0.5, 1.5)))
            for motion in project.motions:
                with self.subTest(shape=shape, motion=motion.name, seed=self.seed):
                    self.assertEqual(soles_that_overlap(evaluate(project, motion.name).reading), [])


class Said(SeededTest):
    def test_standing_on_each_other_is_a_stop_and_no_set_is_made(self):
        project = together(start("two_planar", "Near", 260.0), 60.0, mounts=True)
        (stop,) = [f for f in evaluate(project, "Stand").findings if f.code == "F16"]
        self.assertEqual(stop.severity, "stop")
        self.assertRegex(stop.message, r"^L sole and R sole overlap by \d+ mm at 0 s\.")
        # Legs that only swing fore and aft cannot be set further apart.
        with self.assertRaisesRegex(InputRefused, "nothing walks: "):
            fresh_set(project)

    def test_two_servos_a_leg_get_no_set_that_treads_on_itself(self):
        project = start("two_servo", "Broad", float(self.random.uniform(80, 300)))
        broad = {f"walker/limbs/{n}/feet/0/sole/width_mm": k.feet[0].sole.width_mm * 1.3
                 for n, k in enumerate(project.walker.limbs)}  # fmt: skip
        with self.assertRaisesRegex(InputRefused, r"nothing walks: L sole and R sole overlap by [\d.]+ mm"):
            fresh_set(changed(project, broad))
        self.assertTrue(evaluate(fresh_set(project), "Forward").sound)

    @in_turns
    def test_legs_that_can_stand_further_apart_in_their_set(self):
        project = together(start("two_full", "Near", 260.0), 30.0)
        self.assertIn("F16", {code for code, *_ in evaluate(project, "Stand").stops})
        made = fresh_set(project)
        for motion in made.motions:
            self.assertFalse(evaluate(made, motion.name).stops, motion.name)
        apart = [made.walker.limbs[n].neutral_mm[1] for n in range(2)]
        self.assertGreater(apart[0] - apart[1], made.walker.limbs[0].feet[0].sole.width_mm)

    def test_narrower_soles_or_feet_further_apart_clear_it(self):
        project = together(start("two_full", "Near", 260.0), 30.0)
        (stop,) = [f for f in evaluate(project, "Stand").findings if f.code == "F16"]
        titles = {}
        for remedy in remedies(project, "Stand", stop):
            after = evaluate(patched(project, remedy.patch), "Stand")
            self.assertNotIn("F16", {code for code, *_ in after.stops}, remedy.title)
            titles[remedy.title.split()[0]] = remedy
        self.assertLessEqual({"Soles", "Feet"}, set(titles))

    def test_hips_that_swing_the_soles_together_are_swung_less(self):
        """As its turns would go by the swing of its walk ahead."""
        project = start("two_servo", "Turns", float(self.random.uniform(100, 200)))
        index = [m.name for m in project.motions].index("Turn left")
        swings = [j.swing for j in project.motions[index].joints]
        yaw = next(n for n, j in enumerate(project.motions[index].joints) if j.joint == "yaw" and j.swing)
        self.assertLess(swings[yaw], 10.0)
        far = changed(project, {f"motions/{index}/joints/{yaw}/swing": 25.0})
        stop = next(f for f in evaluate(far, "Turn left").findings if f.code == "F16")
        self.assertEqual(stop.severity, "stop")
        less = next(r for r in remedies(far, "Turn left", stop) if r.title.startswith("Toes swing"))
        after = patched(far, less.patch)
        self.assertNotIn("F16", {code for code, *_ in evaluate(after, "Turn left").stops})
        moved = {
            j.joint for j, was in zip(after.motions[index].joints, far.motions[index].joints, strict=True) if j != was
        }
        self.assertEqual(moved, {"yaw"})
