"""Legs longer on one side than drawn: how far the walk turns, and what steering and drawing them right make of it."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.way_walked import deviation
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from tests.engine.played import Played
from tests.projects import start
from tests.seeded import SeededTest

CYCLES = 6
SHAPES = ("six_sprawled", "six_upright", "six_radial", "four_sprawled", "four_upright")


def longer_on_the_left(project, share):
    """As measured; and the machine that was built, as somebody would draw it."""
    measured, built = document(project), document(project)
    for limb, own in zip(project.walker.limbs, built["walker"]["limbs"], strict=True):
        if not limb.steps or limb.neutral_mm[1] < 0:
            continue
        for link in own["links"]:
            link["length_mm"] *= 1 + share
        lengths = {link["name"]: link["length_mm"] for link in own["links"] if link["length_mm"]}
        measured["walker"]["as_built"]["limbs"].append({"limb": limb.name, "link_length_mm": lengths})
    return parse_project(measured), parse_project(built)


class Drifts(SeededTest):
    def test_turns_as_told_and_goes_straight_once_mended(self):
        shape, share = str(self.random.choice(SHAPES)), float(self.random.uniform(0.05, 0.07))
        project, machine = longer_on_the_left(start(shape, "Uneven", float(self.random.uniform(120, 260))), share)
        plan = evaluate(project, "Forward")
        told_deg = float(np.degrees(plan.reading.of(deviation).gone[2])) * CYCLES
        went = Played(project, [("Forward", CYCLES)], machine=machine)
        with self.subTest(shape=shape, share=share, seed=self.seed):
            self.assertAlmostEqual(went.turned_deg / told_deg, 1.0, delta=0.3)
            finding = next(f for f in plan.findings if f.code == "F11")
            offered = remedies(project, "Forward", finding)
            self.assertEqual(len(offered), 2)
            for remedy in offered:
                mended = Played(patched(project, remedy.patch), [("Forward", CYCLES)], machine=machine)
                self.assertLess(abs(mended.turned_deg), 0.3 * abs(went.turned_deg), remedy.title)
