"""Soles against points sprinkled over them, and what a foot's contact does to the walk."""

from __future__ import annotations

import numpy as np
from scipy.spatial.transform import Rotation

from bustle.core.document.checked import parse_project
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.feet.foot_slip import planted, wander
from bustle.core.judge.measures.feet.sole_lie import sole_lie
from bustle.core.machine import soles as sole
from bustle.core.project.project import document
from bustle.core.project.walker import Foot
from bustle.core.search.remedies import remedies
from bustle.core.walk.standing_polygon import standing
from tests.long import in_turns
from tests.projects import changed, hexapod, quadruped, stands, start
from tests.seeded import SeededTest


class Touching(SeededTest):
    def turned(self, count=40, most=35.0):
        angles = np.radians(self.random.uniform(-most, most, (count, 3)))
        return Rotation.from_euler("zyx", angles).as_matrix()

    def foot(self, **kind):
        return Foot.model_validate({"sole": kind})

    def test_a_round_sole_touches_with_its_lowest_point(self):
        """Points all over a sphere of the sole's radius whose lowest point at rest is the end of the leg."""
        radius = 70.0
        foot = self.foot(kind="curved", radius_fore_mm=radius, radius_side_mm=radius)
        end, turn = self.random.normal(0, 30, (40, 3)), self.turned()
        touch = sole.touching(foot, end, turn)
        sprinkled = self.random.normal(size=(20_000, 3))
        sprinkled = radius * sprinkled / np.linalg.norm(sprinkled, axis=1, keepdims=True) + [0, 0, radius]
        for k in range(40):
            lowest = (end[k] + sprinkled @ turn[k].T)[:, 2].min()
            self.assertAlmostEqual(touch[k, 2], lowest, delta=0.2, msg=f"seed {self.seed}")
            self.assertLessEqual(touch[k, 2], lowest + 1e-9)

    def test_a_sole_of_two_radii_rolls_like_a_wheel_in_each_direction(self):
        foot = self.foot(kind="curved", radius_fore_mm=90.0, radius_side_mm=40.0)
        for axis, along, radius in (("y", 0, 90.0), ("x", 1, 40.0)):
            for angle in np.radians([-20.0, -5.0, 8.0, 25.0]):
                turn = Rotation.from_euler(axis, angle).as_matrix()[None]
                touch = sole.touching(foot, np.zeros((1, 3)), turn)[0]
                middle = turn[0] @ [0.0, 0.0, radius]
                np.testing.assert_allclose(touch, middle - [0.0, 0.0, radius], atol=1e-9)
                # Rolled without slipping by radius × angle, less the way back of the arc's own turn.
                self.assertAlmostEqual(abs(touch[along]), radius * np.sin(abs(angle)), places=9)

    def test_where_its_curve_ends_a_sole_stands_on_that_edge(self):
        """Leaned further than its curve goes, it turns about its end, as the end of an arc cut out of a circle does."""
        long, wide, fore, side = 60.0, 30.0, 90.0, 40.0
        foot = self.foot(kind="curved", radius_fore_mm=fore, radius_side_mm=side, length_mm=long, width_mm=wide)
        whole = self.foot(kind="curved", radius_fore_mm=fore, radius_side_mm=side)
        for axis, half, radius in (("y", long / 2, fore), ("x", wide / 2, side)):
            ends = np.arcsin(half / radius)
            for angle in (0.5 * ends, ends + 0.05, ends + 0.3):
                turn = Rotation.from_euler(axis, angle).as_matrix()[None]
                touch = sole.touching(foot, np.zeros((1, 3)), turn)[0]
                if angle < ends:
                    np.testing.assert_allclose(touch, sole.touching(whole, np.zeros((1, 3)), turn)[0], atol=1e-9)
                    continue
                rim = np.array([0.0, 0.0, radius - np.sqrt(radius**2 - half**2)])
                rim[0 if axis == "y" else 1] = half if axis == "y" else -half
                np.testing.assert_allclose(touch, turn[0] @ rim, atol=1e-9)

    @in_turns
    def test_fore_and_aft_curved_soles_stand_where_their_radius_is_more_than_the_mass_is_high(self):
        project = start("two_rocker", "Rolls", float(self.random.uniform(80, 400)))
        high = float(evaluate(project, "Stand").reading.course.com_ground_mm[0, 2])
        for times, stops in ((1.2, False), (0.9, True)):
            radii = {f"walker/limbs/{n}/feet/0/sole/radius_fore_mm": times * high for n in (0, 1)}
            plan = evaluate(changed(project, radii), "Stand")
            found = [f for f in plan.findings if f.title == "Rolls off its soles"]
            self.assertEqual(bool(found), stops)
            for finding in found:
                (mended,) = remedies(changed(project, radii), "Stand", finding)[:1]
                better = evaluate(patched(changed(project, radii), mended.patch), "Stand")
                self.assertFalse([f for f in better.findings if f.code == "F53"])

    def test_corners_are_those_of_the_turned_rectangle_and_the_lowest_carry(self):
        foot = self.foot(kind="rectangle", length_mm=80.0, width_mm=40.0, ahead_mm=10.0, left_mm=-5.0)
        end, turn = self.random.normal(0, 30, (40, 3)), self.turned()
        found = sole.corners(foot, end, turn)
        self.assertEqual(found.shape, (4, 40, 3))
        for k, (x, y) in enumerate([(50, 15), (-30, 15), (-30, -25), (50, -25)]):
            np.testing.assert_allclose(found[k], end + turn @ np.array([x, y, 0.0]), atol=1e-9)
        carrying = sole.down(found, np.ones(40, dtype=bool))
        self.assertTrue(carrying[found[..., 2].argmin(axis=0), np.arange(40)].all())
        self.assertLess(carrying.sum(), 4 * 40)
        level = sole.down(sole.corners(foot, end, np.broadcast_to(np.eye(3), (40, 3, 3))), np.ones(40, dtype=bool))
        self.assertTrue(level.all())
        self.assertFalse(sole.down(found, np.zeros(40, dtype=bool)).any())

    def test_an_edge_lies_along_its_heading(self):
        foot = self.foot(kind="edge", length_mm=60.0, heading_deg=90.0)
        found = sole.corners(foot, np.zeros((1, 3)), np.eye(3)[None])
        np.testing.assert_allclose(found[:, 0], [[0, 30, 0], [0, -30, 0]], atol=1e-9)


class Rolling(SeededTest):
    """Curved soles roll: the body goes on by more than the leg swings, and nothing skids."""

    def rocker(self, radius, advance, leg=162.0):
        """Two straight legs in step, swinging in stance as far as such an advance asks."""
        values = document(stands("two_rocker", "Rocker", 180.0))
        for limb in values["walker"]["limbs"]:
            limb["feet"][0]["sole"] = {"kind": "curved", "radius_fore_mm": radius, "radius_side_mm": radius}
        for part in values["walker"]["limbs"]:
            part["links"][1]["length_mm"] = leg
            part["mount"]["at_mm"][2] = 0.0
        walk = values["motions"][0]
        walk["pose"]["ride_height_mm"] = leg
        walk["cycle_s"], walk["lift_mm"] = 1.0, 0.0
        walk["legs"] = [{"limb": name, "phase": phase, "duty": 0.5} for name, phase in (("L", 0.0), ("R", 0.5))]
        walk["twist"] = {"vx_mm_s": advance / 0.5}
        walk["balance"] = "dynamic"
        return evaluate(parse_project(values), walk["name"]).reading

    def test_the_swing_hardly_depends_on_the_radius(self):
        for radius in (20.0, 100.0, 162.0, 200.0):
            e = self.rocker(radius, 16.0)
            swing = e.angles[:, e.kit.column_of["L/swing"]][e.of(planted)[0]]
            theta = float(np.abs(swing).max())
            with self.subTest(radius=radius):
                self.assertAlmostEqual(np.degrees(theta), 2.83, delta=0.15)
                went = 2 * (radius * theta + (162.0 - radius) * np.sin(theta))
                self.assertAlmostEqual(went, 16.0, delta=0.7)
                # Legs of one length bob: what is left sideways is their lift joint's, which holds the height.
                off = e.of(wander)[0][e.of(planted)[0]]
                self.assertLess(np.ptp(off[:, 0]), 0.05)

    def test_the_contact_runs_along_by_radius_times_swing(self):
        e = self.rocker(100.0, 16.0)
        down = e.of(planted)[0]
        theta = e.angles[down, e.kit.column_of["L/swing"]]
        x = e.course.feet_ground_mm[0, : e.samples, 0][down]
        self.assertAlmostEqual(np.ptp(x), 100.0 * np.ptp(theta), delta=0.1)

    def test_a_wheel_rolled_by_any_way_is_put_where_it_was(self):
        """However a ball-shaped sole is turned about a level axis and rolled as far, its print stays."""
        foot = Foot.model_validate({"sole": {"kind": "curved", "radius_fore_mm": 70.0, "radius_side_mm": 70.0}})
        for _ in range(20):
            way, angle = self.random.uniform(0, 2 * np.pi), self.random.uniform(-0.6, 0.6)
            axis = np.array([-np.sin(way), np.cos(way), 0.0])
            turn = Rotation.from_rotvec(axis * angle).as_matrix()
            middle = np.array([np.cos(way), np.sin(way), 0.0]) * 70.0 * angle + [0.0, 0.0, 70.0]
            end = middle - turn @ [0.0, 0.0, 70.0]
            put = sole.print_of(foot, end[None], turn[None])[0]
            np.testing.assert_allclose(put, 0.0, atol=1e-9, err_msg=f"seed {self.seed}")


class Walking(SeededTest):
    def test_a_sprawled_legs_pad_lies_flat_and_turns_with_its_heading(self):
        values = document(hexapod())
        for limb in values["walker"]["limbs"]:
            limb["feet"][0]["sole"] = {"kind": "rectangle", "length_mm": 20.0, "width_mm": 10.0}
            limb["toe_deg"] = 30.0
        e = evaluate(parse_project(values), "Stand").reading
        # Six pads of four corners, all down, each turned by its toes.
        self.assertEqual(e.course.stand.shape, (24, len(e.course.time_s)))
        self.assertTrue(e.course.stand.all())
        corner = e.course.stand_mm[0, 0] - np.array(e.project.walker.limbs[0].neutral_mm)
        c, s = np.cos(np.radians(30)), np.sin(np.radians(30))
        np.testing.assert_allclose(corner, [c * 10 - s * 5, s * 10 + c * 5], atol=1e-6)

    def test_wider_soles_never_take_margin_away(self):
        base = evaluate(hexapod(), "Forward").reading.of(standing).margin_mm
        values = document(hexapod())
        for limb in values["walker"]["limbs"]:
            limb["feet"][0]["sole"] = {"kind": "rectangle", "length_mm": 24.0, "width_mm": 24.0}
        wide = evaluate(parse_project(values), "Forward").reading.of(standing).margin_mm
        self.assertTrue((wide >= base - 1e-9).all())
        self.assertGreater(wide.min(), base.min() + 5)

    def test_wheels_may_stay_down_while_the_body_moves(self):
        """A leg that never lifts is refused on a planted foot and carried along on a rolling one."""
        moving = {"motions/0/legs/0/duty": 1.0}
        with self.assertRaisesRegex(ValueError, "never lifts"):
            changed(quadruped(), moving)
        rolling = changed(quadruped(), {"walker/limbs/0/feet/0/contact": {"kind": "rolls"}})
        e = evaluate(changed(rolling, moving), "Forward").reading
        self.assertTrue(e.course.contact[0].all())
        speed = e.motion.twist.vx_mm_s
        feet = e.course.feet_ground_mm[0, : e.samples]
        np.testing.assert_allclose(feet[:, 0] - feet[0, 0], speed * e.course.time_s[: e.samples], atol=1e-6)
        self.assertLess(np.abs(feet[:, 2]).max(), 1e-9)

    def test_toes_turn_soles_that_can_be_turned(self):

        values = document(start("two_full", "Toes", 240.0))
        for limb, toe in zip(values["walker"]["limbs"], (12.0, -12.0), strict=True):
            limb["toe_deg"] = toe
        e = evaluate(parse_project(values), "Stand").reading
        yaws = np.degrees([e.angles[0, e.kit.column_of[f"{n}/yaw"]] for n in ("L", "R")])
        np.testing.assert_allclose(yaws, [12.0, -12.0], atol=1e-6)
        self.assertLess(np.abs(e.of(sole_lie).turned).max(), 1e-9)
        short = document(start("two_planar", "Toes", 240.0))
        short["walker"]["limbs"][0]["toe_deg"] = 12.0
        plan = evaluate(parse_project(short), "Stand")
        self.assertAlmostEqual(plan.figure("sole_turn_deg"), 12.0, places=6)


class OnItsOwnSide(SeededTest):
    def test_a_leg_asked_a_little_aside_of_where_it_hangs_does_not_hang_to_the_other_side(self):
        """Lift and swing choose no stance: feet stand where the legs put them, wherever near it they are asked for."""
        project = start("two_rocker", "Aside", 190.0)
        for aside in self.random.uniform(-6.0, 6.0, 4):
            y = project.walker.limbs[0].neutral_mm[1] + float(aside)
            asked = changed(project, {"walker/limbs/0/neutral_mm": [0.0, y], "walker/limbs/1/neutral_mm": [0.0, -y]})
            r = evaluate(asked, "Stand").reading
            with self.subTest(aside=aside, seed=self.seed):
                left, right = (float(points[0, -1, 1]) for points in r.course.solved.points)
                self.assertGreater(left, project.walker.limbs[0].mount.at_mm[1])
                self.assertLess(right, project.walker.limbs[1].mount.at_mm[1])
                self.assertLess(np.degrees(np.abs(r.angles)).max(), 6.0)
