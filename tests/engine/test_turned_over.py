"""A machine with feet on both sides, played on its back."""

from __future__ import annotations

from bustle.core.document.checked import parse_project
from bustle.core.edits.at_rest import standing
from bustle.core.edits.patches import patched
from bustle.core.edits.upside_down import turned_with_its_own
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from tests.engine.played import Played, planned_mm
from tests.engine.random_walkers import in_order
from tests.long import in_turns
from tests.projects import start
from tests.seeded import SeededTest


class OnItsBack(SeededTest):
    def with_feet_on_both_sides(self, shape):
        values = document(start(shape, "Both sides up", float(self.random.uniform(90.0, 350.0))))
        for limb in values["walker"]["limbs"]:
            limb["feet"].append({**limb["feet"][0], "name": "upper_foot", "side": "upper"})
        return parse_project(values)

    @in_turns
    def test_it_starts_from_its_key_and_goes_as_told(self):
        both = self.with_feet_on_both_sides("six_two")
        for project in (both, turned_with_its_own(both, "Forward")):
            with self.subTest(inverted=project.motion("Forward").inverted, seed=self.seed):
                way = in_order(project, "Forward")
                self.assertTrue(all(evaluate(project, name).sound for name, _ in way))
                played, far = Played(project, way), planned_mm(project, way)
                self.assertTrue(played.up)
                self.assertLess(abs(played.way_mm / far - 1), 0.1)
                self.assertLess(played.beyond_deg, 3.0)

    @in_turns
    def test_what_a_walk_is_joined_to_turns_over_with_it_and_back(self):
        """A creep sways away from the leg that it lifts, and that is on the other side then."""
        both = self.with_feet_on_both_sides("four_radial_2")
        over = turned_with_its_own(both, "Forward")
        self.assertTrue(over.motion("Stand").inverted)
        for project in (both, over):
            found = evaluate(project, "Forward").findings_among(("F18", "F23"))
            self.assertEqual([f.message for f in found if f.severity == "stop"], [])
        self.assertEqual(turned_with_its_own(over, "Stand"), both)
        # On the bench one measures it as it is built.
        self.assertEqual(standing(over, "Forward").motions, standing(both, "Forward").motions)

    def test_what_no_start_or_stop_joins_to_it_stays_as_it_is(self):
        values = document(self.with_feet_on_both_sides("six_two"))
        values["motions"] = [m for m in values["motions"] if m["kind"] == "phase_gait"]
        over = turned_with_its_own(parse_project(values), "Forward")
        self.assertEqual([m.name for m in over.motions if m.inverted], ["Forward"])

    @in_turns
    def test_on_the_wrong_feet_it_is_put_back_on_the_others_with_what_is_joined_to_it(self):
        project = start("four_radial_2", "One side", 200.0)
        over = turned_with_its_own(project, "Forward")
        (found,) = evaluate(over, "Forward").findings_among(("F23",))
        back = next(one for one in remedies(over, "Forward", found) if one.title == "Walk it the right way up")
        self.assertEqual(patched(over, back.patch), project)
