"""The way of a walk that changes its pace and its twist, against matrix exponentials and the sums they come to."""

from __future__ import annotations

import numpy as np
from scipy.integrate import quad
from scipy.linalg import expm

from bustle.core.project.motion import Twist
from bustle.core.walk.motions.pace import Journey, Pace, Stretch
from tests.projects import hexapod
from tests.seeded import SeededTest


def smooth(x):
    x = min(max(x, 0.0), 1.0)
    return 3 * x**2 - 2 * x**3


class Ways(SeededTest):
    def random_way(self, count, steady_ends=False):
        """Stretches whose borders are random, each change as long as fits between its neighbours."""
        gait = hexapod().motions[0]
        borders = np.cumsum(self.random.uniform(2.0, 4.0, count + 1))
        overs = self.random.uniform(0.3, 1.9, count + 1)
        stretches = []
        for n in range(count):
            vx, vy, omega = self.random.uniform((-60, -40, -40), (60, 40, 40))
            twist = Twist(vx_mm_s=vx, vy_mm_s=vy, omega_deg_s=omega)
            first, last = steady_ends and n == 0, steady_ends and n == count - 1
            pace = Pace(
                None if first else float(borders[n]), None if last else float(borders[n + 1]),
                float(overs[n]), float(overs[n + 1]),
            )  # fmt: skip
            stretches.append(Stretch(gait.model_copy(update={"twist": twist}), pace))
        return Journey(tuple(stretches))

    def sigma(self, pace, t):
        """∫ of the pace's share of full, from 0 to t, by quadrature."""

        def rate(at):
            gathered = 1.0 if pace.gather_s is None else smooth((at - pace.gather_s) / pace.gather_over_s)
            lost = 0.0 if pace.lose_s is None else smooth((at - pace.lose_s) / pace.lose_over_s)
            return gathered - lost

        ends = [pace.gather_s, pace.lose_s]
        overs = [pace.gather_over_s, pace.lose_over_s]
        knots = [v for e, o in zip(ends, overs, strict=True) if e is not None for v in (e, e + o)]
        return quad(rate, 0.0, t, points=[k for k in knots if 0 < k < t] or None, limit=200)[0]

    def matrix(self, gait, sigma):
        omega = np.radians(gait.twist.omega_deg_s)
        return expm(sigma * np.array([[0, -omega, gait.twist.vx_mm_s], [omega, 0, gait.twist.vy_mm_s], [0, 0, 0]]))

    def test_it_is_the_product_of_its_twists_exponentials(self):
        for steady_ends in (False, True):
            way = self.random_way(4, steady_ends)
            t = np.sort(self.random.uniform(0, 20, 25))
            x, y, theta = way.at(t)
            for k, at in enumerate(t):
                pose = np.eye(3)
                turned = 0.0
                for s in way.stretches:
                    sigma = self.sigma(s.pace, at)
                    pose = pose @ self.matrix(s.gait, sigma)
                    turned += sigma * np.radians(s.gait.twist.omega_deg_s)
                np.testing.assert_allclose([x[k], y[k]], pose[:2, 2], atol=1e-4, err_msg=f"seed {self.seed}")
                self.assertAlmostEqual(float(theta[k]), turned, places=6)

    def test_no_speed_steps_anywhere(self):
        way = self.random_way(5)
        t = np.linspace(0.0, 28.0, 280_001)
        speed = np.stack([np.diff(v) for v in way.at(t)]) / (t[1] - t[0])
        # At rest before and after; between, from one instant to the next no more than the fastest change allows.
        np.testing.assert_allclose(speed[:, [0, -1]], 0.0, atol=1e-9)
        # Twists of at most 100 in a change of at least 0.3 s, each with a steepest slope of 1.5; the frame turns too.
        most = 2 * 1.5 * 100 / 0.3 + 200.0
        self.assertLess(np.abs(np.diff(speed, axis=1)).max(), most * (t[1] - t[0]))

    def test_what_is_not_known_yet_is_not_walked(self):
        """As known while the second stretch lasts, the third never comes and the second never ends."""
        way = self.random_way(3)
        first, second, third = way.stretches
        cut = Journey((first, Stretch(second.gait, Pace(second.pace.gather_s, None, second.pace.gather_over_s))))
        t = self.random.uniform(0, 30, 60)
        np.testing.assert_allclose(way.at(t, np.full(60, 1)), cut.at(t), atol=1e-12)
        known = way.known_at(np.array([0.0, second.pace.gather_s + 0.01, third.pace.gather_s + 0.01, 99.0]))
        self.assertEqual(known.tolist(), [0, 1, 2, 3])
        np.testing.assert_array_equal(way.at(t, np.full(60, 3)), way.at(t))

    def test_shares_always_come_to_one(self):
        way = self.random_way(4)
        t = np.linspace(-5, 30, 400)
        np.testing.assert_allclose(sum(share for _, share in way.shares(t)), 1.0, atol=1e-12)
