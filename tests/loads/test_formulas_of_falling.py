"""What decides whether a walk by its timing falls, worked out by hand from the machine's own numbers."""

from __future__ import annotations

import unittest

import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.falling.pushing_point import longest_outside_s, room, room_ahead
from bustle.core.falling.rocking import rolls_s, thrown
from bustle.core.falling.tipping_ankles import INNER, MOST, tipped
from bustle.core.judge.judgements.balance.lands_on_its_edge import MOST_SAG_DEG, MOST_SHARE, on_one_sole
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.standing_polygon import standing
from tests.long import in_turns
from tests.projects import changed, start
from tests.seeded import SeededTest


def index_of(project, name):
    return next(n for n, m in enumerate(project.motions) if m.name == name)


class Tipping(SeededTest):
    def test_ankles_throw_the_pushing_point_by_tilt_and_by_pace(self):
        """y = (h − a)·sin A·(1 + ω²·h/g) of a machine whose mass lies in the middle."""
        project = start("two_servo", "Tips", float(self.random.uniform(90, 260)))
        motion = project.motions[index_of(project, "Forward")]
        ankle = next(s for s in motion.joints if s.joint == "ankle")
        for by in (0.8, 1.0, 1.7):
            cycle = round(motion.cycle_s * by / 0.02) * 0.02
            paced = changed(project, {f"motions/{index_of(project, 'Forward')}/cycle_s": cycle})
            r = evaluate(paced, "Forward").reading
            tips = r.of(tipped)
            high = float(r.course.com_ground_mm[: r.samples, 2].mean()) / 1000
            above_ankle = high - project.walker.legs[0].links[2].length_mm / 1000
            rate = 2 * np.pi / cycle
            goes = 1000 * above_ankle * np.sin(np.radians(abs(ankle.swing))) * (1 + rate**2 * high / GRAVITY)
            self.assertAlmostEqual(tips.goes_mm - tips.beside_mm, goes, delta=0.03 * goes)
            self.assertLess(tips.beside_mm, 0.02 * goes)
            self.assertAlmostEqual(tips.most_mm / MOST, tips.inner_most_mm / INNER, places=9)
            told = {f.code for f in evaluate(paced, "Forward").findings if f.severity == "stop"}
            self.assertEqual("F53" in told, tips.goes_mm > tips.most_mm)

    def test_a_mass_beside_the_middle_goes_over_on_its_own_side(self):
        project = start("two_servo", "Tips", 140.0)
        masses = [m.model_dump(mode="json") for m in project.walker.masses]
        ballast = {"name": "Ballast", "mass_g": 150.0, "at_mm": [0.0, 30.0, 0.0], "on": project.walker.sections[0].name}
        uneven = changed(project, {"walker/masses": [*masses, ballast]})
        even, off = (evaluate(p, "Forward").reading.of(tipped) for p in (project, uneven))
        r = evaluate(uneven, "Forward").reading
        aside = 30.0 * 0.15 / r.assembled.total_kg
        # By so much at least: it lies longer on the sole that it leans to.
        self.assertGreater(off.beside_mm - even.beside_mm, 0.9 * aside)
        self.assertGreater(off.goes_mm - even.goes_mm, 0.9 * aside)


class Thrown(SeededTest):
    def test_a_mass_moves_the_whole_by_its_share_and_the_pushing_point_by_its_pace(self):
        """Δ = (m_w/M)·r·sin A; y = Δ·(1 + z_w·ω²/g)."""
        project = start("two_moving_mass", "Throws", float(self.random.uniform(120, 360)))
        r = evaluate(project, "Forward").reading
        found = r.of(thrown)
        arm = r.project.walker.limbs[found.limb]
        swing = max(abs(move.to) for move in r.gait.moves_of_arms if move.limb == arm.name)
        aside = r.course.com_body_mm[: r.samples, 1]
        self.assertAlmostEqual(found.moves_mm, (aside.max() - aside.min()) / 2, places=6)
        weight = next(m for m in r.project.walker.masses if m.on.startswith(f"{arm.name}/"))
        reach = sum(link.length_mm for link in arm.links)
        most = (weight.mass_g / 1000 / r.assembled.total_kg) * reach * np.sin(np.radians(swing))
        # The arm and its servo swing along.
        self.assertAlmostEqual(found.moves_mm, most, delta=0.2 * most)
        rate = 2 * np.pi / r.score.duration_s
        grows = 1 + found.high_mm / 1000 * rate**2 / GRAVITY
        self.assertAlmostEqual(found.reaches_mm / found.moves_mm, grows, places=6)
        # Slowly the same mass moves nothing but the mass: told by its number.
        path = f"motions/{index_of(project, 'Forward')}/cycle_s"
        slow = evaluate(changed(project, {path: 40 * r.score.duration_s}), "Forward")
        stop = next(f for f in slow.findings if f.code == "F35")
        self.assertEqual(stop.severity, "stop")
        self.assertAlmostEqual(stop.value, found.moves_mm, delta=0.15 * found.moves_mm)
        self.assertLess(stop.value, stop.limit)


class OneSole(SeededTest):
    @in_turns
    def test_it_falls_between_two_paces_that_go_with_the_root_of_the_leg(self):
        """F57 stops while there is time to fall and too little to be caught, and warns to either side."""
        length = float(self.random.uniform(200, 420))
        soft = changed(start("two_full", "Gives", length), {"against_sag": "off"})
        index, leg = index_of(soft, "Forward"), max(sum(k.length_mm for k in m.links) for m in soft.walker.legs)
        root = np.sqrt(leg / 260.0)
        told = {}
        for cycle in (0.7 * root, 1.0 * root, 2.2 * root):
            paced = changed(soft, {f"motions/{index}/cycle_s": round(cycle / 0.02) * 0.02})
            plan = evaluate(paced, "Forward")
            at = plan.reading.of(on_one_sole)
            found = [f.severity for f in plan.findings if f.code == "F57"]
            if at.share > MOST_SHARE and at.sag_deg > MOST_SAG_DEG and at.left_mm < 0:
                told[round(cycle / root, 1)] = found
        for pace, found in told.items():
            with self.subTest(seed=self.seed, length=length, pace=pace):
                self.assertEqual(found, ["stop" if pace == 1.0 else "warn"])
        self.assertIn(1.0, told)

    @in_turns
    def test_stiffer_drives_sag_less_and_leave_more_of_the_margin(self):
        soft = changed(start("two_full", "Gives", float(self.random.uniform(150, 420))), {"against_sag": "off"})
        sags, left = [], []
        for give in (2.0, 4.0, 8.0):
            r = evaluate(changed(soft, {"servo_types/0/full_torque_at_deg": give}), "Forward").reading
            at = r.of(on_one_sole)
            sags.append(at.sag_deg)
            left.append(at.left_mm)
            high = float(r.course.com_ground_mm[at.row, 2])
            margin = float(r.of(standing).margin_mm[at.row])
            self.assertAlmostEqual(at.left_mm, margin - at.grows * high * np.tan(np.radians(at.sag_deg)), delta=1e-6)
            # Half of the time on one sole, as an upside-down pendulum.
            single = r.course.contact[:, : r.samples].sum(axis=0) == 1
            half_s = (single & r.course.contact[at.limb, : r.samples]).sum() * r.row_s / 2
            self.assertAlmostEqual(at.grows, np.cosh(half_s * np.sqrt(GRAVITY / (high / 1000))), places=6)
        np.testing.assert_allclose(np.array(sags) / sags[0], [1.0, 2.0, 4.0], rtol=0.02)
        self.assertTrue(left[0] > left[1] > left[2])


class Pushing(SeededTest):
    @in_turns
    def test_room_fore_and_aft_is_never_less_than_room_all_round(self):
        for shape in ("two_full", "two_parallelogram", "two_moving_mass"):
            r = evaluate(start(shape, "Pushes", float(self.random.uniform(120, 400))), "Forward").reading
            all_round, ahead = r.of(room), r.of(room_ahead)
            inside = all_round > 0
            self.assertTrue((ahead[inside] >= all_round[inside] - 1e-6).all())

    def test_the_longest_stretch_runs_over_the_end_of_what_repeats(self):
        r = evaluate(start("two_full", "Pushes", 260.0), "Forward").reading
        rows = r.samples
        left = np.ones(rows)
        left[:3], left[-4:], left[10:15] = -1.0, -2.0, -3.0
        lasts, worst = longest_outside_s(r, left)
        self.assertAlmostEqual(lasts, 7 * r.row_s)
        self.assertGreaterEqual(worst, rows - 4)
        left[10:18] = -3.0
        lasts, worst = longest_outside_s(r, left)
        self.assertAlmostEqual(lasts, 8 * r.row_s)
        self.assertIn(worst, range(10, 18))
        self.assertEqual(longest_outside_s(r, np.ones(rows))[0], 0.0)
        self.assertAlmostEqual(longest_outside_s(r, -np.ones(rows))[0], r.score.duration_s)

    def test_a_rocker_rocks_in_the_root_of_its_height(self):
        times = []
        for length in (120.0, 240.0):
            r = evaluate(start("two_rocker", "Rocks", length), "Forward").reading
            high = float(r.course.com_ground_mm[: r.samples, 2].mean()) / 1000
            times.append(r.of(rolls_s) / np.sqrt(high))
        self.assertAlmostEqual(times[0], times[1], delta=0.03 * times[0])


if __name__ == "__main__":
    unittest.main()
