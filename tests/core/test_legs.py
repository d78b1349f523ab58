"""Inverse kinematics of every family, through its own forward kinematics as a serial chain."""

from __future__ import annotations

import unittest

import numpy as np
from scipy.optimize import minimize

from bustle.core.chain import Chain, forward
from bustle.core.legs import FAMILIES
from tests.seeded import SeededTest


def chain_of(family, lengths, mirrored):
    limbs = len(lengths)
    return Chain(
        family.axes,
        family.offsets(lengths, mirrored),
        np.zeros((limbs, 3)),
        np.broadcast_to(np.eye(3), (limbs, 3, 3)),
    )


def foot(family, lengths, mirrored, joints):
    return forward(chain_of(family, lengths, mirrored), joints)[0][:, :, -1]


class EveryFamily(SeededTest):
    def random_legs(self, limbs=40):
        lengths = self.random.uniform(5.0, 200.0, (limbs, 3))
        # Equal links let the leg fold onto itself, a hip without offset is the usual simple build.
        lengths[::4, 2] = lengths[::4, 1]
        mirrored = self.random.random(limbs) < 0.5
        return lengths, mirrored

    def test_forward_of_inverse_is_the_target_over_the_whole_workspace(self):
        """Targets are made by forward kinematics of any joint angles at all, so all of them can be reached."""
        for family in FAMILIES.values():
            for branch in range(len(family.branches)):
                with self.subTest(family=family.name, branch=family.branches[branch], seed=self.seed):
                    lengths, mirrored = self.random_legs()
                    if family.links[0].may_be_zero:
                        lengths[::5, 0] = 0.0
                    angles = self.random.uniform(-np.pi, np.pi, (len(lengths), 500, 3))
                    target = foot(family, lengths, mirrored, angles)
                    solution = family.solve(lengths, mirrored, np.full(len(lengths), branch), target)
                    got = foot(family, lengths, mirrored, solution.joints)
                    self.assertLess(np.abs(got - target).max(), 1e-9)
                    self.assertTrue(solution.reached.all())
                    self.assertLess(np.abs(solution.residual).max(), 1e-9)

    def test_branches_bend_the_knee_opposite_ways(self):
        for family in FAMILIES.values():
            lengths, mirrored = self.random_legs()
            target = foot(family, lengths, mirrored, self.random.uniform(-1.0, 1.0, (len(lengths), 50, 3)))
            first, second = (
                family.solve(lengths, mirrored, np.full(len(lengths), b), target).joints[..., family.knee]
                for b in (0, 1)
            )
            self.assertTrue((first <= 0).all() and (second >= 0).all(), f"{family.name} seed {self.seed}")

    def test_out_of_reach_gives_the_nearest_pose_with_its_residual(self):
        for family in FAMILIES.values():
            with self.subTest(family=family.name, seed=self.seed):
                lengths, mirrored = self.random_legs(30)
                target = self.random.normal(0.0, 220.0, (30, 300, 3))
                solution = family.solve(lengths, mirrored, np.zeros(30, int), target)
                self.assertTrue(np.isfinite(solution.joints).all())
                got = foot(family, lengths, mirrored, solution.joints)
                np.testing.assert_allclose(target - got, solution.residual[..., :3], atol=1e-9)
                self.assertTrue((~solution.reached).any())
                # No pose found by trying many at random comes nearer.
                trial = self.random.uniform(-np.pi, np.pi, (30, 4000, 3))
                cloud = foot(family, lengths, mirrored, trial)
                for leg in range(30):
                    best = np.linalg.norm(cloud[leg][None] - target[leg][:, None], axis=-1).min(axis=1)
                    miss = np.linalg.norm(solution.residual[leg, :, :3], axis=-1)
                    self.assertTrue((miss <= best + 1e-9).all())

    def test_nearest_pose_agrees_with_a_numerical_search(self):
        """An independent optimiser, started from the closed form's answer and from elsewhere, finds nothing nearer."""
        for family in FAMILIES.values():
            with self.subTest(family=family.name, seed=self.seed):
                lengths, mirrored = self.random_legs(6)
                target = self.random.normal(0.0, 250.0, (6, 4, 3))
                solution = family.solve(lengths, mirrored, np.zeros(6, int), target)
                for leg in range(6):
                    one = lengths[leg : leg + 1], mirrored[leg : leg + 1]
                    for k in range(4):
                        miss = np.linalg.norm(solution.residual[leg, k, :3])

                        def distance(q, family=family, one=one, goal=target[leg, k]):
                            return np.linalg.norm(foot(family, *one, q[None, None])[0, 0] - goal)

                        for guess in (solution.joints[leg, k], self.random.uniform(-2, 2, 3)):
                            found = minimize(distance, guess, method="Nelder-Mead", options={"maxiter": 800})
                            self.assertGreaterEqual(found.fun, miss - 1e-6)

    def test_singular_targets_have_a_defined_answer(self):
        for family in FAMILIES.values():
            for lengths in ([[30.0, 60.0, 100.0]], [[30.0, 80.0, 80.0]], [[1e-3, 80.0, 80.0]]):
                size = np.array(lengths)
                points = [
                    [0, 0, 0],
                    [0, 0, 50],
                    [0, 0, -1e6],
                    [lengths[0][0], 0, 0],
                    [0, lengths[0][0], 0],
                    [1e-300, 0, 0],
                ]
                target = np.array([points], dtype=float)
                for branch in (0, 1):
                    solution = family.solve(size, np.array([False]), np.array([branch]), target)
                    self.assertTrue(np.isfinite(solution.joints).all(), family.name)
                    got = foot(family, size, np.array([False]), solution.joints)
                    np.testing.assert_allclose(target - got, solution.residual[..., :3], atol=1e-6)

    def test_angles_are_unwound(self):
        for family in FAMILIES.values():
            lengths, mirrored = self.random_legs()
            target = self.random.normal(0, 150, (len(lengths), 400, 3))
            joints = family.solve(lengths, mirrored, np.zeros(len(lengths), int), target).joints
            self.assertLessEqual(np.abs(joints).max(), np.pi + 1e-12)

    def test_blocks_do_not_change_the_answer(self):
        """A long batch is solved block by block; each row must not know."""
        for family in FAMILIES.values():
            lengths, mirrored = self.random_legs(1)
            target = self.random.normal(0, 120, (1, 9001, 3))
            whole = family.solve(lengths, mirrored, np.zeros(1, int), target).joints
            for row in (0, 4095, 4096, 8191, 8192, 9000):
                alone = family.solve(lengths, mirrored, np.zeros(1, int), target[:, row : row + 1]).joints
                np.testing.assert_allclose(whole[:, row], alone[:, 0], atol=1e-12)

    def test_targets_are_left_as_they_were(self):
        for family in FAMILIES.values():
            for samples in (1, 2, 5000):
                lengths, mirrored = self.random_legs(3)
                target = self.random.normal(0, 120, (3, samples, 3))
                kept = target.copy()
                family.solve(lengths, mirrored, np.zeros(3, int), target)
                np.testing.assert_array_equal(target, kept)


class ZeroPose(unittest.TestCase):
    """What each family's docstring draws."""

    def test_sprawled_reaches_straight_out(self):
        family = FAMILIES["sprawled_3"]
        at = foot(family, np.array([[30.0, 60.0, 90.0]]), np.array([False]), np.zeros((1, 1, 3)))
        np.testing.assert_allclose(at[0, 0], [180, 0, 0])

    def test_upright_hangs_beside_its_mount(self):
        family = FAMILIES["upright_3"]
        size = np.array([[30.0, 60.0, 90.0]])
        at = [foot(family, size, np.array([side]), np.zeros((1, 1, 3)))[0, 0] for side in (False, True)]
        np.testing.assert_allclose(at, [[0, 30, -150], [0, -30, -150]])

    def test_positive_senses(self):
        """Every joint turned a little by itself moves the foot as its description says."""
        expected = {
            "sprawled_3": ([0, 1, 0], [0, 0, 1], [0, 0, 1]),
            "upright_3": ([0, 1, 0], [1, 0, 0], [1, 0, 0]),
        }
        for name, directions in expected.items():
            family = FAMILIES[name]
            size, side = np.array([[30.0, 60.0, 90.0]]), np.array([False])
            rest = foot(family, size, side, np.zeros((1, 1, 3)))[0, 0]
            for joint, direction in enumerate(directions):
                turned = np.zeros((1, 1, 3))
                turned[0, 0, joint] = 0.01
                shift = foot(family, size, side, turned)[0, 0] - rest
                self.assertGreater(shift @ np.array(direction), 0.5, f"{name} {family.joints[joint].name}")
