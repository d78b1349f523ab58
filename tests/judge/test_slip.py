"""Slip of legs with too few joints, by the geometry of their arcs; heave, turning circles, belly and play."""

from __future__ import annotations

import numpy as np

from bustle.core.edits.chain_joints import unjointed
from bustle.core.edits.new_limbs import refitted
from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.belly_clearance import belly
from bustle.core.judge.measures.feet.foot_play import foot_plays
from bustle.core.judge.measures.feet.foot_slip import planted, slip_mm, wander
from bustle.core.judge.measures.turning_circle import turning_radius_mm
from bustle.core.search.least_slip_heave import heaved
from bustle.core.search.remedies import remedies
from tests.projects import changed, hexapod, quadruped, start
from tests.seeded import SeededTest


class Arcs(SeededTest):
    def two(self, speed=60.0, keep=None):
        project = start("six_two", "Arcs", 200.0)
        changes = {"motions/0/twist/vx_mm_s": speed}
        if keep:
            changes |= {f"walker/limbs/{n}/keep": keep for n in range(6)}
        return changed(project, changes)

    def test_slip_is_the_sagitta_of_the_arc(self):
        """Foot on a circle of radius r about the hip, half stroke h: it comes in by r − √(r² − h²) at both ends."""
        e = evaluate(self.two(), "Forward", 600).reading
        limb = e.project.walker.limbs[1]
        radius = limb.neutral_mm[1] - limb.mount.at_mm[1]
        half = e.score.stroke_mm[1] / 2
        self.assertAlmostEqual(
            e.of(slip_mm)[1], radius - np.sqrt(radius**2 - half**2), delta=0.01 * e.of(slip_mm)[1] + 1e-3
        )
        # Across the leg the foot is where it should be.
        self.assertLess(np.abs(e.of(wander)[1][e.of(planted)[1]][:, 0]).max(), 1e-6)

    def test_left_and_right_arcs_are_opposite_so_a_sway_cannot_cancel_what_a_heave_can(self):
        project = self.two(110.0)
        plain = evaluate(project, "Forward", 120).reading
        left, right = (plain.of(wander)[n][plain.of(planted)[n]][:, 1] for n in (1, 4))
        self.assertLess(left.min(), -1.0)
        self.assertGreater(right.max(), 1.0)
        terms = heaved(project, "Forward")
        heaving = patched(project, [replace("/motions/0/pose/sway", [t.model_dump() for t in terms])])
        self.assertLess(evaluate(heaving, "Forward", 120).reading.of(slip_mm).max(), 0.6 * plain.of(slip_mm).max())
        for amount in (2.0, -2.0):
            sway = [{"harmonic": 1, "y_cos_mm": amount}]
            swaying = patched(project, [replace("/motions/0/pose/sway", sway)])
            self.assertGreater(
                evaluate(swaying, "Forward", 120).reading.of(slip_mm).max(), plain.of(slip_mm).max() - 1e-6
            )

    def test_legs_of_three_joints_do_not_slip(self):
        for project in (hexapod(), quadruped()):
            for motion in project.motions:
                self.assertLess(evaluate(project, motion.name).reading.of(slip_mm).max(), 1e-9)

    def test_a_finding_says_how_far_and_of_what(self):
        project = changed(self.two(110.0), {"limits/slip_mm": 3.0})
        plan = evaluate(project, "Forward")
        finding = next(f for f in plan.findings if f.code == "F12")
        self.assertAlmostEqual(finding.value, plan.figure("slip_mm"), places=9)
        self.assertRegex(finding.message, r"slips \d+(\.\d)? mm over the floor in each stance, \d+ % of its stroke")
        self.assertTrue(any(r.title.startswith("Heave") for r in remedies(project, "Forward", finding)))


class Turns(SeededTest):
    def flat(self, omega, slip=6.0):
        return changed(
            start("four_upright_2", "Flat", 200.0),
            {"motions/0/twist/omega_deg_s": omega, "limits/slip_mm": slip},
        )

    def test_a_turn_drags_flat_feet_sideways_by_what_its_arc_asks(self):
        """ω about the middle: a foot at (x, y) should go sideways by about x·ω·stance; flat legs cannot."""
        e = evaluate(self.flat(2.0), "Forward", 400).reading
        duty = e.motion.legs[0].duty
        angle = np.radians(2.0) * duty * e.motion.cycle_s
        for n, limb in enumerate(e.project.walker.limbs):
            self.assertAlmostEqual(e.of(slip_mm)[n], abs(limb.neutral_mm[0]) * angle, delta=0.25 * e.of(slip_mm)[n])

    def test_which_finding_it_is_depends_on_what_is_to_blame(self):
        codes = [f.code for f in evaluate(self.flat(4.0), "Forward").findings]
        self.assertIn("F13", codes)
        self.assertNotIn("F12", codes)
        self.assertNotIn("F13", [f.code for f in evaluate(self.flat(0.0), "Forward").findings])

    def test_legs_led_a_way_that_they_have_no_joint_for_are_told_to_go_nowhere(self):
        """Led by its legs a walk is sound however it goes; a ring of legs without yaw, led round, stays where it is."""
        ring = refitted(start("six_radial", "Led", float(self.random.uniform(140, 260))), "L1", "serial", True)
        led = changed(unjointed(ring, "L1", "yaw", True), {"motions/0/travel": "implied"})
        round_ = {"vx_mm_s": 0.0, "vy_mm_s": 0.0, "omega_deg_s": 6.0}
        for walk, nowhere in ((led, False), (changed(led, {"motions/0/twist": round_}), True)):
            told = [f for f in evaluate(walk, "Forward").findings if f.code == "F54"]
            self.assertEqual([f.title for f in told], ["Goes nowhere"] if nowhere else [], self.seed)
        self.assertFalse([r for r in remedies(walk, "Forward", told[0]) if "travel" in str(r.patch)])

    def test_allowing_more_slip_never_widens_the_circle(self):
        radii = [
            evaluate(self.flat(0.0, slip), "Forward").reading.of(turning_radius_mm) for slip in (2.0, 4.0, 8.0, 30.0)
        ]
        known = [np.inf if r is None else r for r in radii]
        self.assertEqual(known, sorted(known, reverse=True))
        self.assertLess(known[-1], known[0])

    def test_yaw_joints_turn_in_place(self):
        self.assertEqual(evaluate(hexapod(), "Forward").reading.of(turning_radius_mm), 0.0)
        self.assertIsNone(evaluate(hexapod(), "Stand").reading.of(turning_radius_mm))


class Underneath(SeededTest):
    def test_the_belly_is_the_lowest_corner_of_a_tilted_frame(self):
        project = changed(hexapod(), {"motions/0/pose/pitch_deg": 6.0})
        e = evaluate(project, "Forward").reading
        long, _, high = project.walker.sections[0].size_mm
        pitch = np.radians(6.0)
        lowest = project.motions[0].pose.ride_height_mm - long / 2 * np.sin(pitch) - high / 2 * np.cos(pitch)
        self.assertAlmostEqual(e.of(belly)[0], lowest, places=9)

    def test_an_arm_hanging_lower_than_the_frame_counts(self):
        project = start("two_moving_mass", "Arm", 220.0)
        base = evaluate(project, "Stand").reading.of(belly)
        mounted = changed(
            project, {"walker/limbs/2/mount/at_mm": [0.0, 0.0, -60.0], "walker/limbs/2/mount/pitch_deg": 180.0}
        )
        low = evaluate(mounted, "Stand").reading.of(belly)
        self.assertEqual(low[2], "weight")
        self.assertLess(low[0], base[0] - 50)


class Play(SeededTest):
    def test_play_is_lever_times_angle_added_up(self):
        project = changed(hexapod(), {"servo_types/0/play_deg": 1.0})
        e = evaluate(project, "Forward").reading
        for play in e.of(foot_plays):
            self.assertAlmostEqual(
                play.play_mm, sum(np.radians(deg) * lever for _, deg, lever in play.joints), places=9
            )
            self.assertLessEqual(play.up_mm, play.play_mm)
        # Hip yaw swings the foot about a vertical axis: its lever is the level distance from the hip.
        limb = project.walker.limbs[1]
        out = np.hypot(*(np.array(limb.neutral_mm) - limb.mount.at_mm[:2]))
        yaw = next(p for p in e.of(foot_plays) if p.limb == 1).joints[0]
        self.assertAlmostEqual(yaw[2], out, delta=1.0)

    def test_a_gear_divides_it_and_a_measurement_replaces_it(self):
        base = changed(hexapod(), {"servo_types/0/play_deg": 1.0})
        geared = changed(base, {"walker/drives/0/kind": "gear", "walker/drives/0/settings": {"ratio": 4.0}})
        plays = [{n: d for n, d, _ in evaluate(p, "Forward").reading.of(foot_plays)[0].joints} for p in (base, geared)]
        self.assertAlmostEqual(plays[1]["yaw"], plays[0]["yaw"] / 4, places=6)
        truth = [{"limb": "L1", "joint_play_deg": {"femur": 2.5}}]
        measured = changed(base, {"walker/as_built/limbs": truth})
        found = evaluate(measured, "Forward").reading.of(foot_plays)[0]
        self.assertTrue(found.measured)
        self.assertEqual({n: d for n, d, _ in found.joints}["femur"], 2.5)

    def test_where_no_play_is_known_none_is_claimed(self):
        project = changed(hexapod(), {"servo_types/0/play_deg": 0.0})
        plan = evaluate(project, "Forward")
        self.assertEqual(plan.reading.of(foot_plays), [])
        self.assertIsNone(plan.figure("foot_play_mm"))
