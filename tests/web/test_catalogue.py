"""What the screens choose from is what the registries hold, and the interface's own names agree with it."""

from __future__ import annotations

import re
import unittest

from bustle.core.edits.levers import LEVERS
from bustle.core.judge.registry import JUDGEMENTS
from bustle.core.kinds.foot_paths import FOOT_PATHS
from bustle.core.kinds.gaits import GAITS
from bustle.core.kinds.legs import FAMILIES
from bustle.core.starting.starting_walkers import SHAPES
from bustle.formats import TABLE_FORMATS
from bustle.web import create_app
from tests.projects import ROOT

UI = ROOT / "ui" / "src"


class Catalogue(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.app = create_app("postgresql+psycopg://nobody@127.0.0.1:1/none")
        cls.catalogue = cls.app.test_client().get("/api/catalogue").json

    def test_lists_every_registry(self):
        for key, registry in (
            ("gaits", GAITS),
            ("foot_paths", FOOT_PATHS),
            ("families", FAMILIES),
            ("shapes", SHAPES),
            ("formats", TABLE_FORMATS),
        ):
            self.assertEqual([entry["name"] for entry in self.catalogue[key]], list(registry), key)

    def test_every_slider_of_the_interface_is_a_lever_with_the_same_words(self):
        text = (UI / "controls" / "levers.ts").read_text()
        found = re.findall(r'name: "(\w+)",\s+label: "([^"]+)",\s+unit: "([^"]*)"', text)
        self.assertGreater(len(found), 8)
        for name, label, unit in found:
            lever = LEVERS[name]
            self.assertTrue(label.startswith(lever.label), f"{name}: {label} / {lever.label}")
            self.assertEqual(unit, lever.unit, name)

    def test_every_check_has_ways_to_mend_it(self):
        self.assertTrue(all(judgement.ways for judgement in JUDGEMENTS.values()))

    def test_every_figure_the_interface_shows_exists(self):
        from bustle.core.evaluate import evaluate
        from tests.projects import demo

        there = {
            f.name
            for name in ("Forward", "Aisle round", "Round the pots")
            for f in evaluate(demo("fennel"), name).figures
        }
        shown = set()
        for path in UI.rglob("*.ts*"):
            text = path.read_text()
            shown |= set(re.findall(r'figure\(picture, "(\w+)"\)', text))
            for block in re.findall(r"<Figures\s+names=\{\[(.*?)\]\}", text, re.S):
                shown |= set(re.findall(r'"(\w+)"', block))
        self.assertGreater(len(shown), 8)
        self.assertEqual(shown - there, set())

    def test_every_finding_code_a_station_marks_is_a_check(self):
        codes = set()
        for path in UI.glob("stations/*/index.ts"):
            codes |= set(re.findall(r'"(F\d\d)"', path.read_text()))
        self.assertEqual(codes, set(JUDGEMENTS))


class NoTrace(unittest.TestCase):
    """Nothing shipped names a download host, and nothing is fetched at run time."""

    def test_lock_files_record_no_addresses(self):
        lock = (ROOT / "ui" / "package-lock.json").read_text()
        self.assertNotIn('"resolved"', lock)
        self.assertGreater(lock.count('"integrity"'), 50)
        python = (ROOT / "requirements.lock").read_text()
        self.assertNotIn("://", python)
        self.assertTrue(all("==" in line for line in python.split() if line))

    def test_the_built_interface_names_no_foreign_script_style_or_font(self):
        dist = ROOT / "ui" / "dist"
        for path in [dist / "index.html", *dist.glob("assets/*.css")]:
            addresses = re.findall(r"(?:src|href|url)\s*[=(]\s*[\"']?(https?:)?//[^\"')\s]+", path.read_text())
            self.assertEqual(addresses, [], path.name)
        for path in dist.glob("assets/*.css"):
            # The one style sheet we did not write carries pictures as data: addresses, which the policy allows.
            self.assertEqual(re.findall(r"url\(\"?data:(?!image/)", path.read_text()), [])
