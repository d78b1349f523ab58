"""The smallest sway: it does what it promises, less of it would not, and it is exact about turning."""

from __future__ import annotations

import unittest

from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import evaluate
from bustle.core.project.motion import PhaseGait
from bustle.core.search.smallest_sway import keeps, swayed
from bustle.core.starting.starting_walkers import SHAPES, start, steadied
from tests.long import is_long, share
from tests.projects import changed, demo, quadruped
from tests.seeded import SeededTest


def with_sway(project, motion, terms):
    index = project.motions.index(project.motion(motion))
    return patched(project, [replace(f"/motions/{index}/pose/sway", [t.model_dump() for t in terms])])


class SmallestSway(SeededTest):
    def margin(self, project, motion):
        return evaluate(project, motion).figure("worst_margin_mm")

    def test_reaches_the_margin_asked_for_by_evaluation(self):
        for motion in ("Forward", "Turn left", "Sideways left"):
            plain = changed(quadruped(), {f"motions/{n}/pose/sway": [] for n in range(3)})
            for asked in (2.0, 6.0):
                terms = swayed(plain, motion, asked)
                self.assertIsNotNone(terms, motion)
                self.assertGreaterEqual(self.margin(with_sway(plain, motion, terms), motion), asked)

    def test_nine_tenths_of_it_is_too_little(self):
        plain = changed(quadruped(), {"motions/0/pose/sway": []})
        terms = swayed(plain, "Forward", 6.0)
        less = [
            t.model_copy(update={k: getattr(t, k) * 0.9 for k in ("x_cos_mm", "x_sin_mm", "y_cos_mm", "y_sin_mm")})
            for t in terms
        ]
        self.assertTrue(keeps(with_sway(plain, "Forward", terms), "Forward", 6.0))
        self.assertFalse(keeps(with_sway(plain, "Forward", less), "Forward", 6.0))

    def test_replaces_the_sway_that_is_there(self):
        """Asking for what it has already gives a sway no larger than before."""
        project = demo("sorrel")
        before = max(
            abs(v) for t in project.motions[0].pose.sway for v in (t.x_cos_mm, t.x_sin_mm, t.y_cos_mm, t.y_sin_mm)
        )
        terms = swayed(project, "Forward", project.limits.margin_mm)
        after = max(abs(v) for t in terms for v in (t.x_cos_mm, t.x_sin_mm, t.y_cos_mm, t.y_sin_mm))
        self.assertLessEqual(after, before + 0.51)

    def test_no_sway_makes_two_feet_static(self):
        project = changed(demo("sorrel"), {"motions/4/balance": "static"})
        self.assertIsNone(swayed(project, "Trot", 1.0))

    def test_no_sway_reaches_the_impossible(self):
        self.assertIsNone(swayed(quadruped(), "Forward", 400.0))

    def test_a_shape_is_steadied_by_order_first(self):
        """Turning left, an order with margin of its own needs a sway to set out by, and none on its way."""
        project = start("four_sprawled", "Steady", 220.0)
        turn = project.motion("Turn left")
        self.assertNotEqual(turn.gait, "creep")
        self.assertTrue(turn.pose.sway)
        index = project.motions.index(turn)
        still = changed(project, {f"motions/{index}/pose/sway": []})
        self.assertGreaterEqual(self.margin(still, "Turn left"), project.limits.margin_mm)
        self.assertFalse(keeps(still, "Turn left", project.limits.margin_mm))
        again = steadied(project, "Turn left")
        self.assertEqual(again.motion("Turn left"), turn)

    @is_long
    def test_what_stands_on_its_way_stands_as_it_sets_out_and_stops(self):
        """Every static walk of the shelf, from rest to rest: first steps are shorter than those it goes on in."""
        walks = [
            (shape, project, walk)
            for shape in share(self.random, list(SHAPES), 4)
            for project in [start(shape, "Steady", float(self.random.uniform(60.0, 600.0)))]
            for walk in project.motions
            if isinstance(walk, PhaseGait) and walk.moves and walk.balance == "static"
        ]
        for shape, project, walk in walks:
            outing = {"kind": "programme", "name": "Outing", "parts": [{"motion": walk.name, "amount": 2.0}]}
            out = patched(project, [{"op": "add", "path": "/motions/-", "value": outing}])
            with self.subTest(shape=shape, walk=walk.name):
                self.assertEqual(evaluate(out, "Outing").findings_among(("F18",)), ())


class Symmetry(unittest.TestCase):
    def test_left_and_right_turns_keep_the_same_margin(self):
        """A mirrored walker doing the mirrored motion: the same figures."""
        project = start("six_sprawled", "Mirror", 200.0)
        left = evaluate(changed(project, {"motions/1/twist": {"omega_deg_s": 12.0}}), "Turn left")
        legs = [leg.model_dump() for leg in project.motions[1].legs]
        phase = {leg["limb"]: leg["phase"] for leg in legs}
        swapped = [{**leg, "phase": phase[("R" if leg["limb"][0] == "L" else "L") + leg["limb"][1]]} for leg in legs]
        mirrored = changed(project, {"motions/1/twist": {"omega_deg_s": -12.0}, "motions/1/legs": swapped})
        right = evaluate(mirrored, "Turn left")
        for name in ("worst_margin_mm", "peak_rate_deg_s", "stroke_mm", "straight_knee_mm"):
            self.assertAlmostEqual(left.figure(name), right.figure(name), places=6, msg=name)
