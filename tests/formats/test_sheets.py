"""Sheets of paper for the bench, read back by a reader of their own: every servo on them, one side for the evening."""

from __future__ import annotations

import io
import tempfile
import unittest
from pathlib import Path

from pypdf import PdfReader

from bustle.core.servo.fitted_servos import servos_at
from bustle.formats.sheets.bench_sheets import SHEETS, write_sheet
from bustle.formats.sheets.page import PAPERS, Origin
from tests.long import in_turns
from tests.projects import ROOT, changed, demo, start
from tests.terminal import bustle

ORIGIN = Origin("Fennel", "a" * 64, "revision 3", "2026-11-26")


class Sheets(unittest.TestCase):
    def read(self, project, name, paper="a4"):
        reader = PdfReader(io.BytesIO(write_sheet(project, name, ORIGIN, paper)))
        return reader, " ".join(" ".join(page.extract_text().split()) for page in reader.pages)

    def test_the_evening_is_one_side_with_every_servo_and_what_must_be_seen(self):
        for name in ("fennel", "sorrel"):
            for paper, (width, height) in PAPERS.items():
                reader, text = self.read(demo(name), "evening", paper)
                self.assertEqual(len(reader.pages), 1)
                box = reader.pages[0].mediabox
                self.assertAlmostEqual(float(box.width), width, delta=1)
                self.assertAlmostEqual(float(box.height), height, delta=1)
                for servo in servos_at(demo(name)):
                    self.assertIn(f"{servo.number} {servo.place} {servo.board.name} {servo.channel}", text)
                    self.assertIn(f"{servo.told(0.0):.0f} µs", text)
                self.assertIn("Stop at once when", text)

    @in_turns
    def test_a_machine_that_may_fall_has_it_on_the_evening_s_sheet(self):
        """Of all its walks the one that falls the hardest; of one that may be stopped anywhere, nothing."""
        for project, says in (
            (start("two_full", "Tall", 600.0), "a tether or a second person, a clear floor, nobody underneath"),
            (start("two_servo", "Small", 140.0), "a clear floor, a hand near it"),
        ):
            reader, text = self.read(project, "evening")
            self.assertEqual(len(reader.pages), 1)
            self.assertRegex(text, r"later: If it falls it drops [\d ]+mm with [\d.]+ J: " + says)
        self.assertNotIn("If it falls", self.read(demo("fennel"), "evening")[1])

    def test_every_sheet_carries_the_safety_strip_revision_and_date(self):
        for name in SHEETS:
            reader, _ = self.read(demo("fennel"), name)
            for page in reader.pages:
                text = " ".join(page.extract_text().split())
                for words in ("fireproof surface", "licensed practice", "revision 3", "2026-11-26", "a" * 12):
                    self.assertIn(words, text, name)

    def test_without_a_stop_switch_that_is_the_first_line(self):
        bare = changed(demo("fennel"), {"electrics/stop_switch": None})
        for name in SHEETS:
            self.assertIn("No stop switch is declared. Lithium", self.read(bare, name)[1])
        self.assertIn("STOP SWITCH: NONE DECLARED", self.read(bare, "supply")[1])

    @in_turns
    def test_machines_of_which_nothing_is_said_have_sheets_too(self):
        for shape in ("six_sprawled", "two_full", "two_wheels"):
            for name in SHEETS:
                self.assertGreater(len(self.read(start(shape, "<b>Bare & plain</b>"[3:15], 200.0), name)[1]), 200)

    def test_twice_the_same_bytes_and_a_folder_from_the_terminal(self):
        for name in SHEETS:
            one, other = (write_sheet(demo("sorrel"), name, ORIGIN) for _ in range(2))
            self.assertEqual(one, other)
        with tempfile.TemporaryDirectory() as folder:
            done = bustle("sheets", ROOT / "demo" / "sorrel.bustle.json", "--out", f"{folder}/paper", "--paper", "both")
            self.assertEqual(done.returncode, 0, done.stderr)
            names = {p.name for p in Path(f"{folder}/paper").iterdir()}
            self.assertEqual(names, {f"{s}{p}.pdf" for s in SHEETS for p in ("", "_letter")})
