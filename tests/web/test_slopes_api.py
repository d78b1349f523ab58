"""A floor that slopes, and walks entered at speed, at the door of the API."""

from __future__ import annotations

import numpy as np

from bustle.core.project.project import document
from tests.long import in_turns
from tests.projects import changed, demo, hexapod, start
from tests.web.test_api import ApiTest, decode


class Slopes(ApiTest):
    def on(self, project, slope, uphill=0.0):
        return document(changed(project, {"floor/slope_deg": slope, "floor/uphill_deg": uphill, "floor/friction": 0.8}))

    def evaluated(self, project, motion, station=None):
        answer = self.web.post("/api/evaluate", json={"project": project, "motion": motion, "station": station})
        self.assertEqual(answer.status_code, 200)
        return decode(answer.data)

    @in_turns
    def test_a_slope_is_saved_evaluated_and_mended(self):
        trot = start("four_upright", "Climbs", 220.0)
        walker = self.create(trot)
        sloping = self.on(trot, 9.0, 90.0)
        saved = self.web.post(f"/api/walkers/{walker['id']}/revisions", json={"project": sloping, "parent": 1})
        self.assertIn(saved.status_code, (200, 201), saved.text)
        self.assertEqual(self.web.get(f"/api/walkers/{walker['id']}").json["project"]["floor"]["slope_deg"], 9.0)
        head, arrays = self.evaluated(sloping, "Trot")
        (stop,) = [f for f in head["findings"] if f["code"] == "F19"]
        self.assertEqual(stop["severity"], "stop")
        tan = np.hypot(*(arrays["com"][:, :2] - arrays["plumb"]).T) / arrays["com"][:, 2]
        np.testing.assert_allclose(tan, np.tan(np.radians(9.0)), rtol=1e-3)
        asked = {"project": sloping, "motion": "Trot", "finding": {"code": "F19", "subject": stop["subject"]}}
        offered = self.web.post("/api/remedies", json=asked).json["remedies"]
        self.assertRegex(offered[0]["title"], r"^Lean \d+ mm into the slope of 9°$")
        after, _ = self.evaluated(offered[0]["project"], "Trot")
        self.assertNotIn("F19", {f["code"] for f in after["findings"] if f["severity"] == "stop"})

    def test_while_a_handle_is_dragged_the_plumb_line_comes_along(self):
        for station in ("balance", "stride", "frame"):
            head, arrays = self.evaluated(self.on(hexapod(), 7.0), "Forward", station)
            self.assertFalse(head["whole"])
            self.assertEqual(arrays["plumb"].shape, (head["samples"], 2))
            _, level = self.evaluated(document(hexapod()), "Forward", station)
            self.assertNotIn("plumb", level)

    def test_up_to_which_slope_it_is_sound_is_a_band(self):
        asked = {"project": document(demo("sorrel")), "motion": "Forward", "low": 0, "high": 30}
        for lever, holds in (("slope", 0.0), ("uphill", None)):
            project = asked["project"] if lever == "slope" else self.on(demo("sorrel"), 4.0)
            ends = {"low": 0, "high": 30} if lever == "slope" else {"low": -180, "high": 180}
            ranges = self.web.post("/api/sound-band", json={**asked, **ends, "project": project, "lever": lever}).json[
                "ranges"
            ]
            self.assertTrue(ranges, lever)
            if holds is not None:
                self.assertEqual(ranges[0][0], holds)
                self.assertLess(ranges[-1][1], 20.0)

    def test_what_is_no_slope_is_refused_by_its_field(self):
        for field, value, said in (
            ("slope_deg", 60, "floor.slope_deg"),
            ("slope_deg", -0.1, "floor.slope_deg"),
            ("slope_deg", "steep", "floor.slope_deg"),
            ("uphill_deg", 181, "floor.uphill_deg"),
            ("uphill_deg", None, "floor.uphill_deg"),
        ):
            project = document(hexapod())
            project["floor"][field] = value
            with self.subTest(field=field, value=value):
                answer = self.web.post("/api/evaluate", json={"project": project, "motion": "Forward"})
                self.assert_problem(answer, 422, said)

    def test_the_form_says_what_the_fields_are_called(self):
        floor = {f["name"]: f for f in self.web.get("/api/catalogue").json["forms"]["Floor"]}
        self.assertEqual((floor["slope_deg"]["label"], floor["slope_deg"]["unit"]), ("Floor slopes by", "°"))
        self.assertEqual((floor["slope_deg"]["low"], floor["slope_deg"]["high"]), (0, 45))
        self.assertEqual(floor["uphill_deg"]["label"], "uphill, left of ahead")


class OwnEnds(ApiTest):
    def test_a_start_and_a_stop_are_made_for_a_walk_that_has_none(self):
        asked = {"project": document(demo("sorrel")), "motion": "Trot"}
        head = decode(self.web.post("/api/evaluate", json=asked).data)[0]
        self.assertEqual(head["at_speed"], {"Trot": "enter and leave at speed"})
        made = self.web.post("/api/own-ends", json=asked).json
        self.assertEqual(made["added"], ["Stand", "Start trot", "Stop trot"])
        head = decode(self.web.post("/api/evaluate", json={**asked, "project": made["project"]}).data)[0]
        self.assertEqual(head["at_speed"], {})
        for name in made["added"]:
            findings = decode(self.web.post("/api/evaluate", json={"project": made["project"], "motion": name}).data)[
                0
            ]["findings"]
            stops = [f"{name}: {f['message']}" for f in findings if f["severity"] == "stop"]
            self.assertLessEqual(set(stops), set(made["stops"]))

    @in_turns
    def test_where_nothing_is_missing_it_says_so(self):
        for project, motion, said in (
            (demo("sorrel"), "Forward", "may be begun anywhere"),
            (start("two_full", "Ends", 260.0), "Forward", "has a start and a stop of its own"),
            (demo("sorrel"), "Nowhere", "no motion is called 'Nowhere'"),
        ):
            answer = self.web.post("/api/own-ends", json={"project": document(project), "motion": motion})
            self.assert_problem(answer, 422, said)
