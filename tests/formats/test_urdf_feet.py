"""What the limbs of anybody's URDF stand on: soles, wheels, casters, frames."""

from __future__ import annotations

import unittest

import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.starting.fresh_set import fresh_set, renewed
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.formats.robot_files.urdf_in import read_urdf
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.formats.anybodys import Anybodys
from tests.long import in_turns
from tests.projects import changed, start, troubles
from tests.seeded import SeededTest


class FeetRead(Anybodys, SeededTest):
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

    @in_turns
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

    @in_turns
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

    def test_what_is_called_a_foot_stands_on_its_rod(self):
        """A disc as the square in it, a roller as a ball, a peg as a point; a rod as long as a link is a link."""
        links = [("1 0 0", "0 ACROSS 0"), ("0 1 0", "0 0 0"), ("0 1 0", "0 0 -0.1")]
        rod = "<collision><origin xyz='0 0 -0.1' rpy='{} 0 0'/><geometry><cylinder radius='{}' length='{}'/>"
        for turn, radius, length, kind, mm in (
            (0.0, 0.02, 0.004, "rectangle", np.sqrt(2) * 20), (np.pi / 2, 0.02, 0.03, "ball", 20.0),
            (0.0, 0.005, 0.03, "point", None),
        ):  # fmt: skip
            end = rod.format(turn, radius, length) + "</geometry></collision>"
            for called in ("foot", "shank"):
                legs = "".join(self.limb(f"{called}{n}", s * 0.05, links, end) for n, s in enumerate((1, -1)))
                file = f"<robot name='r'>{self.TRUNK}{legs}</robot>".encode()
                with self.subTest(kind=kind, called=called):
                    if called == "shank":
                        self.assertRaises(InputRefused, read_urdf, file)
                        continue
                    read = read_urdf(file)
                    sole = read.project.walker.legs[0].feet[0].sole.model_dump()
                    self.assertEqual(sole["kind"], kind)
                    size = sole.get("width_mm", sole.get("radius_mm"))
                    self.assertEqual(size, None if mm is None else round(mm, 6))
                    self.assertEqual(len([line for line in read.unused if "rod" in line or "round" in line]), 2)

    def test_a_curve_that_goes_on_ends_short_of_the_next_and_that_is_said(self):
        project = start("two_rocker", "Rocks", 180.0)
        in_one_place = changed(project, {f"walker/limbs/{n}/neutral_mm": [5.0, 0.0] for n in range(2)})
        for leg in read_urdf(write_urdf(in_one_place).data).project.walker.legs:
            self.assertGreater(leg.feet[0].sole.width_mm, 0.0)
        written = write_urdf(project)
        self.assertEqual(len([line for line in written.lost if "ends short of the next" in line]), 2)
        apart = project.walker.legs[0].neutral_mm[1] - project.walker.legs[1].neutral_mm[1]
        for leg in read_urdf(written.data).project.walker.legs:
            self.assertIsNone(leg.feet[0].sole.length_mm)
            self.assertLess(leg.feet[0].sole.width_mm, apart)

    def test_curved_soles_come_back_with_where_they_end(self):
        for ends in ({"length_mm": 60.0, "width_mm": 25.0}, {"width_mm": 40.0}):
            long = float(self.random.uniform(120, 300))
            feet = {f"walker/limbs/{n}/feet/0/sole/{key}": mm for n in range(2) for key, mm in ends.items()}
            project = changed(start("two_rocker", "Rocks", long), feet)
            back = read_urdf(write_urdf(project).data)
            with self.subTest(ends=ends, long=long, seed=self.seed):
                self.assertEqual(back.unused, ())
                for was, now in zip(project.walker.legs, back.project.walker.legs, strict=True):
                    self.assertEqual(now.family, was.family)
                    was, now = was.feet[0].sole.model_dump(), now.feet[0].sole.model_dump()
                    self.assertEqual({k for k, v in now.items() if v is None}, {k for k, v in was.items() if v is None})
                    for key in ("radius_fore_mm", "radius_side_mm", *ends):
                        self.assertAlmostEqual(now[key], was[key], delta=0.01)

    def test_a_sole_askew_is_read_as_a_point_and_said(self):
        askew = self.SOLE.replace("<origin ", "<origin rpy='0 0.4 0' ")
        links = [("1 0 0", "0 ACROSS 0"), ("0 1 0", "0 0 0"), ("0 1 0", "0 0 -0.1")]
        legs = "".join(self.limb(f"leg{n}", side * 0.04, links, askew) for n, side in enumerate((1, -1)))
        read = read_urdf(f"<robot name='r'>{self.TRUNK}{legs}</robot>".encode())
        self.assertEqual({limb.feet[0].sole.kind for limb in read.project.walker.legs}, {"point"})
        self.assertEqual(len([line for line in read.unused if "does not lie flat" in line]), 2)


if __name__ == "__main__":
    unittest.main()
