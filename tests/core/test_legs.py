"""Inverse kinematics of every family, through its own forward kinematics as a serial chain."""

from __future__ import annotations

import math
import re
import unittest

import numpy as np
from scipy.optimize import minimize
from scipy.spatial.transform import Rotation

from bustle.core.kinds.legs import FAMILIES
from bustle.core.kinds.legs.searched.damped_least_squares import solve_damped
from tests.legs import CLOSED, build, foot
from tests.long import in_turns
from tests.seeded import SeededTest

THREE = [f for f in CLOSED if f.name in ("sprawled_3", "upright_3")]


class RandomLegs(SeededTest):
    def legs(self, family, limbs=30, branch=0, keep=0):
        lengths = self.random.uniform(5.0, 200.0, (limbs, len(family.links)))
        if family.pose:
            # Hips and feet smaller than legs, as legs with soles are built.
            lengths[:, 1:3] += 60.0
            lengths[:, 0] /= 8
            lengths[:, 3:] /= 8
        a, b = family.knee_links
        if family.knee is not None:
            # Equal links let the leg fold onto itself.
            lengths[::4, b] = lengths[::4, a]
        if family.links[0].may_be_zero:
            # A hip without offset is the usual simple build.
            lengths[::5, 0] = 0.0
        hip = np.zeros((limbs, 3))
        if family.takes_hip_offset:
            hip[::2] = self.random.uniform(-40.0, 40.0, (len(hip[::2]), 3)) / (4 if family.pose else 1)
        mirrored = self.random.random(limbs) < 0.5
        yaw = self.random.uniform(-np.pi, np.pi, limbs)
        return build(family, lengths, hip, mirrored, branch, keep, yaw)

    def poses(self, family, limbs, samples, share=1.0):
        return self.random.uniform(-np.pi, np.pi, (limbs, samples, len(family.joints))) * share


class EveryFamily(RandomLegs):
    def test_forward_of_inverse_is_the_target_over_the_whole_workspace(self):
        """Targets are made by forward kinematics of any joint angles at all, so all of them can be reached."""
        for family in CLOSED:
            for branch in range(len(family.branches)):
                for keep in range(max(1, len(family.keeps))):
                    with self.subTest(family=family.name, branch=branch, keep=keep, seed=self.seed):
                        legs = self.legs(family, branch=branch, keep=keep)
                        target, aim = foot(legs, self.poses(family, 30, 300, self.share(family)))
                        solution = family.solve(legs, target, aim)
                        got, turned = foot(legs, solution.joints)
                        self.assertLess(np.abs(got - target).max(), self.tolerance(family))
                        if family.pose and family.name != "biped_4_yaw":  # which has no ankle to put it right
                            left_over = Rotation.from_matrix((aim @ np.swapaxes(turned, -1, -2)).reshape(-1, 3, 3))
                            self.assertLess(np.abs(left_over.as_rotvec()).max(), 1e-6)
                        self.assertLess(solution.short.max(), self.tolerance(family))

    @staticmethod
    def share(family):
        """How much of a full turn either way the drawn angles cover.

        A leg that hangs below its hip, a level foot, a stick that lifts: their closed forms look for the pose on this
        side, as a walker stands, not for the same place reached with the hip turned over.
        """
        wide = family.name in ("sprawled_3", "upright_3", "upright_2")
        return 1.0 if wide else 0.14 if family.pose else 0.24

    @staticmethod
    def tolerance(family):
        # acos and asin at the edge of a stick's surface, golden section for its nearest point.
        return 1e-9 if "_2" not in family.name or family.knee is not None else 2e-5

    @in_turns
    def test_residual_is_what_is_missing(self):
        for family in CLOSED:
            for keep in range(max(1, len(family.keeps))):
                with self.subTest(family=family.name, keep=keep, seed=self.seed):
                    legs = self.legs(family, keep=keep)
                    target = self.random.normal(0.0, 150.0, (30, 200, 3))
                    aim = Rotation.random(6000, rng=self.random).as_matrix().reshape(30, 200, 3, 3)
                    solution = family.solve(legs, target, aim)
                    self.assertTrue(np.isfinite(solution.joints).all())
                    got, turned = foot(legs, solution.joints)
                    np.testing.assert_allclose(target - got, solution.residual[..., :3], atol=1e-6)
                    if family.pose:
                        size = np.linalg.norm(solution.residual[..., 3:], axis=-1)
                        turn = Rotation.from_matrix((aim @ np.swapaxes(turned, -1, -2)).reshape(-1, 3, 3)).magnitude()
                        np.testing.assert_allclose(size.ravel(), turn, atol=1e-6)
                    self.assertTrue(
                        (solution.short <= np.linalg.norm(solution.residual[..., :3], axis=-1) + 1e-9).all()
                    )

    @in_turns
    def test_out_of_reach_gives_the_nearest_pose(self):
        """No pose that a search finds comes nearer, hip offsets and all."""
        for family in THREE:
            with self.subTest(family=family.name, seed=self.seed):
                legs = self.legs(family, 8)
                target = self.random.normal(0.0, 220.0, (8, 4, 3))
                solution = family.solve(legs, target, None)
                for leg in range(8):
                    one = legs.only([leg])
                    for k in range(4):
                        miss = np.linalg.norm(solution.residual[leg, k, :3])

                        def distance(q, one=one, goal=target[leg, k]):
                            return np.linalg.norm(foot(one, q[None, None])[0][0, 0] - goal)

                        for guess in (solution.joints[leg, k], self.random.uniform(-2, 2, 3)):
                            found = minimize(distance, guess, method="Nelder-Mead", options={"maxiter": 800})
                            self.assertGreaterEqual(found.fun, miss - 1e-6)

    def test_branches_bend_the_knee_opposite_ways(self):
        for family in (f for f in CLOSED if f.knee is not None):
            legs = [self.legs(family, branch=b) for b in (0, 1)]
            target, aim = foot(legs[0], self.poses(family, 30, 50, 0.3))
            for branch, one in enumerate(legs):
                joints = family.solve(one, target, aim).joints
                bend = joints[..., family.knee]
                if family.name.startswith("parallelogram"):
                    bend = bend - joints[..., family.knee - 1]
                    bend = bend - 2 * np.pi * np.round(bend / (2 * np.pi))
                    bend[np.abs(np.abs(bend) - np.pi) < 1e-6] = 0.0  # folded: either way
                self.assertTrue((bend <= 1e-9).all() if branch == 0 else (bend >= -1e-9).all(), family.name)

    def test_singular_targets_have_a_defined_answer(self):
        points = [[0, 0, 0], [0, 0, 50], [0, 0, -1e6], [30, 0, 0], [0, 30, 0], [1e-300, 0, 0]]
        target = np.array([points], dtype=float)
        aim = np.broadcast_to(np.eye(3), (1, len(points), 3, 3))
        for family in CLOSED:
            for sizes in ([30.0, 80.0, 80.0, 10.0], [1e-3, 80.0, 80.0, 0.0]):
                for branch in range(len(family.branches)):
                    legs = build(family, [sizes[: len(family.links)]], branch=branch)
                    solution = family.solve(legs, target, aim)
                    self.assertTrue(np.isfinite(solution.joints).all(), family.name)
                    got, _ = foot(legs, solution.joints)
                    np.testing.assert_allclose(target - got, solution.residual[..., :3], atol=1e-6)

    def test_angles_are_unwound(self):
        for family in CLOSED:
            legs = self.legs(family)
            target = self.random.normal(0, 150, (30, 60, 3))
            joints = family.solve(legs, target, None).joints
            self.assertLessEqual(np.abs(joints).max(), np.pi + 1e-12, family.name)

    def test_blocks_do_not_change_the_answer(self):
        """A long batch is solved block by block; each row must not know."""
        for family in THREE:
            legs = self.legs(family, 1)
            target = self.random.normal(0, 120, (1, 9001, 3))
            whole = family.solve(legs, target, None).joints
            for row in (0, 4095, 4096, 8191, 8192, 9000):
                alone = family.solve(legs, target[:, row : row + 1], None).joints
                np.testing.assert_allclose(whole[:, row], alone[:, 0], atol=1e-12)

    def test_targets_are_left_as_they_were(self):
        for family in CLOSED:
            for samples in (1, 2, 500):
                legs = self.legs(family, 3)
                target = self.random.normal(0, 120, (3, samples, 3))
                kept = target.copy()
                family.solve(legs, target, None)
                np.testing.assert_array_equal(target, kept)


class WhatIsKept(RandomLegs):
    def test_a_stick_meets_the_coordinates_it_keeps_and_reports_the_third(self):
        family = FAMILIES["sprawled_2"]
        directions = {"forward": [1, 0], "sideways": [0, 1]}
        for keep, spec in enumerate(family.keeps):
            legs = self.legs(family, keep=keep)
            pose = self.random.uniform(-0.5, 0.5, (30, 50, 2))
            target = foot(legs, pose)[0] + self.random.uniform(-4, 4, (30, 50, 3))
            solution = family.solve(legs, target, None)
            # Seen from the body, whose forward direction the mount has been turned from.
            missing = np.einsum("lab,lsb->lsa", legs.chain.mount_turn, solution.residual[..., :3])
            if spec.name in directions:
                along = missing[..., :2] @ np.array(directions[spec.name], dtype=float)
                in_reach = solution.short < 1e-9
                self.assertGreater(in_reach.mean(), 0.5)
                self.assertLess(np.abs(along[in_reach]).max(), 1e-9)
                self.assertLess(np.abs(missing[..., 2][in_reach]).max(), 1e-9)

    def test_a_flat_leg_reports_the_sideways_part(self):
        legs = build(FAMILIES["upright_2"], [[20.0, 80.0, 90.0]])
        target = np.array([[[10.0, 27.5, -140.0]]])
        solution = FAMILIES["upright_2"].solve(legs, target, None)
        np.testing.assert_allclose(solution.residual[0, 0], [0, 7.5, 0, 0, 0, 0], atol=1e-9)
        self.assertLess(solution.short[0, 0], 1e-9)

    def test_the_full_leg_meets_tilted_soles_and_its_shortenings_say_what_is_left_in_degrees(self):
        tilt = Rotation.from_euler("zyx", [20, -8, 6], degrees=True).as_matrix()[None, None]
        place = np.array([[[25.0, 30.0, -150.0]]])
        left = {}
        for family in (f for f in CLOSED if f.name.startswith("biped_")):
            lengths = [20.0, 90.0, 90.0, 25.0][: len(family.links)]
            solution = family.solve(build(family, [lengths]), place, tilt)
            left[family.name] = np.degrees(np.linalg.norm(solution.residual[0, 0, 3:]))
            if family.name not in ("biped_2", "biped_planar_3"):
                self.assertLess(np.linalg.norm(solution.residual[0, 0, :3]), 1e-9, family.name)
        self.assertLess(left["biped_6"], 1e-6)
        # Without yaw the sole lies as asked and only its heading is off.
        self.assertAlmostEqual(left["biped_5_no_yaw"], 20.0, delta=1.5)
        self.assertGreater(left["biped_4_roll"], left["biped_5_no_yaw"])
        self.assertGreater(left["biped_4_yaw"], left["biped_5_no_ankle_roll"])

    def test_a_parallelogram_keeps_its_foot_level_whatever_the_servos_do(self):
        family = FAMILIES["parallelogram_2"]
        legs = build(family, [[10.0, 90.0, 80.0, 20.0]])
        place, turn = foot(legs, self.random.uniform(-1.5, 1.5, (1, 200, 2)))
        np.testing.assert_allclose(turn, np.broadcast_to(np.eye(3), turn.shape), atol=1e-12)
        self.assertGreater(np.ptp(place[..., 0]), 50)


class FreeChain(RandomLegs):
    """Damped least squares against every closed form that places a foot, on the closed form's own chain."""

    def test_agrees_with_the_closed_forms(self):
        for family in CLOSED:
            if len(family.joints) < 3 or family.name in ("biped_planar_3",):
                continue
            with self.subTest(family=family.name, seed=self.seed):
                lengths = self.random.uniform(40.0, 120.0, (3, len(family.links)))
                posed = family.name == "biped_6"
                legs = build(family, lengths, keep=1 if posed else 0)
                middle = np.zeros(len(family.joints))
                if family.knee is not None:
                    middle[family.knee] = -0.9
                # A leg with a sole keeps below its hip: the closed form does not look for the hip turned over.
                most = 0.25 if family.pose else 0.5
                wander = most * np.sin(np.linspace(0, 2 * np.pi, 40))[:, None] * self.random.uniform(-1, 1, len(middle))
                target, aim = foot(legs, np.broadcast_to(middle + wander, (3, 40, len(middle))))
                solution = solve_damped(legs, target, aim)
                got, turned = foot(legs, solution.joints)
                self.assertLess(np.abs(got - target).max(), 1e-6)
                closed = family.solve(legs, target, aim)
                self.assertLess(np.abs(foot(legs, closed.joints)[0] - got).max(), 1e-6)
                if posed:
                    self.assertLess(np.abs(turned - aim).max(), 1e-6)

    @in_turns
    def test_legs_with_joints_to_spare_seldom_leap_from_one_way_to_stand_to_another(self):
        """Along a smooth path of the foot next to none, whatever else could bring it there."""
        leaps = 0
        for family in (f for f in CLOSED if len(f.joints) > 3 and f.name != "biped_6"):
            legs = build(family, self.random.uniform(40.0, 120.0, (10, len(family.links))))
            middle = np.zeros(len(family.joints))
            if family.knee is not None:
                middle[family.knee] = -0.9
            wander = 0.35 * np.sin(np.linspace(0, 2 * np.pi, 60))[:, None] * self.random.uniform(-1, 1, len(middle))
            target, _ = foot(legs, np.broadcast_to(middle + wander, (10, 60, len(middle))))
            solution = solve_damped(legs, target, None)
            self.assertLess(np.abs(foot(legs, solution.joints)[0] - target).max(), 1e-3)
            leaps += int((np.abs(np.diff(solution.joints, axis=1)).max(axis=(1, 2)) > 0.5).sum())
        self.assertLessEqual(leaps, 3, f"seed {self.seed}")

    @in_turns
    def test_stays_within_its_limits_and_reports_the_rest(self):
        family = FAMILIES["sprawled_3"]
        legs = build(family, [[30.0, 60.0, 90.0]])
        legs.low[:], legs.high[:] = -0.4, 0.4
        target = self.random.normal(0, 150, (1, 60, 3))
        solution = solve_damped(legs, target, None)
        self.assertTrue((np.abs(solution.joints) <= 0.4 + 1e-12).all())
        got, _ = foot(legs, solution.joints)
        np.testing.assert_allclose(target - got, solution.residual[..., :3], atol=1e-9)
        # As near as a search within the same limits gets.
        for k in range(0, 60, 12):

            def distance(q, goal=target[0, k]):
                return np.linalg.norm(foot(legs, np.clip(q, -0.4, 0.4)[None, None])[0][0, 0] - goal)

            best = min(
                minimize(distance, self.random.uniform(-0.4, 0.4, 3), method="Nelder-Mead").fun for _ in range(4)
            )
            # Far out of reach the valley is flat; a part in five hundred is near enough.
            self.assertLess(np.linalg.norm(solution.residual[0, k, :3]), best * 1.002 + 0.05, f"seed {self.seed}")

    def test_does_not_jump_along_a_smooth_path(self):
        family = FAMILIES["sprawled_3"]
        legs = build(family, [[30.0, 60.0, 90.0]])
        turn = np.linspace(0, 2 * np.pi, 120, endpoint=False)
        target = np.stack([110 + 10 * np.sin(turn), 40 * np.cos(turn), -60 + 15 * np.sin(turn)], axis=-1)[None]
        joints = solve_damped(legs, target, None).joints[0]
        self.assertLess(np.abs(np.diff(joints, axis=0)).max(), 0.2)


class Working(RandomLegs):
    """Every line can be worked out again by hand from the numbers it shows."""

    NAMES = {  # noqa: RUF012
        "sin": lambda d: math.sin(math.radians(d)),
        "cos": lambda d: math.cos(math.radians(d)),
        "asin": lambda v: math.degrees(math.asin(v)),
        "acos": lambda v: math.degrees(math.acos(v)),
        "atan2": lambda y, x: math.degrees(math.atan2(y, x)),
        "sqrt": math.sqrt,
    }

    def by_hand(self, numbers):
        text = numbers.replace("−", "-").replace("·", "*").replace("²", "**2").replace("√", "sqrt")
        self.assertRegex(text, r"^[-+*/()., 0-9a-z]*$")
        self.assertFalse(set(re.findall(r"[a-z]+", text)) - {"sin", "cos", "asin", "acos", "atan", "sqrt"}, text)
        return eval(text, {"__builtins__": {}}, self.NAMES)

    def test_each_line_gives_its_value_and_the_last_ones_are_the_joints(self):
        for family in CLOSED:
            for branch in range(len(family.branches)):
                for keep in range(max(1, len(family.keeps))):
                    lengths = self.random.uniform(40.0, 100.0, (1, len(family.links)))
                    hip = self.random.uniform(-12, 12, (1, 3)) if family.takes_hip_offset else None
                    legs = build(family, lengths, hip, branch=branch, keep=keep, yaw=[0.6])
                    sign = -1.0 if branch == 0 else 1.0
                    pose = self.random.uniform(-0.35, 0.35, len(family.joints))
                    if family.knee is not None:
                        pose[family.knee] = sign * self.random.uniform(0.6, 1.2)
                        if family.name.startswith("parallelogram"):
                            pose[family.knee] += pose[family.knee - 1]
                    target, aim = foot(legs, pose[None, None])
                    joints = family.solve(legs, target, aim).joints[0, 0]
                    steps, triangles = family.working(legs, target[0, 0], aim[0, 0], joints)
                    with self.subTest(family=family.name, branch=branch, keep=keep, seed=self.seed):
                        self.check(family, steps, joints)
                        for triangle in triangles:
                            self.check_triangle(triangle)

    def check(self, family, steps, joints):
        values = {}
        for step in steps:
            if step.numbers:
                value = self.by_hand(step.numbers)
                off = value - step.value
                if step.unit == "°":
                    off -= 360 * round(off / 360)
                self.assertAlmostEqual(off, 0, delta={"mm": 0.006, "°": 0.006, "": 1e-5}[step.unit], msg=step)
            values[step.symbol] = step.value
        for spec, angle in zip(family.joints, joints, strict=True):
            self.assertAlmostEqual(values[spec.name], math.degrees(angle), delta=0.25, msg=spec.name)

    def check_triangle(self, triangle):
        corners = np.array(triangle.corners)
        for k, label in enumerate(triangle.sides):
            if label:
                size = float(label.split()[-2].replace("−", "-"))
                self.assertAlmostEqual(abs(size), np.linalg.norm(corners[(k + 1) % 3] - corners[k]), delta=0.05)
        for k, label in enumerate(triangle.angles):
            if label:
                u, v = corners[(k + 1) % 3] - corners[k], corners[k - 1] - corners[k]
                angle = np.degrees(np.arccos(u @ v / np.linalg.norm(u) / np.linalg.norm(v)))
                shown = abs(float(label.split()[-1].rstrip("°").replace("−", "-")))
                self.assertAlmostEqual(shown, angle, delta=0.2)


class ZeroPose(unittest.TestCase):
    """What each family's figure draws."""

    def test_where_the_foot_is_at_zero(self):
        expected = {
            "sprawled_3": [180, 0, 0],
            "sprawled_2": [90, 0, 0],
            "upright_3": [0, 30, -150],
            "upright_2": [0, 30, -150],
            "parallelogram_2": [0, 30, -170],
            "parallelogram_4": [0, 30, -170],
            "biped_planar_3": [0, 30, -170],
            "biped_6": [0, 30, -170],
            "biped_4_yaw": [0, 30, -150],
            "biped_2": [0, 30, -150],
            "rocker_2": [0, 30, -60],
            "one_joint": [0, 30, -60],
        }
        for name, place in expected.items():
            family = FAMILIES[name]
            size = np.array([[30.0, 60.0, 90.0, 20.0][: len(family.links)]])
            for mirrored in (False, True):
                legs = build(family, size, mirrored=[mirrored])
                at, turn = foot(legs, np.zeros((1, 1, len(family.joints))))
                flip = -1 if mirrored else 1
                np.testing.assert_allclose(at[0, 0], np.array(place) * [1, flip, 1], atol=1e-9, err_msg=name)
                np.testing.assert_allclose(turn[0, 0], np.eye(3), atol=1e-12, err_msg=name)

    def test_positive_senses(self):
        """Every joint turned a little by itself moves the foot, or the toes, as its description says."""
        moves = {"left": [0, 1, 0], "forward": [1, 0, 0], "lifts": [0, 0, 1]}
        for family in CLOSED:
            legs = build(family, [[30.0, 60.0, 90.0, 20.0][: len(family.links)]])
            rest, _ = foot(legs, np.zeros((1, 1, len(family.joints))))
            for joint, spec in enumerate(family.joints):
                turned = np.zeros((1, 1, len(family.joints)))
                turned[0, 0, joint] = 0.01
                at, turn = foot(legs, turned)
                if "toes" in spec.positive:
                    # The toes lie along the sole's forward direction.
                    shift, way = turn[0, 0, :, 0] - [1, 0, 0], moves["left" if "left" in spec.positive else "lifts"]
                    self.assertGreater(shift @ np.array(way), 0.009, f"{family.name} {spec.name}")
                elif "edge of the sole" in spec.positive:
                    self.assertGreater((turn[0, 0, :, 1] - [0, 1, 0])[2], 0.009, f"{family.name} {spec.name}")
                else:
                    way = next(v for k, v in moves.items() if k in spec.positive)
                    self.assertGreater((at - rest)[0, 0] @ np.array(way), 0.1, f"{family.name} {spec.name}")
