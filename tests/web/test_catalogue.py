"""What the screens choose from is what the registries hold, and the interface's own names agree with it."""

from __future__ import annotations

import ast
import re
import sys
import tomllib
import unittest

from bustle.core.judge.registry import FIGURES, JUDGEMENTS, RAIL
from bustle.core.kinds.foot_paths import FOOT_PATHS
from bustle.core.kinds.gaits import GAITS
from bustle.core.kinds.legs import FAMILIES
from bustle.core.starting.starting_walkers import SHAPES
from bustle.formats import TABLE_FORMATS
from bustle.web.application import create_app
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

    def test_every_slider_of_the_interface_is_a_lever(self):
        hands = re.findall(r"^  (\w+): (?:\{$|(?:whenF|f)arthest\()", (UI / "controls" / "levers.ts").read_text(), re.M)
        self.assertEqual(set(hands), {v["name"] for v in self.catalogue["levers"]})
        for lever in self.catalogue["levers"]:
            # What the slider reaches can be typed too, and what can be typed the field takes.
            self.assertLessEqual(lever["typed"][0], lever["low"], lever["name"])
            self.assertGreaterEqual(lever["typed"][1], lever["high"], lever["name"])

    def test_every_check_has_ways_to_mend_it(self):
        self.assertTrue(all(judgement.ways for judgement in JUDGEMENTS.values()))

    def test_every_figure_and_judgement_has_a_station_that_shows_it(self):
        stations = {path.parent.name for path in UI.glob("stations/*/index.ts")}
        for judgement in self.catalogue["judgements"]:
            self.assertTrue(judgement["stations"], judgement["code"])
            self.assertLessEqual(set(judgement["stations"]), stations, judgement["code"])
        for figure in self.catalogue["figures"]:
            places = {place.partition("/")[0] for place in figure["stations"]}
            self.assertLessEqual(places, stations | {RAIL}, figure["name"])

    def test_every_figure_the_interface_asks_for_exists(self):
        shown, places = set(), set()
        for path in UI.rglob("*.ts*"):
            text = path.read_text()
            shown |= set(re.findall(r'figure\(picture, "(\w+)"\)', text))
            places |= set(re.findall(r'<Figures at="([\w/]+)"', text))
        self.assertGreater(len(shown), 4)
        self.assertEqual(shown - set(FIGURES), set())
        self.assertEqual(places, {p for spec in FIGURES.values() for p in spec.stations} - {RAIL})


class NoTrace(unittest.TestCase):
    """Nothing shipped names a download host, and nothing is fetched at run time."""

    def test_lock_files_record_no_addresses(self):
        lock = (ROOT / "ui" / "package-lock.json").read_text()
        self.assertNotIn('"resolved"', lock)
        self.assertGreater(lock.count('"integrity"'), 50)
        for name in ("requirements.lock", "requirements.test.lock"):
            text = (ROOT / name).read_text()
            self.assertNotIn("://", text)
            self.assertNotIn("--find-links", text)
            for pinned in re.split(r"\n(?=\S)", text.strip()):
                self.assertRegex(pinned, r"^[\w.-]+==\S+ \\\n +--hash=sha256:[0-9a-f]{64}", name)

    def test_what_runs_it_is_declared_and_what_tests_it_is_not_installed_with_it(self):
        project = tomllib.loads((ROOT / "pyproject.toml").read_text())
        names = {n: {re.split(r"[<>=\[]", d)[0].lower() for d in ds} for n, ds in (
            ("run", project["project"]["dependencies"]), ("test", project["dependency-groups"]["test"]))}  # fmt: skip
        locked = {
            n: set(re.findall(r"^([\w.-]+)==", (ROOT / file).read_text(), re.M))
            for n, file in (("run", "requirements.lock"), ("test", "requirements.test.lock"))
        }
        for kind in ("run", "test"):
            self.assertLessEqual(names[kind], {n.lower() for n in locked[kind]})
        self.assertEqual(locked["run"] & locked["test"], set())
        imported = set()
        for path in (ROOT / "bustle").rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.Import):
                    imported |= {alias.name.split(".")[0] for alias in node.names}
                elif isinstance(node, ast.ImportFrom) and node.module:
                    imported.add(node.module.split(".")[0])
        known = {"werkzeug": "flask", "pydantic_core": "pydantic"}
        foreign = {known.get(m, m) for m in imported - set(sys.stdlib_module_names) - {"bustle", "__future__"}}
        self.assertLessEqual({m.lower().replace("_", "-") for m in foreign}, names["run"])

    def test_the_built_interface_names_no_foreign_script_style_or_font(self):
        dist = ROOT / "ui" / "dist"
        for path in [dist / "index.html", *dist.glob("assets/*.css")]:
            addresses = re.findall(r"(?:src|href|url)\s*[=(]\s*[\"']?(https?:)?//[^\"')\s]+", path.read_text())
            self.assertEqual(addresses, [], path.name)
        for path in dist.glob("assets/*.css"):
            # The one style sheet we did not write carries pictures as data: addresses, which the policy allows.
            self.assertEqual(re.findall(r"url\(\"?data:(?!image/)", path.read_text()), [])
