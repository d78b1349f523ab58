"""A machine with feet on both sides, played on its back."""

from __future__ import annotations

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from tests.engine.played import Played, planned_mm
from tests.projects import start
from tests.seeded import SeededTest


class OnItsBack(SeededTest):
    def test_it_starts_from_its_key_and_goes_as_told(self):
        values = document(start("six_two", "Both sides up", float(self.random.uniform(90.0, 350.0))))
        for limb in values["walker"]["limbs"]:
            limb["feet"].append({**limb["feet"][0], "name": "upper_foot", "side": "upper"})
        walk = next(motion for motion in values["motions"] if motion["name"] == "Forward")
        values["motions"] = [walk | {"name": "Stays", "inverted": False}, walk | {"inverted": True}]
        project = parse_project(values)
        for name in ("Stays", "Forward"):
            with self.subTest(name, seed=self.seed):
                self.assertTrue(evaluate(project, name).sound)
                played, way = Played(project, ((name, 4),)), planned_mm(project, ((name, 4),))
                self.assertTrue(played.up)
                self.assertLess(abs(played.way_mm / way - 1), 0.1)
                self.assertLess(played.beyond_deg, 3.0)
