"""URDF out, read back by an independent rigid-body library; URDF in, from our own files and from bad ones."""

from __future__ import annotations

import re
import tempfile
import unittest
from pathlib import Path

import numpy as np
import pinocchio

from bustle.core.document.checked import parse_project
from bustle.core.document.file import save_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.servo.joint_table import joint_table
from bustle.core.starting.fresh_set import fresh_set, renewed
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.formats import write_table
from bustle.formats.robot_files.mjcf_out import write_mjcf
from bustle.formats.robot_files.urdf_in import read_urdf
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.formats.posed import Engine
from tests.long import in_turns, is_long, share
from tests.projects import changed, demo, hexapod, start, troubles
from tests.seeded import SeededTest
from tests.terminal import bustle


class Independent:
    """The file as pinocchio has it, free-floating, with what follows a joint following it."""

    def __init__(self, data):
        self.model = pinocchio.buildModelFromXML(data.decode(), pinocchio.JointModelFreeFlyer(), True)
        self.data = self.model.createData()

    def pose(self, e, sample):
        """Every joint at the table's value for it, in full precision."""
        q = pinocchio.neutral(self.model)
        for n, joint in enumerate(e.kit.joints):
            at = self.model.idx_qs[self.model.getJointId(joint.path)]
            q[at] = e.angles[sample, n] / (1000 if joint.slides else 1)
        pinocchio.forwardKinematics(self.model, self.data, q)
        pinocchio.updateFramePlacements(self.model, self.data)
        return q

    def frame(self, name):
        at = self.model.getFrameId(name, pinocchio.FrameType.BODY)
        return self.data.oMf[at].translation * 1000


class Out(SeededTest):
    def agree(self, project, motion):
        e = evaluate(project, motion).reading
        other = Independent(write_urdf(project).data)
        for sample in self.random.integers(0, e.samples, 5):
            q = other.pose(e, sample)
            for i, limb in enumerate(project.walker.limbs):
                if limb.feet:
                    end = e.course.solved.points[i][sample, -1]
                    np.testing.assert_allclose(other.frame(f"{limb.name}/foot"), end, atol=1e-6)
            centre = pinocchio.centerOfMass(other.model, other.data, q) * 1000
            np.testing.assert_allclose(centre, e.course.com_body_mm[sample], atol=1e-3)
        self.assertAlmostEqual(
            pinocchio.computeTotalMass(other.model) * 1000, sum(m.mass_kg for m in e.assembled.masses) * 1000, places=3
        )

    @is_long
    def test_every_starting_shape_has_the_same_feet_and_centre_of_mass(self):
        for shape in share(self.random, list(SHAPES), 6):
            project = start(shape, "Out", 200.0)
            with self.subTest(shape=shape, seed=self.seed):
                self.agree(project, project.motions[0].name)

    def test_the_demo_and_a_bent_frame_too(self):
        for name in ("fennel", "sorrel"):
            self.agree(demo(name), "Forward")
        values = document(hexapod())
        hinge = {"on": "body", "at_mm": [-40.0, 0.0, 3.0], "to_mm": [-50.0, 0.0, 2.0], "axis": "pitch"}
        values["walker"]["sections"].append({"name": "back", "size_mm": [60.0, 80.0, 30.0], "hinge": hinge})
        for limb in values["walker"]["limbs"]:
            if limb["name"] in ("L3", "R3"):
                limb["section"], limb["mount"]["at_mm"] = "back", [0.0, limb["mount"]["at_mm"][1], 0.0]
        values["walker"]["masses"].append({"name": "Tail", "mass_g": 80.0, "on": "back", "at_mm": [-10.0, 4.0, 6.0]})
        self.agree(parse_project(values), "Stand")

    def test_limits_are_written(self):
        other = Independent(write_urdf(hexapod()).data).model
        joint = other.getJointId("L1/femur")
        low, high = (v[other.idx_qs[joint]] for v in (other.lowerPositionLimit, other.upperPositionLimit))
        np.testing.assert_allclose(np.degrees([low, high]), [-60, 100])
        self.assertAlmostEqual(np.degrees(other.velocityLimit[other.idx_vs[joint]]), 400, places=6)

    def test_what_it_cannot_hold_is_said(self):
        rods = changed(hexapod(), {"walker/drives/0/kind": "rod"})
        self.assertTrue(any("dead points are not there" in line for line in write_urdf(rods).lost))
        self.assertFalse(any("dead points" in line for line in write_urdf(hexapod()).lost))
        boom = write_urdf(start("two_planar", "Boom", 240.0)).lost
        self.assertTrue(any("boom" in line for line in boom))

    def test_from_the_command_line(self):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "w.bustle.json"
            file.write_bytes(save_project(hexapod()))
            out = Path(folder) / "w.urdf"
            bustle("urdf", file, "--out", out)
            self.assertEqual(out.read_bytes(), write_urdf(hexapod()).data)


class In(SeededTest):
    def test_our_own_file_comes_back_with_the_same_legs_and_masses(self):
        for shape in ("six_sprawled", "four_upright", "six_two", "two_full", "two_moving_mass"):
            project = start(shape, "Back", 200.0)
            read = read_urdf(write_urdf(project).data)
            with self.subTest(shape=shape):
                self.assertEqual(
                    [limb.name for limb in read.project.walker.limbs], [limb.name for limb in project.walker.limbs]
                )
                again = write_urdf(read.project)
                first, second = Independent(write_urdf(project).data), Independent(again.data)
                q1, q2 = pinocchio.neutral(first.model), pinocchio.neutral(second.model)
                for one, q in ((first, q1), (second, q2)):
                    pinocchio.forwardKinematics(one.model, one.data, q)
                    pinocchio.updateFramePlacements(one.model, one.data)
                for limb in project.walker.legs:
                    np.testing.assert_allclose(
                        first.frame(f"{limb.name}/foot"), second.frame(f"{limb.name}/foot"), atol=1e-5
                    )
                centres = [pinocchio.centerOfMass(one.model, one.data, q) for one, q in ((first, q1), (second, q2))]
                np.testing.assert_allclose(*centres, atol=1e-6)

    def test_three_joint_legs_are_recognised(self):
        self.assertEqual(read_urdf(write_urdf(hexapod()).data).project.walker.limbs[0].family, "sprawled_3")
        upright = read_urdf(write_urdf(start("four_upright", "Up", 200.0)).data).project
        self.assertEqual([limb.family for limb in upright.walker.limbs], ["upright_3"] * 4)
        self.assertEqual([limb.mirrored for limb in upright.walker.limbs], [False, True, False, True])
        self.assertEqual(troubles(evaluate(upright, "Stand")), ())

    def test_joints_named_after_their_leg_are_named_once_and_hanging_legs_stand_under_their_hips(self):
        data = write_urdf(start("four_upright", "Up", 200.0)).data.decode()
        for leg in ("FL", "FR", "BL", "BR"):
            for joint in ("roll", "pitch", "knee"):
                data = data.replace(f'"{leg}/{joint}"', f'"{leg}_{joint}"')
        read = read_urdf(data.encode()).project
        self.assertEqual([limb.name for limb in read.walker.limbs], ["FL", "FR", "BL", "BR"])
        stand = evaluate(read, "Stand")
        # Tables call them what the file does.
        self.assertEqual(joint_table(stand.reading).columns[:3], ("FL_roll", "FL_pitch", "FL_knee"))
        for limb in read.walker.limbs:
            self.assertAlmostEqual(limb.neutral_mm[0], limb.mount.at_mm[0], delta=1.0)
        self.assertEqual(troubles(stand), ())

    ROD = "<robot name='r'>{}</robot>"

    def refused(self, inner, whole=None):
        with self.assertRaises(InputRefused) as caught:
            read_urdf((whole or self.ROD.format(inner)).encode())
        return str(caught.exception)

    def test_bad_files_get_a_sentence(self):
        link = "<link name='{}'/>"
        ends = "<parent link='{}'/><child link='{}'/><limit lower='-1' upper='1'/>"
        hinge = f"<joint name='{{}}' type='revolute'>{ends}</joint>"
        two = link.format("a") + link.format("b")
        for inner, words in (
            (two + hinge.format("j", "a", "b") + hinge.format("k", "b", "a"), "run in a circle"),
            (link.format("a") + hinge.format("j", "a", "ghost"), "its child link 'ghost' is not in the file"),
            (two, "no revolute, continuous or prismatic joint"),
            (two + hinge.format("j", "a", "b") + hinge.format("k", "a", "b"), "hangs on two joints"),
            (two + link.format("c") + hinge.format("j", "a", "b"), "2 links hang on nothing"),
            (two + hinge.format("j", "a", "b"), "0 limbs that end in a foot"),
            (two + hinge.format("j", "a", "b").replace("'1'", "'-2'"), "upper limit must be above"),
            (two + hinge.format("j", "a", "b").replace("revolute", "ball"), "its type must be one of"),
            (two + hinge.format("j", "a", "b").replace("<limit", "<origin xyz='1 nan 0'/><limit"), "3 finite numbers"),
            (two + two, "two links are called 'a'"),
        ):
            with self.subTest(words=words):
                self.assertIn(words, self.refused(inner))
        bomb = "<!DOCTYPE r [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;&a;'>]><robot name='&b;'/>"
        self.assertIn("entities", self.refused("", bomb))
        self.assertIn("not well-formed", self.refused("", "<robot"))
        self.assertIn("<robot>", self.refused("", "<machine/>"))
        self.assertIn("MB", self.refused("", "<robot>" + " " * 5_000_000 + "</robot>"))

    def test_what_cannot_be_used_is_listed(self):
        data = write_urdf(start("four_casters", "Casters", 160.0)).data
        self.assertEqual(read_urdf(data).unused, ())
        # A foot that is fixed to the frame: nobody says that it rolls.
        skid = "<link name='skid'/><joint name='s' type='fixed'><parent link='body'/><child link='skid'/></joint>"
        data = data.replace(b"</robot>", f"<transmission name='t'/>{skid}</robot>".encode())
        unused = read_urdf(data).unused
        self.assertTrue(any("<transmission>" in line for line in unused))
        self.assertEqual(len([line for line in unused if "read as a caster" in line]), 1)
        self.assertTrue(any("skid" in line for line in unused))


class FeetRead(SeededTest):
    """Feet by what a file's last links touch with, whoever wrote it."""

    @in_turns
    def test_soles_and_frames_come_back(self):
        for shape in ("six_upright", "four_upright_2", "two_full", "two_planar", "two_moving_mass"):
            project = start(shape, "Back", float(self.random.integers(80, 400)))
            if shape == "six_upright":
                ball = {"kind": "ball", "radius_mm": 9.5}
                feet = {f"walker/limbs/{n}/feet/0/sole": ball for n in range(6)}
                project = changed(project, {**feet, "walker/sections/0/shape": "round",
                                            "walker/sections/0/size_mm": [150.0, 150.0, 40.0]})  # fmt: skip
            read = read_urdf(write_urdf(project).data).project
            with self.subTest(shape=shape, seed=self.seed):
                (was, now) = (p.walker.sections[0] for p in (project, read))
                self.assertEqual((now.shape, now.size_mm), (was.shape, was.size_mm))
                for was, now in zip(project.walker.legs, read.walker.legs, strict=True):
                    self.assertEqual((now.family, now.branch), (was.family, was.branch))
                    for key, value in was.feet[0].sole.model_dump().items():
                        told = now.feet[0].sole.model_dump()[key]
                        (self.assertEqual if key == "kind" else self.assertAlmostEqual)(told, value, msg=key)
                # A round body may run into its own legs as it was drawn; nothing else stops it.
                stops = [
                    {f.code for f in evaluate(p, "Stand").findings if f.severity == "stop"} for p in (read, project)
                ]
                self.assertLessEqual(stops[0], stops[1])

    def test_a_leg_bent_where_nothing_turns_is_known_again_and_walks(self):
        project = start("two_servo", "Back", float(self.random.uniform(100, 250)))
        read = read_urdf(write_urdf(project).data).project
        self.assertEqual([limb.family for limb in read.walker.limbs], ["biped_2", "biped_2"])
        for old, new in zip(project.walker.limbs, read.walker.limbs, strict=True):
            np.testing.assert_allclose(*([k.length_mm for k in limb.links] for limb in (old, new)), atol=1e-3)
        walks = renewed(read)
        for motion in walks.motions:
            self.assertFalse(evaluate(walks, motion.name).stops, motion.name)
        self.assertIn("Turn left", {motion.name for motion in walks.motions})

    @in_turns
    def test_casters_and_wheels_come_back_and_carry_as_they_did(self):
        for shape in ("two_wheels", "four_casters"):
            project = start(shape, "Back", float(self.random.integers(90, 400)))
            read = read_urdf(write_urdf(project).data).project
            was, now = ([limb for limb in p.walker.limbs if limb.passive] for p in (project, read))
            with self.subTest(shape=shape, seed=self.seed):
                self.assertEqual([limb.name for limb in now], [limb.name for limb in was])
                for old, new in zip(was, now, strict=True):
                    np.testing.assert_allclose(new.mount.at_mm, old.mount.at_mm, atol=1e-3)
                    self.assertEqual(new.feet[0].contact, old.feet[0].contact)
                    self.assertEqual(new.feet[0].sole.kind, old.feet[0].sole.kind)
                ride = (p.motion("Stand").pose.ride_height_mm for p in (project, read))
                self.assertAlmostEqual(*ride, delta=0.01 * SHAPES[shape].usual_mm)
                self.assertIn("Forward", {motion.name for motion in fresh_set(read).motions})

    def test_balls_that_roll_come_back_at_a_leg_s_end_and_on_the_frame(self):
        for sole in ({"kind": "point"}, {"kind": "ball", "radius_mm": float(self.random.integers(3, 15))}):
            foot = {"sole": sole, "contact": {"kind": "rolls", "any_way": True}}
            feet = {f"walker/limbs/{n}/feet/0": foot for n in (2, 4, 5)}
            project = changed(start("four_casters", "Balls", float(self.random.integers(90, 300))), feet)
            read = read_urdf(write_urdf(project).data)
            self.assertEqual(read.unused, ())
            for was, now in zip(project.walker.limbs, read.project.walker.limbs, strict=True):
                with self.subTest(sole=sole["kind"], limb=was.name, seed=self.seed):
                    self.assertEqual((now.name, now.family), (was.name, was.family))
                    self.assertEqual(
                        [(f.sole.model_dump(), f.contact) for f in now.feet],
                        [(f.sole.model_dump(), f.contact) for f in was.feet],
                    )
                    lengths = [[link.length_mm for link in limb.links] for limb in (now, was)]
                    np.testing.assert_allclose(*lengths, atol=1e-3)

    def test_a_leg_on_a_ball_joint_is_no_caster(self):
        """Three axles that cross in a hip's ball, and a thigh beyond it."""
        hip = "<collision><geometry><sphere radius='0.02'/></geometry></collision>"
        thigh = "<collision><origin xyz='0 0 -0.1'/><geometry><sphere radius='0.01'/></geometry></collision>"
        axles = [("0 1 0", "0.08 ACROSS 0"), ("1 0 0", "0 0 0"), ("0 0 1", "0 0 0")]
        legs = "".join(self.limb(f"leg{n}", side * 0.06, axles, hip + thigh) for n, side in enumerate((1, -1))).replace(
            "revolute", "continuous"
        )
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}</robot>".encode()).project
        self.assertEqual([len(limb.joints) for limb in read.walker.limbs], [3, 3])
        self.assertFalse(any(limb.passive for limb in read.walker.limbs))

    def test_a_wheel_of_anybody_s_is_one_and_a_sensor_or_an_arm_is_none(self):
        turned = float(self.random.uniform(-0.6, 0.6))
        wheels = "".join(
            f"<link name='{name}'><inertial><mass value='0.05'/></inertial><collision><origin rpy='1.5708 0 0'/>"
            "<geometry><cylinder radius='0.05' length='0.02'/></geometry></collision></link>"
            f"<joint name='{name}_axle' type='continuous'><parent link='trunk'/><child link='{name}'/>"
            f"<origin xyz='-0.08 {0.08 * side} -0.06' rpy='0 0 {turned * side}'/><axis xyz='0 1 0'/>"
            "<limit effort='0.4' velocity='9'/></joint>"
            for name, side in (("left_wheel", 1), ("right_wheel", -1))
        )
        eye = (
            "<link name='imu'/><joint name='imu_mount' type='fixed'><parent link='trunk'/><child link='imu'/>"
            "<origin xyz='0 0 0.03'/></joint>"
        )
        links = [("1 0 0", "0.08 ACROSS 0"), ("0 -1 0", "0 0 0"), ("0 -1 0", "0 0 -0.08")]
        end = self.BALL.replace("0 0 -0.12", "0 0 -0.08")
        legs = "".join(self.limb(f"leg{n}", side * 0.06, links, end) for n, side in enumerate((1, -1)))
        arm = self.limb("arm", 0, [("0 1 0", "0.1 ACROSS 0.02")], self.HAND)
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}{arm}{wheels}{eye}</robot>".encode())
        passive = {limb.name: limb for limb in read.project.walker.limbs if limb.passive}
        self.assertEqual(set(passive), {"left_wheel_axle", "right_wheel_axle"})
        for limb, side in zip(passive.values(), (1, -1), strict=True):
            self.assertEqual(limb.feet[0].sole.model_dump()["radius_mm"], 50.0)
            contact = limb.feet[0].contact.model_dump()
            self.assertEqual((contact["kind"], contact["any_way"]), ("rolls", False))
            self.assertAlmostEqual(contact["heading_deg"], np.degrees(turned) * side, places=4)
        self.assertEqual(len([line for line in read.unused if "its motor" in line]), 2)
        self.assertAlmostEqual(evaluate(read.project, "Stand").figure("mass_g"), 600 + 6 * 50 + 50 + 2 * 50, places=3)
        low = evaluate(read.project, "Stand").reading.course.feet_ground_mm[-2:, 0, 2]
        np.testing.assert_allclose(low, 0.0, atol=1.0)

    def test_a_wheel_on_a_swivel_is_a_caster(self):
        turn, trail = float(self.random.uniform(-3, 3)), float(self.random.uniform(0.0, 0.02))
        casters = "".join(
            f"<link name='fork{n}'><inertial><mass value='0.02'/></inertial></link><joint name='swivel{n}'"
            f" type='continuous'><parent link='trunk'/><child link='fork{n}'/><origin xyz='-0.08 {across} -0.03'"
            f" rpy='0 0 {turn}'/><axis xyz='0 0 1'/></joint>"
            f"<link name='roller{n}'><inertial><mass value='0.03'/></inertial><collision><origin rpy='1.5708 0 0'/>"
            f"<geometry><cylinder radius='0.02' length='0.01'/></geometry></collision></link><joint name='roll{n}'"
            f" type='continuous'><parent link='fork{n}'/><child link='roller{n}'/><origin xyz='{-trail} 0 -0.11'/>"
            "<axis xyz='0 1 0'/></joint>"
            for n, across in enumerate((0.04, -0.04))
        )
        links = [("1 0 0", "0.08 ACROSS 0"), ("0 -1 0", "0 0 0"), ("0 -1 0", "0 0 -0.08")]
        end = self.BALL.replace("0 0 -0.12", "0 0 -0.08")
        legs = "".join(self.limb(f"leg{n}", side * 0.06, links, end) for n, side in enumerate((1, -1)))
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}{casters}</robot>".encode()).project
        passive = [limb for limb in read.walker.limbs if limb.passive]
        self.assertEqual([limb.name for limb in passive], ["swivel0", "swivel1"])
        for limb, across in zip(passive, (40.0, -40.0), strict=True):
            np.testing.assert_allclose(limb.mount.at_mm, [-80.0, across, -140.0], atol=1e-3)
            self.assertEqual((limb.feet[0].contact.any_way, limb.feet[0].sole.radius_mm), (True, 20.0))
        self.assertAlmostEqual(evaluate(read, "Stand").figure("mass_g"), 600 + 6 * 50 + 2 * 50, places=3)

    def limb(self, name, across, links, end):
        """A chain of links (axis, offset) and what its last link touches with."""
        last, text = "trunk", ""
        for n, (axis, offset) in enumerate(links):
            here = f"{name}_{n}"
            touch = end if n == len(links) - 1 else ""
            text += (
                f"<link name='{here}'><inertial><mass value='0.05'/>{self.ROUND}</inertial>{touch}</link>"
                f"<joint name='{here}_joint' type='revolute'><parent link='{last}'/><child link='{here}'/>"
                f"<origin xyz='{offset}'/><axis xyz='{axis}'/><limit lower='-1.5' upper='1.5' effort='2'"
                " velocity='6'/></joint>"
            ).replace("ACROSS", str(across))
            last = here
        return text

    ROUND = "<inertia ixx='1e-5' iyy='1e-5' izz='1e-5' ixy='0' ixz='0' iyz='0'/>"
    TRUNK = (
        f"<link name='trunk'><inertial><mass value='0.6'/>{ROUND}</inertial><collision><geometry>"
        "<box size='0.2 0.1 0.05'/></geometry></collision></link>"
    )
    BALL = "<collision><origin xyz='0 0 -0.12'/><geometry><sphere radius='0.01'/></geometry></collision>"
    HAND = "<collision><origin xyz='0 0 -0.06'/><geometry><sphere radius='0.02'/></geometry></collision>"
    SOLE = "<collision><origin xyz='0.01 0 -0.03'/><geometry><box size='0.1 0.05 0.01'/></geometry></collision>"

    def four_legs(self):
        links = [("1 0 0", "X ACROSS 0"), ("0 1 0", "0 0 0"), ("0 1 0", "0 0 -0.1")]
        return "".join(
            self.limb(f"leg{n}", side * 0.05, [(a, o.replace("X", str(ahead))) for a, o in links], self.BALL)
            for n, (ahead, side) in enumerate(((0.08, 1), (0.08, -1), (-0.08, 1), (-0.08, -1)))
        )

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
        columns = joint_table(plan.reading).columns
        self.assertEqual(columns[:3], ("_1_2", "hip_1", "hip_1_2"))
        defined = re.findall(r"#define (\w+) \d+$", write_table(plan, "c", anyway=True).decode(), re.M)
        self.assertEqual(len(defined), len({*defined}))

    def test_no_two_joints_have_one_name_in_files(self):
        other = {"called": "R1/femur", "reversed": False}
        with self.assertRaisesRegex(InputRefused, "another joint is called 'R1/femur' in files"):
            changed(hexapod(), {"walker/limbs/0/joints/1/in_files": other})

    def test_legs_that_lie_straight_out_stand_where_their_end_stops_let_them(self):
        """Straight to both sides at zero; with knees that bend by 86° they cannot stand as near as others do."""
        legs = ""
        for n, (ahead, side) in enumerate((a, s) for a in (0.09, 0.0, -0.09) for s in (1, -1)):
            links = [("0 0 1", f"{ahead} ACROSS 0"), ("1 0 0", f"0 {side * 0.03} 0"), ("1 0 0", f"0 {side * 0.06} 0")]
            end = self.BALL.replace("0 0 -0.12", f"0 {side * 0.09} 0")
            legs += self.limb(f"leg{n}", side * 0.06, links, end)
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}</robot>".encode()).project
        self.assertEqual(troubles(evaluate(read, "Stand")), ())

    def test_a_leg_that_ends_in_a_ball_stands_on_it_and_a_hand_is_no_foot(self):
        legs = self.four_legs()
        arm = self.limb("arm", 0, [("0 1 0", "0.1 ACROSS 0.02")], self.HAND)
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}{arm}</robot>".encode()).project
        self.assertEqual([limb.name for limb in read.walker.legs], ["leg0", "leg1", "leg2", "leg3"])
        self.assertEqual({limb.feet[0].sole.model_dump()["radius_mm"] for limb in read.walker.legs}, {10.0})
        self.assertEqual(read.walker.sections[0].size_mm, (200.0, 100.0, 50.0))
        stand = evaluate(read, "Stand")
        self.assertEqual(troubles(stand), ())
        np.testing.assert_allclose(stand.reading.course.feet_ground_mm[:4, :, 2], 0.0, atol=1e-6)

    def test_a_last_link_with_a_flat_box_is_a_sole(self):
        links = [("0 0 1", "0 ACROSS 0"), ("1 0 0", "0 0 0"), ("0 1 0", "0 0 0"), ("0 1 0", "0 0 -0.1"),
                 ("0 1 0", "0 0 -0.1"), ("1 0 0", "0 0 0")]  # fmt: skip
        legs = "".join(self.limb(f"leg{n}", side * 0.04, links, self.SOLE) for n, side in enumerate((1, -1)))
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}</robot>".encode()).project
        for limb in read.walker.legs:
            sole = {"kind": "rectangle", "length_mm": 100.0, "width_mm": 50.0, "ahead_mm": 0.0, "left_mm": 0.0}
            self.assertEqual(limb.feet[0].sole.model_dump(), sole)
        self.assertEqual(troubles(evaluate(read, "Stand")), ())
        walks = fresh_set(read)
        self.assertIn("Forward", [motion.name for motion in walks.motions])

    def test_a_sole_askew_is_read_as_a_point_and_said(self):
        askew = self.SOLE.replace("<origin ", "<origin rpy='0 0.4 0' ")
        links = [("1 0 0", "0 ACROSS 0"), ("0 1 0", "0 0 0"), ("0 1 0", "0 0 -0.1")]
        legs = "".join(self.limb(f"leg{n}", side * 0.04, links, askew) for n, side in enumerate((1, -1)))
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}</robot>".encode())
        self.assertEqual({limb.feet[0].sole.kind for limb in read.project.walker.legs}, {"point"})
        self.assertEqual(len([line for line in read.unused if "does not lie flat" in line]), 2)


if __name__ == "__main__":
    unittest.main()
