"""Machines from URDF files of anybody's, walked in an engine on the very file by the tables made for it."""

from __future__ import annotations

import numpy as np

from bustle.core.starting.fresh_set import fresh_set
from bustle.formats.robot_files.urdf_in import read_urdf
from tests.engine.played import planned_mm
from tests.engine.random_walkers import in_order
from tests.engine.test_a_strangers_engine import AsItComes, table
from tests.formats.bipeds import Biped
from tests.formats.many_legs import STYLES, ManyLegs
from tests.long import in_turns
from tests.seeded import SeededTest


class Anybodys(SeededTest):
    def walk(self, robot, root, near, aside=0.1, **of):
        """Its walk ahead from its own start to its own stop; near, aside: how far off its way it may come,
        as a share."""
        project = fresh_set(read_urdf(robot.file.encode()).project)
        order = in_order(project, "Forward", 4)
        columns, rows, _ = table(project, order[0][0])
        engine = AsItComes(project, columns, data=robot.file)
        engine.stand(rows[0])
        begun, last = engine.data.qpos[:2].copy(), rows[0]
        for name, cycles in order:
            _, rows, row_s = table(project, name)
            # Where one table ends the next begins: its knees bend the same way.
            self.assertLess(np.degrees(np.abs(rows[0] - last).max()), project.limits.row_step_deg)
            for row in [*rows] * cycles:
                engine.go(row, row_s)
            last = rows[-1]
        went_mm = (engine.data.qpos[:2] - begun) * 1000
        with self.subTest(leg=robot.leg, seed=self.seed, **of):
            self.assertGreater(engine.data.body(root).xmat[8], 0.95)
            planned = planned_mm(project, order)
            self.assertAlmostEqual(went_mm[0] / planned, 1.0, delta=near)
            self.assertAlmostEqual(went_mm[1] / planned, 0.0, delta=aside)
        return project

    @in_turns
    def test_two_legs_of_six_joints_in_any_order_walk_as_far_as_told(self):
        biped = Biped(self.random)
        project = self.walk(biped, "torso", 0.1, hip=biped.hip, ankle=biped.ankle)
        self.assertLessEqual({"Forward", "Back", "Turn left", "Turn right"}, {m.name for m in project.motions})

    @in_turns
    def test_two_legs_without_a_yaw_keep_their_soles_level_and_walk(self):
        """Their toes turn a little as they lean, scrub and turn it: one in some goes a quarter aside."""
        biped = Biped(self.random, yaw=False)
        project = self.walk(biped, "torso", 0.2, aside=0.3, hip=biped.hip, ankle=biped.ankle)
        for limb in project.walker.legs:
            self.assertIn((limb.family, limb.keep), (("serial", "level"), ("biped_5_no_yaw", None)))

    @in_turns
    def test_four_and_six_legs_walk_as_far_as_told(self):
        style = str(self.random.choice(STYLES))
        robot = ManyLegs(self.random, style)
        project = self.walk(robot, "base", 0.12, style=style)
        self.assertLessEqual({"Back", "Turn left", "Turn right", "Stand"}, {m.name for m in project.motions})
        # Joints keep their names, and which way they count.
        columns, _, _ = table(project, "Forward")
        self.assertEqual(len(columns), 3 * len(robot.names))
