"""Legs of one joint each: what no joint lifts is as high as its stroke leaves it."""

from __future__ import annotations

from bustle.core.edits.new_limbs import refitted
from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import evaluate
from bustle.core.search.remedies import remedies
from bustle.core.starting.fresh_set import renewed
from tests.engine.played import Played, planned_mm
from tests.long import in_turns
from tests.projects import start
from tests.seeded import SeededTest


class LoneJoints(SeededTest):
    def lone(self):
        shape = str(self.random.choice(["six_sprawled", "six_upright", "six_two"]))
        project = start(shape, "Lone", float(self.random.uniform(110, 300)))
        return renewed(refitted(project, project.walker.legs[0].name, "one_joint", True))

    @in_turns
    def test_sets_are_made_of_walks_that_lift_by_their_stroke(self):
        project = self.lone()
        self.assertEqual({m.gait for m in project.motions if getattr(m, "gait", "custom") != "custom"}, {"tripod"})
        played = Played(project, [("Forward", 4)])
        self.assertTrue(played.up)
        self.assertGreater(played.way_mm, 0.8 * planned_mm(project, [("Forward", 4)]))

    @in_turns
    def test_what_swings_under_the_feet_that_stand_is_stopped(self):
        """In a tripod legs pass each other; in a wave one leg passes five that stand, and bears on the floor."""
        project = self.lone()
        index = [m.name for m in project.motions].index("Forward")
        legs = project.motions[index].legs
        waving = patched(
            project,
            [
                replace(f"/motions/{index}/gait", "custom"),
                *(replace(f"/motions/{index}/legs/{n}/phase", n / len(legs)) for n in range(len(legs))),
                *(replace(f"/motions/{index}/legs/{n}/duty", 0.85) for n in range(len(legs))),
            ],
        )
        told = [f for f in evaluate(waving, "Forward").findings if f.code == "F02"]
        self.assertEqual([(f.severity, f.subject) for f in told], [("stop", "no lift")])
        self.assertLess(Played(waving, [("Forward", 4)]).way_mm, 0.8 * planned_mm(waving, [("Forward", 4)]))
        mends = remedies(waving, "Forward", told[0])
        self.assertIn("Leg order Tripod", " ".join(r.title for r in mends))
        for remedy in mends:
            left = evaluate(patched(waving, remedy.patch), "Forward").findings
            self.assertNotIn(("F02", "stop"), [(f.code, f.severity) for f in left], remedy.title)

    @in_turns
    def test_strides_too_short_to_lift_a_foot_are_told_with_longer_ones(self):
        project = self.lone()
        index = [m.name for m in project.motions].index("Forward")
        far = project.motions[index].twist.vx_mm_s
        short = patched(project, [replace(f"/motions/{index}/twist/vx_mm_s", round(far / 4, 1))])
        told = [f for f in evaluate(short, "Forward").findings if f.code == "F02"]
        self.assertEqual([f.subject for f in told], ["no lift"])
        self.assertIn("longer", " ".join(r.title for r in remedies(short, "Forward", told[0])))
