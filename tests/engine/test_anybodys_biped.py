"""Two-legged machines from URDF files of anybody's, walked in an engine on the very file by the tables made for it."""

from __future__ import annotations

import numpy as np

from bustle.core.starting.fresh_set import fresh_set
from bustle.formats.robot_files.urdf_in import read_urdf
from tests.engine.played import planned_mm
from tests.engine.random_walkers import in_order
from tests.engine.test_a_strangers_engine import AsItComes, table
from tests.formats.bipeds import Biped
from tests.long import in_turns
from tests.seeded import SeededTest


class Bipeds(SeededTest):
    def walk(self, biped, near):
        """near: how far off its way it may come, as a share of that."""
        project = fresh_set(read_urdf(biped.file.encode()).project)
        order = in_order(project, "Forward", 4)
        columns, rows, _ = table(project, order[0][0])
        engine = AsItComes(project, columns, data=biped.file)
        engine.stand(rows[0])
        begun = engine.data.qpos[:2].copy()
        last = rows[0]
        for name, cycles in order:
            _, rows, row_s = table(project, name)
            # Where one table ends the next begins: its knees bend the same way.
            self.assertLess(np.degrees(np.abs(rows[0] - last).max()), project.limits.row_step_deg)
            for row in [*rows] * cycles:
                engine.go(row, row_s)
            last = rows[-1]
        went_mm = (engine.data.qpos[:2] - begun) * 1000
        with self.subTest(hip=biped.hip, ankle=biped.ankle, leg=biped.leg, seed=self.seed):
            self.assertGreater(engine.data.body("torso").xmat[8], 0.95)
            planned = planned_mm(project, order)
            self.assertAlmostEqual(went_mm[0] / planned, 1.0, delta=near)
            self.assertAlmostEqual(went_mm[1] / planned, 0.0, delta=0.1)
        return project

    @in_turns
    def test_six_joints_in_any_order_walk_as_far_as_told(self):
        project = self.walk(Biped(self.random), 0.1)
        self.assertLessEqual({"Forward", "Back", "Turn left", "Turn right"}, {m.name for m in project.motions})

    @in_turns
    def test_five_without_a_yaw_keep_their_soles_level_and_walk(self):
        """Their toes turn a little as they lean, and scrub over the floor."""
        project = self.walk(Biped(self.random, yaw=False), 0.2)
        for limb in project.walker.legs:
            self.assertIn((limb.family, limb.keep), (("serial", "level"), ("biped_5_no_yaw", None)))
