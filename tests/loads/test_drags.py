"""What drags on a walk: who holds against it, and what stays as it is."""

from __future__ import annotations

import re

import numpy as np

from bustle.core.edits.mirroring import mirror_image
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.way_walked import drift, pulled
from bustle.core.loads.foot_forces import foot_forces
from bustle.core.loads.told import not_balanced
from bustle.formats import TABLE_FORMATS, write_table
from tests.long import in_turns
from tests.projects import changed, start
from tests.seeded import SeededTest

WALKS = (
    ("six_sprawled", "Forward"),
    ("six_radial", "Turn left"),
    ("four_sprawled", "Forward"),
    ("two_full", "Forward"),
)


class Drags(SeededTest):
    def walks(self):
        """(shape, motion, free, the same with a cable beside it at random)"""
        for shape, motion in WALKS:
            free = start(shape, "Drags", float(self.random.uniform(150, 260)))
            at = self.random.uniform([-90, 30, -20], [-20, 90, 30]).round(1).tolist()
            cable = {"name": "Cable", "pull_n": float(self.random.uniform(0.3, 0.8)), "at_mm": at}
            yield shape, motion, free, changed(free, {"walker/drags": [cable]})

    def test_feet_push_it_along_and_hold_it_from_turning(self):
        """Of the same motion with it and without: the difference of all that the floor does, against pull and lever."""
        for shape, motion, free, dragged in self.walks():
            one, other = (evaluate(p, motion).reading for p in (free, dragged))
            if not_balanced(one) or not_balanced(other):
                continue
            drag, body = dragged.walker.drags[0], other.course.body
            feet = other.of(foot_forces)
            more = feet.forces - one.of(foot_forces).forces
            at = (body.at[: other.samples] + body.turn[: other.samples] @ np.array(drag.at_mm)) / 1000
            push = more.sum(axis=0)
            with self.subTest(shape=shape, drag=drag, seed=self.seed):
                np.testing.assert_allclose(np.linalg.norm(push, axis=1), drag.pull_n, atol=1e-6)
                np.testing.assert_allclose(push[:, 2], 0.0, atol=1e-6)
                turning = np.cross(feet.points, more, axis=-1).sum(axis=0)
                np.testing.assert_allclose(turning, np.cross(at, push), atol=1e-6)

    @in_turns
    def test_tables_are_the_same_with_it_and_without(self):
        for shape, motion, free, dragged in self.walks():
            for kind in TABLE_FORMATS:
                one, other = (write_table(evaluate(p, motion), kind, anyway=True) for p in (free, dragged))
                with self.subTest(shape=shape, kind=kind, seed=self.seed):
                    self.assertEqual(*(re.sub(rb"From Drags, \w+", b"", data) for data in (one, other)))

    @in_turns
    def test_it_turns_to_the_side_that_drags_and_in_the_mirror_to_the_other(self):
        for shape, motion, _, dragged in self.walks():
            if motion != "Forward":
                continue
            own, seen = (evaluate(p, motion).reading for p in (dragged, mirror_image(dragged)))
            with self.subTest(shape=shape, seed=self.seed):
                self.assertGreater(own.of(pulled)[2], 0.0)
                np.testing.assert_allclose(seen.of(pulled), own.of(pulled) * [1, -1, -1], rtol=1e-6, atol=1e-9)
                self.assertAlmostEqual(seen.of(drift).aside_mm, -own.of(drift).aside_mm, places=6)
