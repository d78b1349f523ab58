"""The motion studio over the wire: what it answers, and the sentences it refuses with."""

from __future__ import annotations

import io
import json
import zipfile

from bustle.core.dry_run.dry_run import VARIANTS
from bustle.core.project.project import document
from tests.long import in_turns
from tests.projects import changed, hexapod, quadruped, start
from tests.web.test_api import ApiTest


class Studio(ApiTest):
    def draft(self):
        return document(hexapod())

    def test_drive_answers_with_a_plan_or_says_what_the_set_lacks(self):
        answer = self.web.post("/api/drive", json={"project": self.draft(), "ahead": 0.5})
        self.assertEqual(answer.status_code, 200)
        size = int.from_bytes(answer.data[:4], "little")
        head = json.loads(answer.data[4 : 4 + size])
        self.assertEqual(head["motion"], "Drive")
        ahead = document(start("six_two", "Ahead", 160.0))
        refused = self.web.post("/api/drive", json={"project": ahead, "turn": -1.0})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("goes round to the right", refused.json["detail"])
        for stick in ({"ahead": 2.0}, {"turn": "x"}, {"school": "sideways"}):
            self.assertEqual(self.web.post("/api/drive", json={"project": self.draft(), **stick}).status_code, 422)

    @in_turns
    def test_a_set_tells_in_which_order_the_legs_of_each_way_step(self):
        draft = document(quadruped())
        for one_order, orders in ((True, {"creep"}), (False, {"creep", "creep_fl_bl_fr_br"})):
            found = self.web.post(
                "/api/motion-set", json={"project": draft, "gait": "creep", "one_order": one_order}
            ).json
            gaits = {made["name"]: made["gait"] for made in found["made"]}
            self.assertEqual({gaits["Forward"], gaits["Back"]}, orders)
            kept = {motion["name"]: motion.get("gait") for motion in found["project"]["motions"]}
            self.assertEqual(kept["Back"], gaits["Back"])
        refused = self.web.post("/api/motion-set", json={"project": draft, "one_order": "perhaps"})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("one_order", refused.json["detail"])

    def test_a_drive_by_the_rule_is_walked_and_kept(self):
        sticks = [{"from_s": 0.1, "ahead": 0.6}, {"from_s": 2.0, "ahead": 0.3}]
        body = {"project": self.draft(), "sticks": sticks, "takes_s": 4.0}
        answer = self.web.post("/api/drive-by-rule", json=body)
        size = int.from_bytes(answer.data[:4], "little")
        head = json.loads(answer.data[4 : 4 + size])
        self.assertEqual((head["kind"], head["repeats"]), ("free_walk", False))
        self.assertEqual([f for f in head["findings"] if f["severity"] == "stop"], [])
        kept = self.web.post("/api/driven", json=body).json
        self.assertEqual(kept["project"]["motions"][-1]["kind"], "free_walk")
        again = self.web.post("/api/evaluate", json={"project": kept["project"], "motion": kept["name"]})
        self.assertEqual(again.data[-4000:], answer.data[-4000:])
        self.assertGreater(len(self.web.get("/api/lifting-rule").json["rule"]), 4)
        for wrong in ({"sticks": []}, {"takes_s": 900}, {"sticks": [{"from_s": 3.0}, {"from_s": 1.0}]}):
            refused = self.web.post("/api/drive-by-rule", json={**body, **wrong})
            self.assertEqual(refused.status_code, 422, wrong)

    @in_turns
    def test_a_dry_run_says_how_it_goes_and_what_would_mend_it_or_why_none_is_told(self):
        quick = document(
            changed(start("two_rocker", "Rocks", 150.0), {f"motions/{n}/cycle_s": 0.56 for n in (0, 2, 3)})
        )
        told = self.web.post("/api/dry-run", json={"project": quick, "motion": "Forward"}).json
        self.assertEqual((told["in_order"], len(told["runs"])), (["Start", "Forward", "Stop"], len(VARIANTS)))
        self.assertTrue(told["runs"][0]["goes_badly"])
        self.assertTrue(told["mends"])
        for mend in told["mends"]:
            self.assertEqual(mend["run"]["goes_badly"], "")
        bare = document(changed(start("four_upright", "Bare", 200.0), {"servo_types/0/stall_torque_nm": 1e-9}))
        refused = self.web.post("/api/dry-run", json={"project": bare, "motion": "Forward"})
        self.assertEqual(refused.status_code, 422)
        self.assertIn("next to no torque", refused.json["detail"])
        alone = self.web.post("/api/dry-run/alone", json={"project": quick, "motion": "Forward"}).json
        self.assertEqual(alone, {"run": told["runs"][0], "why": None})
        none = self.web.post("/api/dry-run/alone", json={"project": bare, "motion": "Forward"})
        self.assertEqual((none.status_code, none.json["run"]), (200, None))
        self.assertIn("next to no torque", none.json["why"])

    def test_soft_start_next_leg_and_retold(self):
        start = self.web.post("/api/soft-start", json={"project": self.draft()}).json
        self.assertEqual((start["pose"], len(start["switches"])), ("Stand", 18))
        body = {"project": self.draft(), "motion": "Forward", "time_s": 0.3, "omega_deg_s": 20.0}
        legs = self.web.post("/api/next-leg", json=body).json["legs"]
        self.assertGreaterEqual(len(legs), 3)
        told = self.web.post("/api/retold", json={"project": self.draft(), "motion": "Forward"}).json
        self.assertEqual(told["name"], "Forward by frames")
        self.assertEqual(told["project"]["motions"][-1]["kind"], "keyframes")
        back = self.web.post("/api/retold", json={"project": told["project"], "motion": told["name"]}).json
        self.assertEqual(back["project"]["motions"][-1]["kind"], "phase_gait")

    def test_changes_between_two_motions(self):
        body = {"project": self.draft(), "motion": "Forward", "before": self.draft(), "before_motion": "Stand"}
        found = self.web.post("/api/changes", json=body).json
        self.assertIn("Speed", [c["label"] for c in found["changes"]])
        unknown = self.web.post("/api/changes", json={**body, "before_motion": "Nowhere"})
        self.assertEqual(unknown.status_code, 422)
        self.assertIn("no motion is called 'Nowhere'", unknown.json["detail"])

    def test_a_set_is_written_from_a_revision_and_recorded(self):
        walker = self.web.post("/api/walkers", json={"project": self.draft()}).json["id"]
        body = {"revision": 1, "format": "csv"}
        answer = self.web.post(f"/api/walkers/{walker}/sets", json=body)
        self.assertEqual(answer.status_code, 200)
        names = zipfile.ZipFile(io.BytesIO(answer.data)).namelist()
        self.assertEqual(len(names), 1 + len(self.draft()["motions"]))
        line = self.web.get(f"/api/walkers/{walker}/exports").json["exports"][0]
        self.assertEqual(line["sha256"], answer.headers["X-Content-SHA256"])
        refused = self.web.post(f"/api/walkers/{walker}/sets", json={**body, "format": "tape"})
        self.assertIn("must be one of", refused.json["detail"])

    def test_a_motion_too_long_to_play_gets_a_sentence(self):
        project = document(changed(hexapod(), {}))
        part = {"motion": "Forward", "amount": 90_000.0, "by": "seconds"}
        project["motions"].append({"kind": "programme", "name": "For ever", "parts": [part]})
        answer = self.web.post("/api/evaluate", json={"project": project, "motion": "For ever"})
        self.assertEqual(answer.status_code, 422)
        self.assertIn("rows; motions in a row have at most 20000", answer.text)

    def test_levers_of_what_is_no_gait_are_refused(self):
        project = self.draft()
        part = {"motion": "Forward", "amount": 1.0}
        project["motions"].append({"kind": "programme", "name": "Once", "parts": [part]})
        body = {"project": project, "motion": "Once", "lever": "lift", "low": 0.0, "high": 10.0}
        answer = self.web.post("/api/sound-band", json=body)
        self.assertEqual(answer.status_code, 422)
        self.assertIn("Once is no gait", answer.json["detail"])
