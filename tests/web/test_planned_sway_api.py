"""Planning a biped's sway over its soles, at the door of the API."""

from __future__ import annotations

from bustle.core.project.project import document
from tests.long import in_turns
from tests.projects import changed, hexapod, start
from tests.seeded import SeededTest
from tests.web.test_api import ApiTest


class PlannedSway(ApiTest, SeededTest):
    def setUp(self):
        ApiTest.setUp(self)
        SeededTest.setUp(self)

    def planned(self, project):
        return self.web.post("/api/planned-sway", json={"project": document(project), "motion": "Forward"})

    @in_turns
    def test_it_keeps_to_the_middle_of_its_soles_or_is_said_to_be_further_off_than_is_near(self):
        """Legs that do not reach their steps push where no sway evens it out."""
        length = float(self.random.uniform(180, 340))
        walk = start("two_full", "Planned", length)
        at = [m.name for m in walk.motions].index("Forward")
        motion = walk.motion("Forward")
        high = changed(
            walk,
            {f"motions/{at}/lift_mm": 2 * motion.lift_mm, f"motions/{at}/twist/vx_mm_s": 6 * motion.twist.vx_mm_s},
        )
        found = [self.planned(project).json for project in (walk, high)]
        width = walk.walker.legs[0].feet[0].sole.width_mm
        for one in found:
            self.assertAlmostEqual(one["near_mm"], width / 10)
        self.assertLess(found[0]["residual_mm"], found[0]["near_mm"], self.seed)
        self.assertGreater(found[1]["residual_mm"], found[1]["near_mm"], self.seed)
        sway = found[0]["project"]["motions"][at]["pose"]["sway"]
        self.assertTrue(any(term["y_sin_mm"] or term["y_cos_mm"] for term in sway))

    def test_what_stands_on_more_than_two_soles_is_told_so(self):
        refused = self.planned(hexapod())
        self.assert_problem(refused, 422, "no sway can be planned here")
