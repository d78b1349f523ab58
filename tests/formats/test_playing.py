"""A table that cannot be played is refused with its first row; what stands against one that can is told with it."""

from __future__ import annotations

import csv
import io
import json
import tempfile
import unittest
import zipfile
from pathlib import Path

import numpy as np

from bustle.core.document.file import load_project, save_project
from bustle.core.evaluate import evaluate
from bustle.core.judge.playing import CannotBePlayed, told
from bustle.core.project.project import document
from bustle.formats import TABLE_FORMATS, write_table
from bustle.formats.set_zip import write_set
from tests.projects import ROOT, changed, demo, hexapod, start
from tests.terminal import bustle
from tests.web.test_api import ApiTest


def far(motion=0):
    """Strides that no leg reaches, in one motion of a sound walker."""
    return changed(hexapod(), {f"motions/{motion}/twist/vx_mm_s": 290.0})


class Refused(unittest.TestCase):
    def first_row(self, project, motion, past):
        with self.assertRaises(CannotBePlayed) as caught:
            write_table(evaluate(project, motion), "csv")
        row = int(np.flatnonzero(past)[0])
        self.assertIn(f"Row {row + 1}, ", str(caught.exception))
        return str(caught.exception)

    def test_out_of_reach_and_past_a_stop_name_their_first_row(self):
        r = evaluate(far(), "Forward").reading
        miss = (r.course.solved.miss_mm[:, : r.samples] > 0.01).any(axis=0)
        over = (np.maximum(r.kit.low - r.angles, r.angles - r.kit.high) > 1e-9).any(axis=1)
        self.first_row(far(), "Forward", miss | over)
        stop = changed(hexapod(), {"walker/limbs/2/joints/1/max_deg": 25.0})
        r = evaluate(stop, "Forward").reading
        over = (np.maximum(r.kit.low - r.angles, r.angles - r.kit.high) > 1e-9).any(axis=1)
        self.assertIn("F15", self.first_row(stop, "Forward", over))

    def test_a_servo_past_its_travel_cannot_be_played_either(self):
        short = changed(hexapod(), {"servo_types/0/travel_deg": 60.0})
        with self.assertRaises(CannotBePlayed) as caught:
            write_table(evaluate(short, "Forward"), "c")
        self.assertIn("F15", str(caught.exception))

    def test_anyway_says_so(self):
        self.assertIn(b" * Not to be played: Row ", write_table(evaluate(far(), "Forward"), "c", anyway=True))
        data = write_table(evaluate(far(), "Forward"), "csv", anyway=True, facts=True).decode()
        self.assertIn("\n# Not to be played: Row ", data)

    def test_every_other_stop_is_written_with_its_sentence(self):
        project = demo("faults/F18")
        plan = evaluate(project, project.motions[0].name)
        stops = told(plan.reading).stops
        self.assertTrue(stops)
        self.assertIn(f" * STOP F18: {stops[0].message}", write_table(plan, "c").decode().replace("\n * ", "\n * "))
        bare, facts = (write_table(plan, "csv", facts=f).decode() for f in (False, True))
        self.assertTrue(facts.startswith(bare))
        self.assertIn("# STOP F18: ", facts)
        self.assertNotIn("#", bare)
        self.assertEqual(len({len(row) for row in csv.reader(io.StringIO(bare))}), 1)

    def test_sets_leave_out_what_a_stop_stands_against_and_name_it(self):
        data, out = write_set(far(1), TABLE_FORMATS["csv"])
        self.assertEqual([one.motion for one in out], [far(1).motions[1].name])
        names = zipfile.ZipFile(io.BytesIO(data)).namelist()
        said = json.loads(zipfile.ZipFile(io.BytesIO(data)).read("set.json"))
        self.assertEqual(len(names), len(far(1).motions))
        self.assertEqual([one["motion"] for one in said["left_out"]], [out[0].motion])
        whole, none = write_set(far(1), TABLE_FORMATS["csv"], anyway=True)
        self.assertEqual((len(zipfile.ZipFile(io.BytesIO(whole)).namelist()), none), (len(names) + 1, ()))

    def test_a_rod_or_gear_is_told(self):
        geared = changed(hexapod(), {"walker/drives/0/kind": "gear"})
        joint = hexapod().walker.drives[0].joints[0].replace("/", ".")
        self.assertIn(f" * {joint}: joint angles;", write_table(evaluate(geared, "Stand"), "c").decode())
        self.assertNotIn("joint angles;", write_table(evaluate(hexapod(), "Stand"), "c").decode())


class FromTheTerminal(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, project):
        path = self.folder / "w.bustle.json"
        path.write_bytes(save_project(project))
        return path

    def test_exit_three_and_nothing_written(self):
        out = self.folder / "t.csv"
        done = bustle("table", self.file(far()), "--motion", "Forward", "--out", out, expect=3)
        self.assertIn("Row ", done.stderr)
        self.assertIn("--anyway", done.stderr)
        self.assertFalse(out.exists())
        bustle("table", self.file(far()), "--motion", "Forward", "--out", out, "--anyway")
        about = json.loads((self.folder / "t.about.json").read_text())
        self.assertIn("Row ", about["cannot_be_played"])
        self.assertEqual(len(out.read_text().splitlines()), about["rows"] + 1)

    def test_what_it_is_stands_beside_a_csv(self):
        out = self.folder / "t.csv"
        bustle("table", ROOT / "demo" / "fennel.bustle.json", "--motion", "Forward", "--out", out)
        about = json.loads((self.folder / "t.about.json").read_text())
        header = out.read_text().splitlines()[0].split(",")[1:]
        self.assertEqual([f"{c['name']}_{c['unit']}" for c in about["columns"]], header)
        self.assertIsNone(about["cannot_be_played"])
        self.assertIs(about["judged"]["F18"], True)

    def test_a_plan_says_what_was_judged(self):
        trot = changed(start("four_upright", "Trot", 200.0), {"motions/0/balance": "dynamic"})
        plan = json.loads(bustle("plan", self.file(trot), "--motion", "Forward").stdout)
        self.assertIn("dynamic", plan["judged"]["F18"])
        self.assertIs(plan["judged"]["F17"], True)
        said = bustle("table", self.file(trot), "--motion", "Forward", "--out", self.folder / "t.csv").stderr
        self.assertIn("F18 is not judged", said)

    def test_a_set_with_nothing_left_is_refused(self):
        values = document(far())
        values["motions"] = values["motions"][:1]
        alone = load_project(json.dumps(values).encode())
        self.assertIn("every motion", bustle("set", self.file(alone), expect=3).stderr)


class FromTheWeb(ApiTest):
    def test_conflict_until_it_is_asked_for_anyway(self):
        walker = self.create(far())
        body = {"revision": 1, "motion": "Forward", "format": "csv"}
        address = f"/api/walkers/{walker['id']}/exports"
        self.assert_problem(self.web.post(address, json=body), 409, "cannot be played")
        self.assertEqual(self.web.get(address).json["exports"], [])
        answer = self.web.post(address, json={**body, "anyway": True, "facts": True})
        self.assertIn("# Not to be played", answer.text)
        self.assertEqual(len(self.web.get(address).json["exports"]), 1)

    def test_a_set_names_what_it_leaves_out(self):
        walker = self.create(far(1))
        answer = self.web.post(f"/api/walkers/{walker['id']}/sets", json={"revision": 1, "format": "csv"})
        self.assertEqual(answer.status_code, 200)
        self.assertIn("Back", answer.headers["X-Left-Out"])

    def test_a_verdict_counts_what_nobody_knows(self):
        creep = document(start("four_upright", "Trot", 200.0))["motions"][0]
        dynamic = changed(start("four_upright", "Trot", 200.0), {"motions": [{**creep, "balance": "dynamic"}]})
        verdict = self.web.get(f"/api/walkers/{self.create(dynamic)['id']}/verdict").json
        self.assertEqual((verdict["stops"], verdict["warns"], verdict["unjudged"]), (0, 0, 1))
        self.assertIn("not judged", verdict["verdict"])


if __name__ == "__main__":
    unittest.main()
