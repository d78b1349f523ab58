"""How far a standing machine may be tipped, and what is said of one that goes over at little."""

from __future__ import annotations

import unittest

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.margins.tip_angles import WAYS, tip_angles
from bustle.core.machine.kit import kit_of
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from tests.long import in_turns
from tests.projects import changed, fault, stands, start
from tests.seeded import SeededTest

# Where the floor falls to, so that it goes over that way: uphill is opposite.
UPHILL = {"forward": 180.0, "backward": 0.0, "to the left": -90.0, "to the right": 90.0}


def told(project):
    return [f for f in evaluate(project, "Stand").findings if f.code == "F34"]


class TipAngles(SeededTest):
    @in_turns
    def test_on_a_floor_that_falls_that_steeply_nothing_is_left_of_the_margin(self):
        for shape in ("six_sprawled", "four_upright", "two_full", "two_servo"):
            length = float(self.random.uniform(100, 300))
            values = document(stands(shape, "Tipped", length))
            high = float(self.random.uniform(80, 200))
            aside = [float(v) for v in self.random.uniform(-5, 5, 2)]
            values["walker"]["masses"].append({"name": "Mast", "mass_g": 400.0, "at_mm": [*aside, high]})
            values["against_sag"] = "off"
            project = parse_project(values)
            angles = np.degrees(evaluate(project, "Stand").reading.of(tip_angles)[:, 0])
            for way, angle in zip(WAYS, angles.tolist(), strict=True):
                if angle > 44:
                    continue
                margins = []
                for slope in (angle - 0.2, angle + 0.2):
                    sloping = changed(project, {"floor/slope_deg": slope, "floor/uphill_deg": UPHILL[way]})
                    figures = {f.name: f.value for f in evaluate(sloping, "Stand").figures}
                    margins.append(figures["worst_margin_mm"])
                with self.subTest(shape=shape, way=way, length=length):
                    self.assertGreater(margins[0], 0)
                    self.assertLess(margins[1], 0)


class TopHeavy(unittest.TestCase):
    def test_it_is_told_and_each_remedy_clears_it(self):
        project = fault("F34")
        found = told(project)
        self.assertEqual([(f.severity, f.title) for f in found], [("warn", "Top-heavy")])
        made = remedies(project, "Stand", found[0])
        self.assertTrue(any("lower" in remedy.title for remedy in made), [remedy.title for remedy in made])
        for remedy in made:
            self.assertEqual(told(patched(project, remedy.patch)), [], remedy.title)
        self.assertEqual(told(fault("F34", sound=True)), [])


class TopHeavyTrot(SeededTest):
    @in_turns
    def test_a_mast_is_told_of_a_trot_and_not_of_a_creep_and_each_remedy_clears_it(self):
        project = start("four_upright", "Mast", float(self.random.uniform(120, 300)))
        long = sum(link.length_mm for link in project.walker.legs[0].links)
        third = 350.0 * kit_of(project).assembled({}).total_kg

        def under(high):
            mast = {"name": "Mast", "mass_g": third, "at_mm": [0.0, 0.0, high * long]}
            return changed(project, {"walker/masses": [*document(project)["walker"]["masses"], mast]})

        def said(machine, walk):
            return [f for f in evaluate(machine, walk).findings if f.code == "F34"]

        self.assertEqual(said(under(0.3), "Trot") + said(under(1.0), "Forward"), [])
        found = said(under(1.0), "Trot")[0]
        self.assertEqual(found.severity, "warn")
        made = remedies(under(1.0), "Trot", found)
        self.assertTrue(any("lower" in remedy.title for remedy in made), [remedy.title for remedy in made])
        for remedy in made:
            self.assertEqual(said(patched(under(1.0), remedy.patch), "Trot"), [], remedy.title)


if __name__ == "__main__":
    unittest.main()
