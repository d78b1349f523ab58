"""The whole set in one archive, as a controller's author reads it, and from the command line."""

from __future__ import annotations

import csv
import io
import json
import tempfile
import unittest
import zipfile
from pathlib import Path

import numpy as np

from bustle.core.document.file import save_project
from bustle.core.evaluate import evaluate
from bustle.formats import TABLE_FORMATS
from bustle.formats.set_zip import write_set
from tests.long import in_turns
from tests.motions import programme, transition, with_motions
from tests.projects import changed, demo, hexapod
from tests.terminal import bustle


def set_of(project, kind="csv"):
    archive = zipfile.ZipFile(io.BytesIO(write_set(project, TABLE_FORMATS[kind], anyway=True)[0]))
    return archive, json.loads(archive.read("set.json"))


class Archive(unittest.TestCase):
    def furnished(self):
        return with_motions(
            hexapod(),
            programme("Course", ("Forward", 300.0, "distance_mm"), ("Turn left", 90.0, "turn_deg"), flows=True),
            transition("Over", "Forward", 0.25, "Turn left", 0.5),
            {"kind": "joint_pose", "name": "Folded"},
        )

    def test_what_repeats_closes_and_what_does_not_begins_where_it_should(self):
        project = self.furnished()
        archive, about = set_of(project)
        tables = {}
        for motion in about["motions"]:
            rows = list(csv.reader(io.StringIO(archive.read(motion["file"]).decode())))
            tables[motion["name"]] = np.array(rows[1:], dtype=float)
            self.assertEqual(len(rows) - 1, motion["rows"])
            times = tables[motion["name"]][:, 0]
            self.assertAlmostEqual(times[1] - times[0], about["row_period_ms"] / 1000, delta=0.001)
            # What repeats leaves its end out, as it is the beginning; what does not has it.
            last = motion["duration_s"] - (times[1] - times[0] if motion["repeats"] else 0.0)
            self.assertAlmostEqual(times[-1], last, delta=0.012, msg=motion["name"])
        # A transition takes over the row at which it leaves the one and hands over at the other's.
        over = tables["Over"][:, 1:]
        for at, name, share in ((0, "Forward", 0.25), (-1, "Turn left", 0.5)):
            walk = tables[name][:, 1:]
            np.testing.assert_allclose(over[at], walk[round(share * len(walk))], atol=0.02)
        # From rest: every course begins as the pose stands.
        np.testing.assert_allclose(tables["Course"][0, 1:], tables["Stand"][0, 1:], atol=0.02)

    def test_what_is_made_of_motions_says_of_which(self):
        about = set_of(self.furnished())[1]
        told = {m["name"]: m for m in about["motions"]}
        self.assertEqual([p["motion"] for p in told["Course"]["parts"]], ["Forward", "Turn left"])
        self.assertIs(told["Course"]["flows"], True)
        self.assertIs(told["Over"]["flows"], False)
        self.assertEqual(told["Over"]["end"], {"motion": "Turn left", "phase": 0.5})
        self.assertEqual(told["Forward"]["twist"]["vx_mm_s"], hexapod().motion("Forward").twist.vx_mm_s)
        self.assertGreater(len(about["next_leg_rule"]), 4)

    def test_the_start_ends_in_the_pose_it_names(self):
        project = changed(self.furnished(), {"start_up": {"pose": "Folded", "fail_safe": "Stand", "at_once": 2}})
        about = set_of(project)[1]
        self.assertEqual((about["start"]["pose"], about["fail_safe"]), ("Folded", "Stand"))
        angles = evaluate(project, "Folded").reading
        into = {s["joint"]: s["to"] for s in about["start"]["switch_on"]}
        for n, joint in enumerate(angles.kit.joints):
            self.assertAlmostEqual(into[joint.path], np.degrees(angles.angles[0, n]), delta=0.01)
        # No more at once than asked.
        at = [s["at_s"] for s in about["start"]["switch_on"]]
        self.assertLessEqual(max(at.count(t) for t in at), 2)

    def test_two_motions_of_one_identifier_keep_two_files(self):
        project = changed(hexapod(), {"motions/1/name": "Go!", "motions/2/name": "Go?"})
        files = [m["file"] for m in set_of(project, "c")[1]["motions"]]
        self.assertEqual(len(set(files)), len(files))

    @in_turns
    def test_from_the_command_line_it_is_the_same_archive(self):
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder) / "set.zip"
            done = bustle("set", "demo/fennel.bustle.json", "--format", "c", "--out", out)
            self.assertIn("left out: Hurry: F06", done.stderr)
            self.assertEqual(out.read_bytes(), write_set(demo("fennel"), TABLE_FORMATS["c"])[0])
            bare = Path(folder) / "bare.bustle.json"
            bare.write_bytes(save_project(changed(hexapod(), {"motions": []})))
            refused = bustle("set", bare, expect=2)
            self.assertIn("motion", refused.stderr)
            self.assertNotIn("Traceback", refused.stderr)
