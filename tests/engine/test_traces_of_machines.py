"""Traces of machines that a physics engine plays, as their own sensors would tell them, beside their plan."""

from __future__ import annotations

import unittest

import mujoco
import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.trials.traces import Trace, heard, trace_tells
from bustle.core.trials.traces.as_told import is_down
from bustle.core.trials.traces.trace import PHASES
from tests.engine.played import Played, _limbs_of_geoms
from tests.long import in_turns
from tests.projects import start
from tests.seeded import SeededTest

WALKS = {"six_sprawled": "Forward", "four_sprawled": "Trot", "two_servo": "Forward", "four_upright": "Forward"}
CYCLES = 8
# What a cell under a foot reads at rest and a newton, and how much it errs.
RESTING, A_NEWTON, ERRS = 80.0, 40.0, 6.0


def traced(project, walk, random):
    """What a machine tells that begins with the walk itself, from its second cycle on."""
    r, told = evaluate(project, walk).reading, []
    limbs = [m.name for m in project.walker.limbs]

    def look(model, data):
        owner, force = _limbs_of_geoms(project, model), np.zeros(len(limbs))
        for n in range(data.ncon):
            pushed = np.zeros(6)
            mujoco.mj_contactForce(model, data, n, pushed)
            for geom in data.contact[n].geom:
                if owner[geom] >= 0:
                    force[int(owner[geom])] += pushed[0]
        turn = data.body(project.walker.sections[0].name).xmat.reshape(3, 3)
        heading = np.arctan2(turn[1, 0], turn[0, 0])
        roll, pitch = np.arctan2(turn[2, 1], turn[2, 2]), -np.arcsin(turn[2, 0])
        told.append([np.degrees(roll), np.degrees(pitch), heading, *force])

    Played(project, [(walk, CYCLES + 1)], each_row=look)
    table = np.array(told)[r.samples :]
    read = RESTING + A_NEWTON * table[:, 3:] + random.normal(0.0, ERRS, (len(table), len(limbs)))
    return Trace(np.arange(len(table)) * r.row_s, {"roll": table[:, 0], "pitch": table[:, 1]},
                 dict(zip(limbs, read.T, strict=True)))  # fmt: skip


class TracesOfMachines(SeededTest):
    @in_turns
    def test_lie_over_their_plan_with_feet_felt_when_they_are_down(self):
        for shape, walk in WALKS.items():
            project = start(shape, "Traced", float(self.random.uniform(140, 260)))
            r = evaluate(project, walk).reading
            found = heard(traced(project, walk, self.random), r)
            with self.subTest(seed=self.seed, shape=shape):
                self.assertAlmostEqual(found.laid.period_s / found.told_s, 1.0, delta=0.005)
                self.assertTrue(found.laid.more)
                # It began with the plan's first row.
                self.assertLess(abs((found.laid.phase[0] + 0.5) % 1.0 - 0.5), 0.06)
                down = is_down(r, PHASES)
                agrees, hangs = [], False
                for foot in found.feet:
                    # Of four stiff legs that all stand in a trot one may hang: then its sensor has nothing to tell.
                    if foot.threshold is None:
                        self.assertEqual(walk, "Trot", foot.misread)
                        self.assertGreater(np.mean(foot.loaded < RESTING + 4 * ERRS), 0.1, foot.limb)
                        hangs = True
                        continue
                    felt = foot.seen > foot.threshold
                    self.assertLess(np.mean(felt & ~down[foot.limb]), 0.1, foot.limb)
                    agrees.append(np.mean(felt == down[foot.limb]))
                self.assertGreater(np.mean(agrees), 0.75)
                self.assertEqual(hangs, "F27" in [s.code for s in trace_tells(found, walk, 1)])


if __name__ == "__main__":
    unittest.main()
