"""What drags on one side of a walk, in a physics engine: how far it pulls it round, and what remedies make of it."""

from __future__ import annotations

import numpy as np

from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.way_walked import pulled
from bustle.core.machine.masses import GRAVITY
from bustle.core.search.remedies import remedies
from bustle.core.starting.starting_walkers import SHAPES
from tests.engine.played import Played
from tests.long import in_turns, share
from tests.projects import changed, start
from tests.seeded import SeededTest

CYCLES, SETTLES = 6, 2
# As is taken where no sheet tells.
GIVES_DEG = 5.0
# Whose feet slide, and who rocks from foot to foot, is not told; beside casters a third to two thirds of it came about.
WALKS = (
    ("six_sprawled", "Forward"), ("six_upright", "Forward"), ("six_radial", "Forward"), ("four_sprawled", "Forward"),
    ("four_upright", "Forward"), ("two_full", "Forward"), ("six_two", "Forward"),
)  # fmt: skip


def drawn_back(project):
    """For `Played`: what drags on the body pulls it back along the way that the machine faces; and its headings."""
    headings = []

    def look(model, data):
        body = data.body(project.walker.sections[0].name)
        turn = body.xmat.reshape(3, 3)
        ahead = np.array([turn[0, 0], turn[1, 0], 0.0])
        data.xfrc_applied[body.id] = 0.0
        for drag in project.walker.drags:
            pull = -drag.pull_n * ahead / np.linalg.norm(ahead)
            off = body.xpos + turn @ np.array(drag.at_mm) / 1000 - body.xipos
            data.xfrc_applied[body.id] += np.concatenate([pull, np.cross(off, pull)])
        headings.append(np.arctan2(turn[1, 0], turn[0, 0]))

    return look, headings


def turns_deg(project, motion):
    """A cycle, once it has settled."""
    look, headings = drawn_back(project)
    Played(project, [(motion, CYCLES)], GIVES_DEG, each_row=look, no_creep=True)
    rows = len(headings) // CYCLES
    ends = np.degrees(np.unwrap(headings))[rows - 1 :: rows]
    return float((ends[-1] - ends[SETTLES - 1]) / (CYCLES - SETTLES))


class PulledRound(SeededTest):
    @in_turns
    def test_as_far_as_told_and_no_longer_once_it_is_mended(self):
        for shape, motion in share(self.random, WALKS):
            size = float(SHAPES[shape].usual_mm * self.random.uniform(0.8, 1.3))
            free = start(shape, "Drags", size)
            weight = evaluate(free, motion).reading.assembled.total_kg * GRAVITY
            half = free.walker.sections[0].size_mm[1] / 2
            at = [0.0, float(self.random.choice([-1, 1]) * half * self.random.uniform(0.6, 1.3)), 0.0]
            cable = {"name": "Cable", "pull_n": weight * float(self.random.uniform(0.05, 0.1)), "at_mm": at}
            project = changed(free, {"walker/drags": [cable], "limits/drift_mm_m": 2.0})
            plan = evaluate(project, motion)
            told = float(np.degrees(plan.reading.of(pulled)[2]))
            own = turns_deg(free, motion)
            went = turns_deg(project, motion) - own
            with self.subTest(shape=shape, motion=motion, size=size, cable=cable, told=told, went=went, seed=self.seed):
                # Legs that press outwards at the end of their feet's grip are looser than told.
                self.assertGreater(went / told, 0.6)
                self.assertLess(went / told, 2.0)
                finding = next(f for f in plan.findings if f.code == "F52")
                for remedy in remedies(project, motion, finding):
                    mended = turns_deg(patched(project, remedy.patch), motion) - own
                    self.assertLess(abs(mended), 0.5 * abs(went), remedy.title)
