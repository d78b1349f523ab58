"""Twists, gaits, footprints: what must hold of every walk, whatever its numbers."""

from __future__ import annotations

import unittest
from itertools import pairwise

import numpy as np
from scipy.linalg import expm

from bustle.core.evaluate import evaluate
from bustle.core.geometry.planar_twist import displacement
from bustle.core.kinds.foot_paths import FOOT_PATHS
from bustle.core.kinds.gaits import GAITS, spots_of
from bustle.core.walk.motions import compile_motion
from bustle.core.walk.motions.free_walk import HOME_MM
from tests.projects import changed, demo, hexapod, quadruped
from tests.seeded import SeededTest


class Twists(SeededTest):
    def test_exact_against_the_matrix_exponential(self):
        for omega in (0.0, 1e-12, 1e-7, 1e-3, 0.7, -2.0, 6.0):
            vx, vy, t = self.random.uniform(-200, 200, 3) * (1, 1, 0.015)
            x, y, theta = displacement(vx, vy, omega, t)
            motion = expm(t * np.array([[0, -omega, vx], [omega, 0, vy], [0, 0, 0.0]]))
            np.testing.assert_allclose(
                [x, y, theta], [*motion[:2, 2], omega * t], atol=1e-9, err_msg=f"seed {self.seed}"
            )


class StanceFeet(SeededTest):
    """A foot stays where it was put until it is lifted."""

    def test_targets_and_solved_feet_are_fixed_on_the_ground(self):
        for project in (hexapod(), quadruped()):
            for omega in (0.0, 1e-6, 9.0, -14.0):
                vx, vy = self.random.uniform(-25, 25, 2)
                walk = changed(
                    project,
                    {
                        "motions/0/twist": {"vx_mm_s": float(vx), "vy_mm_s": float(vy), "omega_deg_s": omega},
                        "motions/0/pose/sway": [{"x_sin_mm": 6.0, "y_cos_mm": 5.0}],
                        "motions/0/pose/roll_deg": 3.0,
                    },
                )
                plan = evaluate(walk, "Forward", 240)
                course = plan.reading.course
                reached = course.solved.miss_mm < 1e-6
                for leg in range(len(project.walker.limbs)):
                    for stance in _runs(course.contact[leg, :240]):
                        with self.subTest(leg=leg, omega=omega, seed=self.seed):
                            wanted = course.target_ground_mm[leg, stance]
                            self.assertLess(np.ptp(wanted, axis=0).max(), 1e-9)
                            self.assertEqual(np.abs(wanted[:, 2]).max(), 0.0)
                            solved = course.feet_ground_mm[leg, stance][reached[leg, stance]]
                            self.assertGreater(len(solved), 0)
                            self.assertLess(np.ptp(solved, axis=0).max(), 1e-9)

    def test_neutral_at_mid_stance(self):
        project = hexapod()
        score = compile_motion(project, project.motion("Turn left"))
        for n, limb in enumerate(project.walker.limbs):
            leg = project.motions[1].legs[n]
            middle = np.array([(leg.phase + leg.duty / 2) * score.duration_s])
            target = score.feet_at(middle)[0][n, 0, :2]
            x, y, theta = (float(v[0]) for v in score.body(middle).travel)
            c, s = np.cos(-theta), np.sin(-theta)
            seen = [c * (target[0] - x) - s * (target[1] - y), s * (target[0] - x) + c * (target[1] - y)]
            np.testing.assert_allclose(seen, limb.neutral_mm, atol=1e-9)


class ACycle(unittest.TestCase):
    def test_closes_in_the_body_frame(self):
        """One cycle on, every joint is where it was, so the table can be played round and round; a walk by the rule
        ends, with each foot as near to neutral as it calls home."""
        for project in (demo("fennel"), demo("sorrel")):
            for motion in project.motions:
                score = compile_motion(project, motion)
                start, end = (score.feet_at(np.array([t]))[0] for t in (0.0, score.duration_s * (1 - 1e-12)))
                bodies = [score.body(np.array([t])) for t in (0.0, score.duration_s * (1 - 1e-12))]
                seen = [
                    np.einsum("sba,lsb->lsa", b.turn, feet - b.at) for b, feet in zip(bodies, (start, end), strict=True)
                ]
                near_mm = 1e-6 if score.periodic else HOME_MM
                np.testing.assert_allclose(seen[0], seen[1], rtol=0.0, atol=near_mm, err_msg=motion.name)

    def test_body_advances_by_the_twist(self):
        project = demo("fennel")
        motion = project.motion("Forward")
        score = compile_motion(project, motion)
        body = score.body(np.array([0.0, motion.cycle_s]))
        np.testing.assert_allclose(np.diff(body.at[:, :2], axis=0)[0], [88.0 * 1.2, 0.0], atol=1e-9)

    def test_stroke_is_speed_times_duty_times_cycle(self):
        plan = evaluate(demo("fennel"), "Forward")
        self.assertAlmostEqual(plan.figure("stroke_mm"), 88.0 * 0.56 * 1.2)
        self.assertAlmostEqual(plan.figure("stride_mm"), 88.0 * 1.2)

    def test_a_phase_within_a_billionth_of_an_event_is_the_event(self):
        project = changed(hexapod(), {"motions/0/legs/0/phase": 0.25, "motions/0/legs/0/duty": 0.5})
        score = compile_motion(project, project.motion("Forward"))
        at = score.duration_s * np.array([0.25 - 5e-10, 0.25 - 5e-9, 0.75 - 5e-10, 0.75 - 5e-9])
        self.assertEqual(score.contacts(at)[0].tolist(), [True, False, False, True])

    def test_planted_legs_never_lift(self):
        project = changed(hexapod(), {"motions/0/twist": {}})
        for n in range(6):
            project = changed(project, {f"motions/0/legs/{n}/duty": 1.0})
        plan = evaluate(project, "Forward")
        self.assertTrue(plan.reading.course.contact.all())
        self.assertEqual(np.ptp(plan.reading.angles, axis=0).max(), 0.0)


class Gaits(unittest.TestCase):
    """Contact patterns as the docstrings give them."""

    def contacts(self, gait, project):
        kind = GAITS[gait]
        legs = spots_of([limb.mount.at_mm[:2] for limb in project.walker.limbs])
        phases = kind.phases(legs)
        timing = [
            {"limb": limb.name, "phase": phase, "duty": kind.duty}
            for limb, phase in zip(project.walker.limbs, phases, strict=True)
        ]
        walk = changed(project, {"motions/0/legs": timing, "motions/0/gait": gait})
        score = compile_motion(walk, walk.motions[0])
        instants = (np.arange(600) + 0.5) / 600 * score.duration_s
        return [m.name for m in project.walker.limbs], score.contacts(instants)

    def test_how_many_feet_carry(self):
        for gait, project, fewest in (
            ("tripod", hexapod(), 3),
            ("ripple", hexapod(), 4),
            ("wave", hexapod(), 5),
            ("creep", quadruped(), 3),
            ("trot", quadruped(), 2),
        ):
            _, contact = self.contacts(gait, project)
            self.assertEqual(contact.sum(axis=0).min(), fewest, gait)

    def test_tripod_alternates_two_triangles(self):
        names, contact = self.contacts("tripod", hexapod())
        sets = {frozenset(n for n, c in zip(names, column, strict=True) if c) for column in contact.T}
        self.assertEqual(sets, {frozenset({"L1", "L3", "R2"}), frozenset({"R1", "R3", "L2"})})

    def test_trot_alternates_diagonals(self):
        names, contact = self.contacts("trot", quadruped())
        sets = {frozenset(n for n, c in zip(names, column, strict=True) if c) for column in contact.T}
        self.assertEqual(sets, {frozenset({"FL", "BR"}), frozenset({"FR", "BL"})})

    def test_creep_orders_are_the_six_that_begin_with_front_left(self):
        orders = set()
        for gait in (g for g in GAITS.values() if g.name.startswith("creep")):
            names, contact = self.contacts(gait.name, quadruped())
            lands = {n: int(np.argmax(~np.roll(c, 1) & c)) for n, c in zip(names, contact, strict=True)}
            order = tuple(sorted(names, key=lambda n: (lands[n] - lands["FL"]) % 600))
            self.assertEqual(order[0], "FL")
            orders.add(order)
        self.assertEqual(len(orders), 6)
        names, contact = self.contacts("creep", quadruped())
        lands = {n: int(np.argmax(~np.roll(c, 1) & c)) for n, c in zip(names, contact, strict=True)}
        self.assertEqual(sorted(names, key=lambda n: (lands[n] - lands["FL"]) % 600), ["FL", "BR", "FR", "BL"])


class FootPaths(unittest.TestCase):
    def test_each_path_joins_its_footprints_and_reaches_its_lift(self):
        u = np.linspace(0, 1, 2001)
        for path in FOOT_PATHS.values():
            along, height = path.along(u, path.points), path.height(u, path.points)
            np.testing.assert_allclose([along[0], along[-1], height[0], height[-1]], [0, 1, 0, 0], atol=1e-12)
            self.assertAlmostEqual(height.max(), 1.0, places=6)
            self.assertTrue((height >= -1e-12).all(), path.name)
            if path.name != "bezier":
                self.assertTrue((np.diff(along) >= -1e-12).all(), path.name)

    def test_stated_landing_speed_is_the_slope_at_the_end(self):
        for path in FOOT_PATHS.values():
            step = 1e-6
            for u, stated in ((0.0, path.start), (1.0, path.end)):
                near = np.array([u, abs(u - step)])
                slope = [np.diff(f(near, path.points))[0] / np.diff(near)[0] for f in (path.along, path.height)]
                np.testing.assert_allclose(slope, stated(path.points), atol=1e-4, err_msg=path.name)
                self.assertEqual(path.smooth, not any(path.end(path.points)) and not any(path.start(path.points)))

    def test_a_smooth_path_meets_the_ground_without_speed(self):
        plan = evaluate(changed(hexapod(), {"motions/0/foot_path": "cycloid"}), "Forward", 4000)
        feet = plan.reading.course.feet_ground_mm[:, :4000]
        speed = np.linalg.norm(np.diff(feet, axis=1), axis=-1) / plan.reading.row_s
        contact = plan.reading.course.contact[:, :4000]
        for leg in range(6):
            for stance in _runs(contact[leg]):
                if 1 < stance.start < 3998:
                    self.assertLess(speed[leg, stance.start - 2], 2.0)
        self.assertGreater(speed.max(), 100.0)


def _runs(flags):
    """Slices of consecutive True."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], flags, [False]]).astype(int)))
    return [slice(a, b) for a, b in pairwise(edges) if flags[a]]
