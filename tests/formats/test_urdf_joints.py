"""The joints of anybody's URDF: what legs they make, what they are called and which way they count."""

from __future__ import annotations

import re

import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.servo.joint_table import joint_table
from bustle.core.starting.fresh_set import fresh_set
from bustle.core.words.problems import InputRefused
from bustle.formats import write_table
from bustle.formats.robot_files.mjcf_out import write_mjcf
from bustle.formats.robot_files.urdf_in import read_urdf
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.formats.anybodys import Anybodys
from tests.formats.posed import Engine
from tests.formats.test_urdf import Independent
from tests.long import in_turns
from tests.projects import changed, hexapod, start
from tests.seeded import SeededTest


class JointsRead(Anybodys, SeededTest):
    @in_turns
    def test_legs_whose_joints_turn_the_other_way_about_are_known_and_walk(self):
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{self.four_legs()}</robot>".encode())
        self.assertEqual({limb.family for limb in read.project.walker.legs}, {"upright_3"})
        self.assertEqual(len(read.called), 4)
        self.assertIn("leg0_1_joint is leg0/pitch", read.called[0])
        ways = [[joint.in_files.reversed for joint in limb.joints] for limb in read.project.walker.legs]
        self.assertEqual(ways, [[False, True, True]] * 4)
        walks = {motion.name for motion in fresh_set(read.project).motions}
        self.assertLess({"Forward", "Back", "Turn left", "Turn right", "Trot"}, walks)

    def test_a_torque_that_is_not_told_is_assumed_by_what_there_is_to_carry(self):
        """Twice the machine on legs as long takes twice the torque; one that is told serves for the rest."""
        silent = self.four_legs().replace("effort='2'", "effort='0'")
        heavy = f"{self.TRUNK}{silent}".replace("0.6", "1.2").replace("0.05'/><in", "0.1'/><in")
        found = []
        one_told = silent.replace("effort='0'", "effort='3'", 1)
        for text in (f"{self.TRUNK}{silent}", heavy, f"{self.TRUNK}{one_told}"):
            read = read_urdf(f"<robot name='r'>{text}</robot>".encode())
            lines = [line for line in read.unused if "are assumed" in line]
            self.assertEqual(len(lines), 1)
            torques = {servo.stall_torque_nm for servo in read.project.servo_types}
            self.assertEqual(len(torques), 1)
            found += torques
            self.assertIn(f"{max(torques):g} N·m", lines[0])
        self.assertAlmostEqual(found[1] / found[0], 2.0, delta=0.1)
        self.assertEqual(found[2], 3.0)
        told = read_urdf(f"<robot name='r'>{self.TRUNK}{self.four_legs()}</robot>".encode())
        self.assertFalse([line for line in told.unused if "are assumed" in line])

    def test_a_joint_that_follows_another_is_turned_by_that_ones_servo(self):
        """q₂ = m·q₁ + o in every row, as the file counts both, whichever way the legs' family does."""
        factor, offset = float(self.random.uniform(-2.2, -1.6)), float(self.random.uniform(-0.2, 0.2))
        follows = "<mimic joint='{}_1_joint' multiplier='{}' offset='{}'/>"
        legs = self.four_legs()
        for n in range(4):
            legs = re.sub(
                rf"(<joint name='leg{n}_2_joint'.*?)</joint>",
                rf"\1{follows.format(f'leg{n}', factor, offset)}</joint>", legs,
            )  # fmt: skip
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}</robot>".encode())
        self.assertEqual(len(read.project.walker.drives), 8)
        self.assertFalse([line for line in read.unused if "follows" in line])
        for held in ("off", "full"):
            project = changed(read.project, {"against_sag": held})
            table = joint_table(evaluate(project, "Stand").reading, 4)
            for n in range(4):
                first, second = (table.values[:, table.columns.index(f"leg{n}_{k}_joint")] for k in (1, 2))
                with self.subTest(seed=self.seed, leg=n, held=held):
                    np.testing.assert_allclose(second, factor * first + np.degrees(offset), atol=0.001)

    def test_what_follows_what_follows_or_one_too_many_has_a_servo_of_its_own_and_that_is_said(self):
        legs = self.four_legs()
        for n, led in ((0, 1), (1, 3), (2, 9)):
            joint = rf"(<joint name='leg{n}_2_joint'.*?)</joint>"
            legs = re.sub(joint, rf"\1<mimic joint='leg{led}_2_joint'/></joint>", legs)
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}</robot>".encode())
        told = [line for line in read.unused if "it is read as a joint of its own" in line]
        self.assertEqual([line.split()[1] for line in told], ["leg0_2_joint:", "leg2_2_joint:"])

    @in_turns
    def test_a_parallelogram_comes_back_tied_and_walks(self):
        back = read_urdf(write_urdf(start("two_parallelogram", "Tied", 260.0)).data)
        self.assertEqual(back.unused, ())
        self.assertEqual([len(drive.joints) for drive in back.project.walker.drives], [1, 1, 2, 2] * 2)
        walks = fresh_set(back.project)
        self.assertEqual([f for f in evaluate(walks, "Forward").findings if f.severity == "stop"], [])

    def test_two_joints_in_one_plane_are_a_leg_whichever_way_they_turn(self):
        """As a free chain it would miss every place beside its plane."""
        for way in ("0 1 0", "0 -1 0"):
            links = [(way, "X ACROSS 0"), (way, "0 0 -0.1")]
            legs = "".join(
                self.limb(f"leg{n}", side * 0.05, [(a, o.replace("X", str(ahead))) for a, o in links], self.BALL)
                for n, (ahead, side) in enumerate(((0.08, 1), (0.08, -1), (-0.08, 1), (-0.08, -1)))
            )
            read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}</robot>".encode()).project
            self.assertEqual({limb.family for limb in read.walker.legs}, {"upright_2"}, way)
            low, high = ((limb.joints[0].min_deg, limb.joints[0].max_deg) for limb in read.walker.legs[:2])
            self.assertEqual(low, high)

    @in_turns
    def test_legs_with_a_joint_too_many_do_not_leap_from_row_to_row(self):
        """Four joints for three directions: many ways to every place, and one of them kept."""
        legs, size = "", float(self.random.uniform(0.06, 0.2))
        for n, (ahead, side) in enumerate((a, s) for a in (0.09, 0.0, -0.09) for s in (1, -1)):
            axes = [("0 0 1", f"{ahead} ACROSS 0")] + [("1 0 0", f"0 {side * size * k} 0") for k in (0.3, 0.7, 0.6)]
            end = self.BALL.replace("0 0 -0.12", f"0 {side * size * 0.4} 0")
            legs += self.limb(f"leg{n}", side * 0.06, axes, end)
        walks = fresh_set(read_urdf(f"<robot name='r'>{self.TRUNK}{legs}</robot>".encode()).project)
        r = evaluate(walks, "Forward").reading
        self.assertEqual({limb.family for limb in walks.walker.legs}, {"serial"})
        self.assertGreater(r.score.stroke_mm.max(), 80 * size, f"seed {self.seed}")
        self.assertLess(np.degrees(np.abs(np.diff(r.angles, axis=0)).max()), 15.0, f"seed {self.seed}")
        self.assertLess(r.course.solved.miss_mm.max(), 0.01)

    @in_turns
    def test_files_and_tables_out_are_as_the_file_that_came_in(self):
        """Names, and which way joints count: rows of a table told to that very file put its feet where planned."""
        text = f"<robot name='r'>{self.TRUNK}{self.four_legs()}</robot>".replace("'trunk'", "'body'")
        read = fresh_set(read_urdf(text.encode()).project)
        out = Independent(write_urdf(read).data).model
        self.assertLessEqual({f"leg{leg}_{joint}_joint" for leg in range(4) for joint in range(3)}, {*out.names})
        again = read_urdf(write_urdf(read).data).project
        told = [[joint.in_files for joint in limb.joints] for limb in read.walker.limbs]
        self.assertEqual([[joint.in_files for joint in limb.joints] for limb in again.walker.limbs], told)
        r = evaluate(changed(read, {"against_sag": "off"}), "Forward").reading
        table = joint_table(r, 4)
        theirs, ours = Engine(text.encode(), afloat=True), Engine(write_mjcf(read).data)
        for row in self.random.integers(0, r.samples, 5):
            for engine in (theirs, ours):
                for name, value in zip(table.columns, np.radians(table.values[row]), strict=True):
                    engine.tell(name, value)
                engine.follow()
            root = theirs.data.body("body")
            for n, limb in enumerate(read.walker.legs):
                last = theirs.data.body(f"{limb.name}_2")
                foot = last.xpos + last.xmat.reshape(3, 3) @ [0.0, 0.0, -0.12]
                seen = 1000 * (foot - root.xpos) @ root.xmat.reshape(3, 3)
                np.testing.assert_allclose(seen, r.course.solved.points[n][row, -1], atol=1e-3)
                other = ours.data.body("body")
                seen = (ours.at(f"{limb.name}/foot") - other.xpos * 1000) @ other.xmat.reshape(3, 3)
                np.testing.assert_allclose(seen, r.course.solved.points[n][row, -1], atol=1e-3)

    def test_names_that_no_table_may_hold_are_made_ones_that_it_may(self):
        """Formulas to a spreadsheet, spaces, two that come to one: each still is a column and a constant of its own."""
        text = f"<robot name='r'>{self.TRUNK}{self.four_legs()}</robot>"
        for old, new in (("leg0_0_joint", "=1+2"), ("leg0_1_joint", "hip 1"), ("leg0_2_joint", "hip_1")):
            text = text.replace(f"'{old}'", f"'{new}'")
        read = read_urdf(text.encode()).project
        plan = evaluate(read, "Stand")
        servos = [drive.servos[0].name for drive in read.walker.drives]
        self.assertEqual((servos[:3], len({*servos})), (["_1_2", "hip_1", "hip_1_2"], len(servos)))
        columns = joint_table(plan.reading).columns
        self.assertEqual(columns[:3], ("_1_2", "hip_1", "hip_1_2"))
        defined = re.findall(r"#define (\w+) \d+$", write_table(plan, "c", anyway=True).decode(), re.M)
        self.assertEqual(len(defined), len({*defined}))

    def test_no_two_joints_have_one_name_in_files(self):
        other = {"called": "R1/femur", "reversed": False}
        with self.assertRaisesRegex(InputRefused, "another joint is called 'R1/femur' in files"):
            changed(hexapod(), {"walker/limbs/0/joints/1/in_files": other})
