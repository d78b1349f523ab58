"""The smallest sway: it does what it promises, less of it would not, and it is exact about turning."""

from __future__ import annotations

import unittest

from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import evaluate
from bustle.core.search.smallest_sway import swayed
from bustle.core.starting.starting_walkers import start, steadied
from tests.projects import changed, demo, quadruped


def with_sway(project, motion, terms):
    index = project.motions.index(project.motion(motion))
    return patched(project, [replace(f"/motions/{index}/pose/sway", [t.model_dump() for t in terms])])


class SmallestSway(unittest.TestCase):
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
        self.assertLess(self.margin(with_sway(plain, "Forward", less), "Forward"), 6.0)

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
        """Turning left, an order with margin of its own needs no sway."""
        project = start("four_sprawled", "Steady", 220.0)
        turn = project.motion("Turn left")
        self.assertEqual(turn.pose.sway, ())
        self.assertNotEqual(turn.gait, "creep")
        again = steadied(project, "Turn left")
        self.assertEqual(again.motion("Turn left"), turn)


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
