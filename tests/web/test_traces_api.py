"""Traces of trials at their door: brought in, told, replaced, taken away again; and what is refused leaves nothing."""

from __future__ import annotations

import unittest

from bustle.core.evaluate import evaluate
from bustle.core.trials.traces.stand_in import stand_in
from bustle.formats.trace_csv import write_trace
from tests.long import in_turns
from tests.projects import hexapod
from tests.web.test_api import ApiTest


class TracesApi(ApiTest):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.reading = evaluate(hexapod(), "Forward").reading

    def setUp(self):
        super().setUp()
        self.made = self.create(hexapod())
        self.at = f"/api/walkers/{self.made['id']}/trials"
        self.log("Forward")

    def log(self, motion):
        trial = {"motion": motion, "floor": "Tiles", "time_s": 10.0}
        answer = self.web.post(self.at, json={"revision": self.made["number"], "trial": trial})
        self.assertEqual(answer.status_code, 201, answer.text)
        self.assertIs(answer.json["traced"], False)

    def bring(self, number, data, query=""):
        return self.web.put(f"{self.at}/{number}/trace{query}", data=data, content_type="text/csv")

    def test_a_trace_goes_with_its_trial_is_told_and_comes_back_as_it_was(self):
        self.assert_problem(self.web.get(f"{self.at}/1/trace"), 404, "no trace")
        data = write_trace(stand_in(self.reading, 3, late_s={"R2": 0.1}))
        told = self.bring(1, data)
        self.assertEqual(told.status_code, 200, told.text)
        self.assertEqual([s["title"] for s in told.json["seen"]], ["R2 lands late"])
        self.assertEqual(self.web.get(f"{self.at}/1/trace").json, told.json)
        self.assertEqual(self.web.get(f"{self.at}/1/trace.csv").data, data)
        self.assertEqual([t["traced"] for t in self.web.get(self.at).json["trials"]], [True])
        # Another takes its place.
        self.assertEqual(self.bring(1, write_trace(stand_in(self.reading, 4))).json["seen"], [])
        self.assertEqual(self.web.get(f"{self.at}/1/trace").json["seen"], [])

    @in_turns
    def test_thresholds_are_held_against_the_trace_before(self):
        self.log("Forward")
        trace = stand_in(self.reading, 5)
        self.assertEqual(self.bring(1, write_trace(trace)).json["seen"], [])
        trace.feet["L1"][:] *= 0.3
        moved = self.bring(2, write_trace(trace)).json["seen"]
        self.assertEqual([(s["code"], s["trials"]) for s in moved], [("F27", [2])])
        self.web.put(f"{self.at}/1/withdrawn")
        self.assertEqual(self.web.get(f"{self.at}/2/trace").json["seen"], [])

    def test_a_stand_in_can_be_had_and_brought_in(self):
        data = self.web.get(f"{self.at}/1/stand-in-trace.csv").data
        self.assertEqual(self.bring(1, data).status_code, 200)

    def test_what_cannot_be_told_is_refused_and_not_kept(self):
        self.log("Stand")
        good = write_trace(stand_in(self.reading, 6))
        for data, query, words in (
            (b"", "", "time_s"),
            (b"\x00\xff", "", "UTF-8"),
            (b"time_s,L1\n0,1\n1,2\n", "", "cycles"),
            (b"x" * 2_000_001, "", "2 MB"),
            (good, "?full_scale=0", "full_scale"),
            (good, "?full_scale=nan", "full_scale"),
            (good, "?loaded=maybe", "loaded"),
        ):
            with self.subTest(data=data[:20], query=query):
                self.assert_problem(self.bring(1, data, query), 422, words)
        self.assert_problem(self.bring(9, good), 404, "no trial 9")
        self.assert_problem(self.web.get(f"{self.at}/9/stand-in-trace.csv"), 404, "no trial 9")
        self.assertEqual([t["traced"] for t in self.web.get(self.at).json["trials"]], [False, False])


if __name__ == "__main__":
    unittest.main()
