"""The log of trials at its door: written, told, left out, taken away as a file; and what is refused."""

from __future__ import annotations

import csv
import io
import unittest

from tests.projects import hexapod
from tests.web.test_api import ApiTest


class LogApi(ApiTest):
    def setUp(self):
        super().setUp()
        self.made = self.create(hexapod())
        self.at = f"/api/walkers/{self.made['id']}/trials"

    def write(self, **said):
        trial = {"motion": "Forward", "floor": "Tiles", "time_s": 10.0, **said}
        return self.web.post(self.at, json={"revision": self.made["number"], "trial": trial})

    def test_a_drift_is_logged_told_and_its_change_walks_otherwise(self):
        asked = {"revision": self.made["number"], "motion": "Forward", "time_s": 10.0}
        told = self.web.post(f"/api/walkers/{self.made['id']}/planned-trial", json=asked).json["planned"]
        along = told["along_mm"]
        line = self.write(along_mm=along, beside_mm=0.15 * along, note="=SUM(A1)").json
        self.assertEqual((line["number"], line["covered"], line["planned"]), (1, 1.0, told))
        log = self.web.get(self.at).json
        self.assertEqual([t["number"] for t in log["trials"]], [1])
        self.assertEqual(log["floors"], ["Tiles"])
        (drift,) = [s for s in log["seen"] if s["code"] == "F11"]
        self.assertLess(drift["project"]["motions"][0]["steer_mm_m"], 0)
        saved = self.web.post(
            f"/api/walkers/{self.made['id']}/revisions", json={"parent": 1, "project": drift["project"]}
        )
        self.assertEqual(saved.status_code, 201, saved.text)
        self.assertEqual([s["code"] for s in self.web.get(self.at).json["seen"]], [])
        # Of the revision before it is told as it was.
        before = self.web.get(f"{self.at}?revision=1").json
        self.assertEqual((before["revision"], [s["code"] for s in before["seen"]]), (1, ["F11"]))

    def test_floors_are_told_by_when_they_were_walked_on_last(self):
        for floor in ("Tiles", "Rug", "tiles"):
            self.write(floor=floor)
        self.assertEqual(self.web.get(self.at).json["floors"], ["tiles", "Rug"])

    def test_as_a_file_it_holds_what_was_logged_and_nothing_that_runs(self):
        self.write(along_mm=500.0, note="=SUM(A1)", dragged=["L1", "R2"])
        self.write(falls=2)
        self.web.put(f"{self.at}/2/withdrawn")
        answer = self.web.get(f"{self.at}.csv")
        self.assertEqual(answer.mimetype, "text/csv")
        (row,) = csv.DictReader(io.StringIO(answer.text))
        self.assertEqual(
            (row["trial"], row["along_mm"], row["dragged"], row["beside_left_mm"]), ("1", "500.0", "L1 R2", "")
        )
        self.assertEqual(row["note"], "'=SUM(A1)")
        self.web.delete(f"{self.at}/2/withdrawn")
        self.assertEqual(len(list(csv.DictReader(io.StringIO(self.web.get(f"{self.at}.csv").text)))), 2)

    def take_in(self, text):
        return self.web.post(f"{self.at}.csv", data=text, content_type="text/csv")

    def test_a_log_is_taken_in_as_it_went_out(self):
        self.write(along_mm=500.0, beside_mm=-12.5, note="=SUM(A1)", dragged=["L1", "R2"], gives=True, pack_v=7.2)
        self.write(motion="Turn left", turned_deg=-40.0, falls=2, soles="cleaned", time_s=4.5)
        text = self.web.get(f"{self.at}.csv").text
        was = [t["trial"] for t in self.web.get(self.at).json["trials"]]
        other = self.create(hexapod())
        taken = self.web.post(f"/api/walkers/{other['id']}/trials.csv", data=text, content_type="text/csv")
        self.assertEqual(taken.status_code, 201, taken.text)
        self.assertEqual([t["trial"] for t in taken.json["trials"]], was)
        self.assertEqual([t["number"] for t in self.take_in(text).json["trials"]], [4, 3, 2, 1])

    def test_a_log_that_cannot_be_taken_in_is_refused_by_line_and_leaves_nothing(self):
        good = "motion,floor,time_s,falls,dragged\nForward,Tiles,10,0,\n"
        for text, words in (
            ("", "motion, floor, time_s"),
            (b"\xff\xfe", "UTF-8"),
            ("motion,floor,time_s,time_s\n", "each once"),
            ("motion,floor,time_s\n", "0 trials"),
            (good + "Forward,Tiles,soon,0,\n", "line 3, time_s"),
            (good + "Forward,Tiles,nan,0,\n", "line 3, time_s"),
            (good + "Forward,Tiles,10,1.5,\n", "line 3, falls: must be a whole"),
            (good + "Forward,,10,0,\n", "line 3, floor"),
            (good + "Gallop,Tiles,10,0,\n", "trial 2, motion: no motion is called"),
            (good + "Forward,Tiles,10,0,Q9\n", "trial 2, dragged"),
            ("motion,floor,time_s\n" + "Forward,Tiles,10\n" * 401, "401 trials"),
            ("motion,floor,time_s\n" + "Forward,Tiles,10\n" * 30_000, "larger"),
        ):
            with self.subTest(text=text[-40:]):
                self.assert_problem(self.take_in(text), 422, words)
        self.assertEqual(self.web.get(self.at).json["trials"], [])

    def test_what_cannot_be_logged_is_refused_by_its_field(self):
        for said, words in (
            ({"floor": ""}, "floor"),
            ({"floor": "x" * 61}, "floor"),
            ({"time_s": 0.0}, "time_s"),
            ({"time_s": 1e9}, "time_s"),
            ({"falls": -1}, "falls"),
            ({"falls": 1.5}, "falls"),
            ({"dragged": ["Q"]}, "dragged"),
            ({"dragged": ["L1"] * 99}, "dragged"),
            ({"motion": "Gallop"}, "no motion is called"),
            ({"along_mm": 1e9}, "along_mm"),
            ({"soles": "worn"}, "soles"),
            ({"note": "<b>"}, "note"),
            ({"mood": 1}, "mood"),
            ({"pack_v": 0.0}, "pack_v"),
        ):
            with self.subTest(said=said):
                self.assert_problem(self.write(**said), 422, words)
        self.assertEqual(self.web.get(self.at).json["trials"], [])
        self.assert_problem(self.web.get("/api/walkers/999999/trials"), 404, "999999")
        self.assert_problem(self.web.put(f"{self.at}/1/withdrawn"), 404, "no trial 1")
        trial = {"motion": "Forward", "floor": "Tiles", "time_s": 10.0}
        self.assert_problem(self.web.post(self.at, json={"revision": 9, "trial": trial}), 404, "revision 9")


if __name__ == "__main__":
    unittest.main()
