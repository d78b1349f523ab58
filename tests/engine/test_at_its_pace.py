"""Walks that may be stopped anywhere, swayed so quickly that going throws them over what they stand on frozen."""

from __future__ import annotations

import unittest

from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.margins.room_at_its_pace import room_at_its_pace
from bustle.core.search.remedies import remedies
from bustle.core.search.smallest_sway import PACED, swayed
from tests.engine.played import Played
from tests.long import in_turns
from tests.projects import changed, start


def on_its_feet(project):
    return [f for f in evaluate(project, "Forward").findings if f.code == "F18"]


class AtItsPace(unittest.TestCase):
    def swaying(self, cycle_s, sway_mm):
        project = start("six_upright", "Quick", 200.0)
        at = [m.name for m in project.motions].index("Forward")
        sway = [{"harmonic": 1, "y_sin_mm": sway_mm}]
        return changed(project, {f"motions/{at}/cycle_s": cycle_s, f"motions/{at}/pose/sway": sway})

    @in_turns
    def test_what_tips_at_its_pace_falls_and_the_same_sway_slowly_does_not(self):
        for cycle_s, sway_mm, told in ((1.2, 45.0, []), (0.72, 50.0, ["Tips at its pace"])):
            project = self.swaying(cycle_s, sway_mm)
            self.assertEqual([f.title for f in on_its_feet(project)], told)
            played = Played(project, (("Start", 1), ("Forward", 4)))
            self.assertEqual(played.up, not told)

    @in_turns
    def test_it_is_cleared_by_what_is_offered(self):
        project = self.swaying(0.72, 50.0)
        offered = remedies(project, "Forward", on_its_feet(project)[0])
        self.assertGreater(len(offered), 0)
        for remedy in offered:
            self.assertNotIn("stop", [f.severity for f in on_its_feet(patched(project, list(remedy.patch)))])

    @in_turns
    def test_a_sway_that_is_found_keeps_room_at_its_pace(self):
        """A heavy tail, and steps so quick that the sway pushes further than it carries the mass."""
        project = start("six_upright", "Tail", 200.0)
        at = [m.name for m in project.motions].index("Forward")
        tail = {"name": "Tail", "mass_g": 800.0, "at_mm": [-170.0, 0.0, 0.0]}
        masses = [m.model_dump(mode="json") for m in project.walker.masses]
        project = changed(project, {"walker/masses": [*masses, tail], f"motions/{at}/cycle_s": 1.0})
        margin_mm = 36.0
        terms = swayed(project, "Forward", margin_mm)
        self.assertTrue(terms)
        found = changed(project, {f"motions/{at}/pose/sway": [t.model_dump() for t in terms]})
        left = evaluate(found, "Forward").reading.of(room_at_its_pace)
        self.assertGreaterEqual(left.min(), PACED * margin_mm - 1e-9)
        self.assertTrue(Played(found, (("Start", 1), ("Forward", 4))).up)
