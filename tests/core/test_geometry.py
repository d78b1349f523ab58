"""The geometry that everything stands on, held against an independent way to the same answer."""

from __future__ import annotations

import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import linprog, minimize
from scipy.spatial.distance import pdist
from scipy.spatial.transform import Rotation

from bustle.core.geometry.arrays import cross, skew
from bustle.core.geometry.easing import eased, joining, quintic
from bustle.core.geometry.least_rubbing import ROUND, least_rubbing
from bustle.core.geometry.planar_twist import bring_back, carry, displacement, twist_of
from bustle.core.geometry.rates import body_rates, continued, rates
from bustle.core.geometry.resting_plane import above, resting_plane
from bustle.core.geometry.stacked_turns import left_over, products, put_at
from bustle.core.geometry.width import width
from tests.seeded import SeededTest


class AtRest(SeededTest):
    def test_it_stands_on_the_plane_that_a_linear_programme_finds(self):
        """Of all planes below every point the one that is highest under the weight."""
        for count in (3, 4, 6, 9, 15, 32):
            points = self.random.uniform(-150, 150, (count, 40, 3))
            usable = self.random.random((count, 40)) < 0.85
            over = self.random.uniform(-120, 120, (40, 2))
            # Flat on the floor, two at one place, three in a line.
            points[:, :6, 2] = -4.0
            points[1, 4:12] = points[0, 4:12]
            points[2, 10:16] = (points[0, 10:16] + points[1, 10:16]) / 2
            planes, stands = resting_plane(points, usable, over)
            for s in range(40):
                own = points[usable[:, s], s]
                with self.subTest(count=count, sample=s, seed=self.seed):
                    rows = np.column_stack([np.ones(len(own)), own[:, :2]])
                    best = linprog(-np.array([1.0, *over[s]]), rows, own[:, 2], bounds=[(None, None)] * 3)
                    self.assertEqual(stands[s], best.status == 0)
                    if not stands[s]:
                        self.assertEqual(planes[s].tolist(), [0.0, 0.0, 0.0])
                        continue
                    self.assertAlmostEqual(planes[s] @ [1.0, *over[s]], -best.fun, delta=1e-5)
                    height = above(planes[s : s + 1], own[:, None])[:, 0]
                    self.assertGreater(height.min(), -1e-6)
                    self.assertGreaterEqual(np.count_nonzero(height < 1e-6), 3)


class Rubbing(SeededTest):
    def drawn(self, feet, instants):
        slides, where = (self.random.normal(0, size, (feet, instants, 2)) for size in (0.5, 90.0))
        return slides, where, self.random.uniform(0.1, 1.0, (feet, instants))

    def test_no_other_way_rubs_less_away(self):
        slides, where, load = self.drawn(5, 30)
        load[:, ::3] *= self.random.random((5, 10)) < 0.7
        # On half of them something draws it along, as a slope does.
        drawn = self.random.uniform(-0.5, 0.5, (30, 2)) * (np.arange(30) % 2)[:, None]
        found = least_rubbing(slides, where, load, drawn)
        soft = ROUND * np.linalg.norm(slides * (load > 0)[..., None], axis=-1).max(axis=0)
        for k in range(30):
            far = np.stack([-where[:, k, 1], where[:, k, 0]], axis=-1) / 100.0

            def rubbed(step, k=k, far=far):
                way = slides[:, k] + step[:2] + step[2] * far
                return float((load[:, k] * (np.sqrt((way**2).sum(axis=-1) + soft[k] ** 2) - way @ drawn[k])).sum())

            best = minimize(rubbed, np.zeros(3), method="BFGS", options={"gtol": 1e-9})
            self.assertLessEqual(rubbed(found[k] * [1, 1, 100]), best.fun + 1e-6, f"seed {self.seed}")

    def test_it_scales_turns_and_leaves_what_need_not_slide(self):
        slides, where, load = self.drawn(4, 12)
        found = least_rubbing(slides, where, load)
        np.testing.assert_allclose(least_rubbing(3 * slides, where, 7 * load), 3 * found, atol=1e-3)
        angle = float(self.random.uniform(-3, 3))
        turn = Rotation.from_euler("z", angle).as_matrix()[:2, :2].T
        turned = least_rubbing(slides @ turn, where @ turn, load)
        np.testing.assert_allclose(turned[:, :2], found[:, :2] @ turn, atol=1e-3)
        np.testing.assert_allclose(turned[:, 2], found[:, 2], atol=1e-5)
        # All slide as one body goes: it goes that way, and nothing slides.
        own = self.random.normal(0, 1, 3) / [1, 1, 100]
        as_one = own[:2] + own[2] * np.stack([-where[..., 1], where[..., 0]], axis=-1)
        np.testing.assert_allclose(least_rubbing(as_one, where, load), np.tile(-own, (12, 1)), atol=1e-3)


class Twists(SeededTest):
    def test_a_constant_twist_goes_where_its_equation_leads(self):
        for _ in range(20):
            vx, vy, omega = self.random.uniform(-80, 80), self.random.uniform(-80, 80), self.random.uniform(-3, 3)

            def speed(_t, pose, vx=vx, vy=vy, omega=omega):
                c, s = np.cos(pose[2]), np.sin(pose[2])
                return [c * vx - s * vy, s * vx + c * vy, omega]

            found = solve_ivp(speed, (0.0, 2.0), [0.0, 0.0, 0.0], rtol=1e-10, atol=1e-9).y[:, -1]
            np.testing.assert_allclose(displacement(vx, vy, omega, 2.0), found, atol=1e-5, err_msg=f"seed {self.seed}")

    def test_two_ways_in_a_row_are_one_and_the_twist_comes_out_again(self):
        vx, vy, omega = self.random.uniform(-60, 60, (3, 50)) * [[1.0], [1.0], [0.05]]
        omega[:5] = [0.0, 1e-12, -1e-9, 1e-7, -1e-5]
        first, second = self.random.uniform(0.1, 0.5, (2, 50))
        there = displacement(vx, vy, omega, first)
        x, y, theta = displacement(vx, vy, omega, second)
        x, y = carry(there, x, y)
        whole = displacement(vx, vy, omega, first + second)
        np.testing.assert_allclose([x, y, there[2] + theta], whole, atol=1e-9)
        np.testing.assert_allclose(twist_of(*displacement(vx, vy, omega, 1.0)), [vx, vy, omega], atol=1e-7)

    def test_what_is_carried_is_brought_back(self):
        pose = tuple(self.random.uniform(-3, 3, (3, 30)))
        x, y = self.random.uniform(-200, 200, (2, 30))
        np.testing.assert_allclose(bring_back(pose, *carry(pose, x, y)), [x, y], atol=1e-10)

    def test_it_takes_one_of_each_or_many_or_none(self):
        """Of no instants there is nowhere that it has got to."""
        vx, vy, omega = (float(v) for v in self.random.uniform(-2, 2, 3))
        t = self.random.uniform(0, 3, 5)
        whole = displacement(vx, vy, omega, t)
        for n in range(5):
            each = displacement(np.full(3, vx), vy, omega, t[n])
            for one, all_of_them in zip(each, whole, strict=True):
                np.testing.assert_allclose(one, np.full(3, all_of_them[n]), atol=1e-12)
        for nowhere in (displacement(vx, vy, omega, np.empty(0)), displacement(np.empty(0), np.empty(0), 0.5, 1.0)):
            self.assertEqual([v.shape for v in nowhere], [(0,)] * 3)


class Easing(SeededTest):
    def test_it_starts_and_ends_without_speed_or_acceleration_and_never_turns_back(self):
        t = np.linspace(-0.5, 1.5, 4001)
        e = eased(t, 0.0, 1.0)
        self.assertTrue((np.diff(e) >= 0).all())
        self.assertEqual((e[0], e[-1]), (0.0, 1.0))
        slope = np.gradient(e, t)
        bend = np.gradient(slope, t)
        for edge in (0.0, 1.0):
            near = np.abs(t - edge) < 0.002
            self.assertLess(np.abs(slope[near]).max(), 1e-3)
            self.assertLess(np.abs(bend[near]).max(), 0.2)
        half = self.random.random(20)
        np.testing.assert_allclose(quintic(half) + quintic(1 - half), 1.0, atol=1e-12)

    def test_without_time_it_is_a_step(self):
        self.assertEqual(eased(np.array([0.9, 1.0, 1.1]), 1.0, 0.0).tolist(), [0.0, 1.0, 1.0])

    def test_a_joining_curve_meets_place_speed_and_acceleration_at_both_ends(self):
        for takes in (0.05, 0.4, 3.0):
            start, end = self.random.uniform(-50, 50, (2, 3, 4))
            curves = joining(start, end, takes)
            for k in range(4):
                one = np.polynomial.Polynomial(curves[:, k])
                for n, rate in enumerate((one, one.deriv(), one.deriv(2))):
                    with self.subTest(takes=takes, rate=n, seed=self.seed):
                        self.assertAlmostEqual(rate(0.0), start[n, k], delta=1e-6)
                        self.assertAlmostEqual(rate(takes), end[n, k], delta=1e-6)


class Rates(SeededTest):
    def test_of_a_parabola_they_are_exact_and_of_a_sine_four_times_as_near_at_half_the_step(self):
        a, b, c = self.random.uniform(-5, 5, 3)
        t = np.arange(-1, 21) * 0.05
        first, second = rates(a + b * t + c * t**2, 0.05)
        np.testing.assert_allclose(first, (b + 2 * c * t)[1:-1], atol=1e-9)
        np.testing.assert_allclose(second, 2 * c, atol=1e-7)
        off = []
        for step in (0.02, 0.01):
            t = np.arange(-1, 101) * step
            speed, pull = rates(np.sin(3 * t), step)
            off.append([np.abs(speed - 3 * np.cos(3 * t)[1:-1]).max(), np.abs(pull + 9 * np.sin(3 * t)[1:-1]).max()])
        np.testing.assert_allclose(np.divide(off[0], off[1]), 4.0, rtol=0.05)

    def test_turning_is_what_a_library_says_it_is(self):
        """A body that spins evenly about any axis, whatever way it is turned."""
        axis = self.random.normal(size=3)
        axis /= np.linalg.norm(axis)
        speed, step = self.random.uniform(0.2, 4.0), 0.01
        at = Rotation.from_rotvec(self.random.uniform(-1, 1, 3))
        turns = (at * Rotation.from_rotvec(np.arange(12)[:, None] * step * speed * axis)).as_matrix()
        _, _, omega, alpha = body_rates(np.zeros((12, 3)), turns, 0.0, 0.0, 0.0, False, step)
        np.testing.assert_allclose(omega, np.tile(at.apply(speed * axis), (12, 1)), atol=1e-9)
        np.testing.assert_allclose(alpha, 0.0, atol=1e-7)

    def test_turning_between_any_two_is_the_librarys(self):
        """From an instant to the next but one, by whatever angle below half a turn, however small."""
        vectors = self.random.normal(size=(200, 3))
        angles = np.concatenate([self.random.uniform(0, 3.1, 195), [0.0, 1e-13, 1e-8, 1e-4, 3.14]])
        vectors *= (angles / np.linalg.norm(vectors, axis=1))[:, None]
        at = Rotation.from_rotvec(self.random.uniform(-1, 1, 3))
        for vector in vectors:
            turns = Rotation.concatenate([at, at * Rotation.from_rotvec(vector / 2), at * Rotation.from_rotvec(vector)])
            _, _, omega, _ = body_rates(np.zeros((3, 3)), turns.as_matrix(), 0.0, 0.0, 0.0, False, 0.5)
            np.testing.assert_allclose(omega[1], at.apply(vector), atol=1e-7)

    def test_what_ends_goes_on_evenly(self):
        values = self.random.normal(size=(7, 2))
        first, second = rates(continued(values), 0.1)
        np.testing.assert_allclose(second[[0, -1]], 0.0, atol=1e-9)
        np.testing.assert_allclose(first[0], (values[1] - values[0]) / 0.1, atol=1e-9)


class StacksOfTurns(SeededTest):
    def test_what_turns_leave_over_is_the_librarys_at_any_angle(self):
        """From nothing to half a turn, which may be told either way round."""
        angles = np.concatenate([self.random.uniform(0, np.pi, 195), [0.0, 1e-12, 1e-7, np.pi - 1e-9, np.pi]])
        vectors = self.random.normal(size=(200, 3))
        vectors *= (angles / np.linalg.norm(vectors, axis=1))[:, None]
        at = Rotation.random(200, rng=self.random)
        aims = (Rotation.from_rotvec(vectors) * at).as_matrix()
        found = left_over(aims[None], at.as_matrix()[None])[0]
        np.testing.assert_allclose(np.linalg.norm(found, axis=1), angles, atol=1e-7)
        again = (Rotation.from_rotvec(found) * at).as_matrix()
        np.testing.assert_allclose(again, aims, atol=1e-7, err_msg=str(self.seed))

    def test_one_after_another_and_points_on_them(self):
        one, other = (Rotation.random(30, rng=self.random) for _ in range(2))
        np.testing.assert_allclose(products(one.as_matrix(), other.as_matrix()), (one * other).as_matrix(), atol=1e-12)
        points, at = self.random.normal(size=(4, 3)), self.random.normal(size=(30, 3))
        carried = put_at(points, at, one.as_matrix())
        for k, point in enumerate(points):
            np.testing.assert_allclose(carried[k], one.apply(point) + at, atol=1e-12)


class Arrays(SeededTest):
    def test_cross_and_skew_are_the_librarys(self):
        v, w = self.random.normal(size=(2, 5, 4, 3))
        np.testing.assert_allclose(cross(v, w), np.cross(v, w), atol=1e-12)
        np.testing.assert_allclose((skew(v) @ w[..., None])[..., 0], np.cross(v, w), atol=1e-12)
        np.testing.assert_allclose(cross(v, w[0, 0]), np.cross(v, w[0, 0]), atol=1e-12)

    def test_width_is_the_widest_pair(self):
        for count in (2, 3, 17, 200):
            points = self.random.normal(size=(count, 2)) * 40
            self.assertAlmostEqual(width(points), pdist(points).max(), places=9)
        self.assertEqual(width(np.empty((0, 2))), 0.0)
        self.assertEqual(width(np.full((5, 2), 3.0)), 0.0)
        # Of many, as near as makes no difference to what is drawn on a floor.
        ring = np.array([np.cos(np.linspace(0, 6.28, 5000)), np.sin(np.linspace(0, 6.28, 5000))]).T * 100
        self.assertAlmostEqual(width(ring), 200.0, delta=0.02)
