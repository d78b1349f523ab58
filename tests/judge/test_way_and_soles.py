"""What the legs walk, how soles lie, what supports carry: against what must be so, and a physics engine's word."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np
from scipy.optimize import linprog

from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.geometry.resting_plane import above, resting_plane
from bustle.core.judge.measures.feet.foot_slip import dragged_across, planted, slip_mm
from bustle.core.judge.measures.feet.sole_lie import sole_lie
from bustle.core.judge.measures.way_walked import deviation, walked_twist
from bustle.core.loads.foot_forces import standing_forces
from bustle.core.machine.tracks import to_ground
from bustle.core.search.motion_set import motion_set
from bustle.core.search.remedies import remedies
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.walk.implied_travel import implied_travel
from bustle.core.words.problems import InputRefused
from bustle.formats import write_table
from tests.formats.test_mjcf import Played
from tests.long import in_turns, is_long, share
from tests.motions import programme, transition, with_motions
from tests.projects import changed, hexapod, quadruped, stands, start, troubles
from tests.seeded import SeededTest

THREE_JOINTS = ("six_sprawled", "six_radial", "six_upright", "four_sprawled", "four_upright")


def codes(project, motion):
    return {f.code: f for f in evaluate(project, motion).findings}


class Way(SeededTest):
    def test_legs_that_follow_their_feet_walk_what_is_asked(self):
        for shape in THREE_JOINTS:
            project = start(shape, "Way", 200.0)
            twist = dict(zip(("vx_mm_s", "vy_mm_s", "omega_deg_s"), self.random.uniform(-8, 8, 3), strict=True))
            project = changed(project, {"motions/0/twist": {k: float(v) for k, v in twist.items()}})
            with self.subTest(shape=shape, seed=self.seed):
                found = evaluate(project, "Forward").reading.of(deviation)
                self.assertLess(found.off_mm, 1e-6)

    def test_joints_of_one_twist_laid_over_another_imply_their_own(self):
        """The oracle: feet that truly stand, told that the body goes otherwise."""
        for _ in range(4):
            own, other = (self.random.uniform(-9, 9, 3) for _ in range(2))
            pair = [
                changed(
                    hexapod(),
                    {"motions/0/twist": dict(zip(("vx_mm_s", "vy_mm_s", "omega_deg_s"), map(float, t), strict=True))},
                )
                for t in (own, other)
            ]
            walked, told = (evaluate(p, "Forward").reading for p in pair)
            body = told.course.body
            stood = to_ground(body, walked.course.feet_body_mm)
            laid = replace(told.course, feet_ground_mm=stood, print_ground_mm=stood)
            found = implied_travel(laid, walked.of(planted), told.samples, told.row_s, True)
            expected = np.append((own - other)[:2], np.radians((own - other)[2]))
            with self.subTest(seed=self.seed):
                off = np.abs(found.twist.mean(axis=0) - expected)
                self.assertLess(max(off[0], off[1], off[2] * 150), 0.05 * np.abs(own - other).max() + 0.05)

    @in_turns
    def test_a_planned_way_that_is_the_legs_own_changes_no_table_and_is_silent(self):
        for shape in ("six_two_radial", "four_radial_2", "four_upright_2", "six_sprawled"):
            project = start(shape, "Own", 180.0)
            asked, own = (changed(project, {"motions/0/travel": way}) for way in ("asked", "implied"))
            one, two = (evaluate(p, "Forward") for p in (asked, own))
            with self.subTest(shape=shape):
                self.assertEqual(*(write_table(plan, "csv", 4) for plan in (one, two)))
                self.assertNotIn("F54", {f.code for f in two.findings})
                self.assertLessEqual(two.reading.of(slip_mm).max(), one.reading.of(slip_mm).max() + 0.5)
                mean = two.reading.of(walked_twist) * two.reading.score.duration_s
                np.testing.assert_allclose(mean, one.reading.of(deviation).gone, atol=1e-9)
                gaps = [p.reading.course.com_ground_mm[:, 2] for p in (one, two)]
                np.testing.assert_array_equal(*gaps)
                margins = [p.figure("worst_margin_mm") for p in (one, two)]
                self.assertAlmostEqual(*margins, places=6)

    def test_where_legs_follow_exactly_both_ways_are_one(self):
        turning = {"motions/0/twist": {"vx_mm_s": 20.0, "vy_mm_s": 5.0, "omega_deg_s": 6.0}}
        one = evaluate(changed(quadruped(), turning), "Forward").reading.course
        two = evaluate(changed(quadruped(), {**turning, "motions/0/travel": "implied"}), "Forward").reading.course
        np.testing.assert_allclose(one.feet_ground_mm, two.feet_ground_mm, atol=0.02)
        np.testing.assert_allclose(one.target_ground_mm, two.target_ground_mm, atol=0.05)

    def test_standing_legs_that_drift_where_nothing_is_asked_are_told(self):
        project = start("six_two_radial", "Sway", 160.0)
        sway = [{"harmonic": 1, "x_cos_mm": 12.0, "x_sin_mm": 12.0}]
        still = {"motions/0/twist": {}, "motions/0/travel": "asked", "motions/0/pose/sway": sway}
        found = codes(changed(project, still), "Forward").get("F54")
        reading = evaluate(changed(project, still), "Forward").reading.of(deviation)
        self.assertEqual(found is not None, reading.off_mm > 2.0)

    @in_turns
    def test_an_arc_that_hardly_turns_is_stopped_and_no_part_of_a_set(self):
        """At the feet a wide arc is little off where no turn comes; what trims a way straight may fall short."""
        for shape, turning, stops in (
            ("four_upright_2", 4.0, True), ("four_upright_2", 0.2, False), ("four_upright", 4.0, False),
        ):  # fmt: skip
            project = start(shape, "Arc", float(self.random.uniform(100, 200)))
            pace = project.motion("Forward").twist.vx_mm_s
            way = {"vx_mm_s": pace, "omega_deg_s": turning * pace / 20}
            project = changed(project, {"motions/0/twist": way, "motions/0/travel": "asked"})
            found = [f for f in evaluate(project, "Forward").findings if f.code == "F54" and f.severity == "stop"]
            with self.subTest(shape=shape, turning=turning, seed=self.seed):
                self.assertEqual(len(found), stops)
                for finding in found:
                    mended = patched(project, remedies(project, "Forward", finding)[0].patch)
                    self.assertNotIn("F54", codes(mended, "Forward"))
        made = motion_set(start("four_upright_2", "Arc", 140.0), "creep")
        self.assertIn("Forward", [m.motion.name for m in made.made])
        self.assertLess({"Arc left", "Arc right", "Turn left"}, {m.name for m in made.left_out})

    def test_what_a_boom_or_a_rail_does_not_let_it_do_is_stopped(self):
        """Round its post a boom lets it turn; a rail not at all."""
        straight = start("two_planar", "Held", 240.0)
        pace = straight.motion("Forward").twist.vx_mm_s
        slow, quick = (float(np.degrees(pace / radius)) for radius in (1000.0, 200.0))
        for held, way, said in (
            ("boom", {"vx_mm_s": pace}, None),
            ("boom", {"vx_mm_s": pace, "omega_deg_s": slow}, None),
            ("boom", {"vx_mm_s": pace, "omega_deg_s": -quick}, "of turning"),
            ("rail", {"vx_mm_s": pace, "omega_deg_s": slow}, "of turning"),
            ("rail", {"vx_mm_s": pace, "vy_mm_s": 2.0}, "2 mm/s sideways"),
        ):
            project = changed(straight, {"walker/held": held, "motions/0/twist": way})
            told = [f for f in evaluate(project, "Forward").findings if f.title.startswith("Held by")]
            with self.subTest(held=held, way=way):
                self.assertEqual([said in f.message and held in f.message for f in told], [True] if said else [])
                for finding in told:
                    self.assertEqual(finding.severity, "stop")
                    first = remedies(project, "Forward", finding)[0]
                    after = evaluate(patched(project, first.patch), "Forward")
                    self.assertFalse([f for f in after.findings if f.code == "F54"])
                    self.assertEqual(after.reading.motion.twist.vx_mm_s, pace)

    def test_motions_made_of_gaits_go_as_the_legs_of_each_walk(self):
        """In a row, into each other and by the rule: a cycle in the middle of it goes as far as the steady gait's."""
        for shape in ("six_two_radial", "four_radial_2"):
            project = start(shape, "Row", 180.0)
            steady = evaluate(project, "Forward")
            stride, cycle = steady.figure("stride_mm"), steady.reading.score.duration_s
            cycles = float(self.random.integers(4, 7))
            row = with_motions(
                project,
                programme("Cycles", ("Stand", 0.5, "seconds"), ("Forward", cycles, "cycles")),
                programme("Way", ("Forward", cycles * stride, "distance_mm")),
                transition("Sets out", "Stand", 0.0, "Forward", 0.0),
            )
            with self.subTest(shape=shape, seed=self.seed):
                for name in ("Cycles", "Way"):
                    r = evaluate(row, name).reading
                    x, _, _ = r.course.body.travel
                    whole, middle = (
                        r.score.duration_s,
                        np.array([2.0, 3.0]) * cycle + (0.5 if name == "Cycles" else 0.0),
                    )
                    self.assertAlmostEqual(float(np.diff(np.interp(middle, r.times, x))[0]) / stride, 1.0, delta=0.1)
                    # Setting out and stopping, feet that slide take it a stride further, as they do in an engine:
                    # a way is counted with it, cycles are counted by the steady gait's.
                    off = abs(float(x[r.samples - 1]) / stride - cycles)
                    self.assertLess(off, 1.3 if name == "Cycles" else 0.1, msg=whole)
                    gone = r.course.print_ground_mm[..., :2] - r.course.target_ground_mm[..., :2]
                    self.assertLess(np.abs(gone[:, 0]).max(), 1e-9)
                r = evaluate(row, "Sets out").reading
                late = np.interp([r.score.duration_s - cycle, r.score.duration_s], r.times[: r.samples],
                                 r.course.body.travel[0][: r.samples])  # fmt: skip
                self.assertAlmostEqual(float(np.diff(late)[0]) / stride, 1.0, delta=0.1)

    def test_legs_that_bring_it_nowhere_go_no_distance(self):
        project = with_motions(
            start("four_upright_2", "Way", 180.0), programme("Way", ("Forward", 90.0, "distance_mm"))
        )
        aside = {"motions/0/twist": {"vy_mm_s": 10.0}, "motions/0/travel": "implied"}
        with self.assertRaisesRegex(InputRefused, "a cycle by its legs; 90 mm of it"):
            evaluate(changed(project, aside), "Way")

    @in_turns
    def test_a_physics_engine_goes_nearer_the_implied_way_in_a_row_too(self):
        for shape in ("six_two_radial", "four_radial_2"):
            project = with_motions(start(shape, "Row", 180.0), programme("Row", ("Forward", 4.0, "cycles")))
            way, _, upright = Played.of(project, "Row", cycles=1)
            ends = []
            for told in ("implied", "asked"):
                r = evaluate(changed(project, {"motions/0/travel": told}), "Row").reading
                ends.append(float(r.course.body.travel[0][r.samples - 1]))
            with self.subTest(shape=shape):
                self.assertGreater(upright, 0.98)
                self.assertLess(abs(way - ends[0]), abs(way - ends[1]))

    def test_a_physics_engine_walks_nearer_the_implied_way(self):
        project = changed(start("six_two_radial", "Engine", 200.0), {"motions/0/travel": "asked"})
        way, asked, upright = Played.of(project, "Forward")
        implied = evaluate(project, "Forward").reading.of(deviation).gone[0] * 4
        self.assertGreater(upright, 0.98)
        self.assertLess(abs(way - implied), abs(way - asked))

    def test_feet_that_slide_rub_least(self):
        """On three feet, whose loads levers tell: however else the body went, more would be rubbed away."""
        project = start("six_two_radial", "Rubs", float(self.random.uniform(80, 300)))
        r = evaluate(project, "Forward").reading
        implied, feet = r.course.implied, r.of(standing_forces)
        load = np.stack([feet.of_limb(n)[:, 2] for n in range(6)])[:, : implied.creep.shape[1]]
        x, y, theta = (v[: load.shape[1]] for v in r.course.body.travel)
        at = r.course.feet_ground_mm[:, : load.shape[1], :2] - np.stack([x, y], axis=-1)
        c, s = np.cos(theta), np.sin(theta)
        ahead, aside = c * at[..., 0] + s * at[..., 1], c * at[..., 1] - s * at[..., 0]
        rows = (implied.standing.sum(axis=0) == 3) & (np.count_nonzero(load > 1e-9, axis=0) == 3)
        self.assertGreater(rows.sum(), load.shape[1] / 3)

        def rubbed(step):
            moved = np.stack([step[0] - step[2] * aside, step[1] + step[2] * ahead], axis=-1)
            way = np.linalg.norm(implied.creep + moved, axis=-1) * implied.standing
            return (load * way).sum(axis=0)[rows]

        least = rubbed(np.zeros(3))
        self.assertGreater(least.max(), 0.0)
        for size in (1e-2, 0.1, 1.0):
            for _ in range(20):
                step = self.random.normal(0, size, 3) / [1.0, 1.0, 100.0]
                # What gives before it slides takes a little off.
                self.assertTrue((rubbed(step) > least - 0.05 * least.max()).all(), f"{step}, seed {self.seed}")

    @in_turns
    def test_a_physics_engine_drags_it_half_as_far_as_told_to_little_further(self):
        for shape in ("six_two_radial", "four_radial_2"):
            project = start(shape, "Drags", float(self.random.uniform(80, 350)))
            way, told, upright = Played.of(project, "Forward")
            with self.subTest(shape=shape, seed=self.seed):
                self.assertGreater(upright, 0.98)
                r = evaluate(project, "Forward").reading
                told = 4 * r.of(walked_twist)[0] * r.score.duration_s
                # Of 28 lengths 0.63 to 1.13.
                self.assertLess(way, 1.2 * told)
                self.assertGreater(way, 0.5 * told)


class Soles(SeededTest):
    def test_a_body_leaned_over_legs_without_the_joint_is_its_soles_tilt(self):
        project = stands("two_planar", "Lean", 240.0)
        for lean in self.random.uniform(-10, 10, 4):
            tilted = changed(project, {"motions/0/pose/roll_deg": float(lean)})
            with self.subTest(lean=lean):
                self.assertAlmostEqual(evaluate(tilted, "Stand").figure("sole_tilt_deg"), abs(lean), places=6)

    def test_toes_that_a_planar_leg_cannot_turn_are_told_by_how_far(self):
        project = start("two_planar", "Toes", 240.0)
        toes = {f"walker/limbs/{n}/toe_deg": way for n, way in ((0, 20.0), (1, -20.0))}
        plan = evaluate(changed(project, toes), "Stand")
        self.assertAlmostEqual(plan.figure("sole_turn_deg"), 20.0, places=6)
        told = [f for f in plan.findings if f.code == "F55"]
        self.assertEqual([f.subject for f in told], ["turn"])
        self.assertEqual({name for name, _ in told[0].subjects}, {"L", "R"})

    def test_legs_with_every_joint_and_round_feet_are_true(self):
        full = stands("two_full", "Full", 240.0)
        posed = {"motions/0/pose/roll_deg": 3.0, "motions/0/pose/pitch_deg": -4.0, "walker/limbs/0/toe_deg": 8.0}
        lie = evaluate(changed(full, posed), "Stand").reading.of(sole_lie)
        self.assertLess(max(lie.tilt.max(), np.abs(lie.turned).max()), 1e-6)
        self.assertIsNone(evaluate(hexapod(), "Forward").figure("sole_tilt_deg"))

    def test_limits(self):
        project = stands("two_planar", "Limits", 240.0)
        for lean, severity in ((0.3, None), (2.6, "warn"), (9.0, "stop")):
            found = codes(changed(project, {"motions/0/pose/roll_deg": lean}), "Stand").get("F55")
            self.assertEqual(found and found.severity, severity, lean)


class Supports(SeededTest):
    def test_the_resting_plane_is_the_least_of_all_that_carry(self):
        """Against a linear programme, and every point above the plane."""
        for _ in range(60):
            points = self.random.uniform(-100, 100, (7, 1, 3)) * [1, 1, 0.05]
            over = self.random.uniform(-60, 60, (1, 2))
            plane, rests = resting_plane(points, np.ones((7, 1), dtype=bool), over)
            corners = points[:, 0]
            held = np.vstack([corners[:, :2].T, np.ones(7)])
            best = linprog(corners[:, 2], A_eq=held, b_eq=[*over[0], 1.0], bounds=(0, None))
            with self.subTest(seed=self.seed):
                self.assertEqual(bool(rests[0]), best.status == 0)
                if rests[0]:
                    self.assertAlmostEqual(float(plane[0] @ [1, *over[0]]), best.fun, places=7)
                    self.assertGreater(above(plane, points).min(), -1e-7)

    def casters(self, mm):
        project = start("four_casters", "Casters", 160.0)
        return changed(
            project,
            {f"walker/limbs/{n}/mount/at_mm/2": mm - project.motions[0].pose.ride_height_mm for n in (4, 5)},
        )

    def test_limits(self):
        for mm, severity in ((0.0, None), (0.4, None), (3.0, "warn"), (-0.4, None), (-0.8, "warn"), (-2.1, "stop")):
            found = codes(self.casters(mm), "Forward").get("F56")
            self.assertEqual(found and found.severity, severity, mm)
            if mm:
                self.assertAlmostEqual(evaluate(self.casters(mm), "Forward").figure("support_height_mm"), mm, places=6)

    def test_casters_that_hang_are_rested_on_after_the_machine_has_settled(self):
        plain, hung = (evaluate(self.casters(mm), "Forward") for mm in (0.0, 3.0))
        self.assertGreater(plain.figure("worst_margin_mm"), 0)
        self.assertGreater(hung.figure("worst_margin_mm"), 0)
        self.assertIn("tilts", codes(self.casters(3.0), "Forward")["F56"].message)

    def test_machines_without_supports_are_not_judged(self):
        self.assertIsNone(evaluate(hexapod(), "Forward").figure("support_height_mm"))

    @is_long
    def test_no_starting_shape_has_them_off_the_floor(self):
        for shape in share(self.random, list(SHAPES), 6):
            project = start(shape, "Shape", 180.0)
            for motion in project.motions:
                self.assertNotIn("F56", codes(project, motion.name))


class Aside(SeededTest):
    """Legs that give a direction up say so where it takes the foot far from where it is asked."""

    def test_links_made_shorter_leave_feet_out_there_and_bring_them_along(self):
        project = start("six_two", "Short", 160.0)
        short = changed(project, {f"walker/limbs/{n}/links/1/length_mm": 80.0 for n in range(6)})
        found = next(f for f in evaluate(short, "Stand").findings if f.title == "Feet stand elsewhere")
        away = evaluate(short, "Stand").reading.course
        gap = away.feet_ground_mm[0, 0, :2] - away.target_ground_mm[0, 0, :2]
        self.assertAlmostEqual(found.value, float(np.hypot(*gap)), delta=0.5)
        mended = {r.title: r for r in remedies(short, "Stand", found)}
        after = patched(short, mended["Feet to where the legs put them"].patch)
        self.assertEqual(troubles(evaluate(after, "Stand")), ())

    @in_turns
    @is_long
    def test_no_starting_shape_has_them(self):
        for shape in share(self.random, list(SHAPES), 6):
            for motion in start(shape, "Aside", 180.0).motions:
                titles = [f.title for f in evaluate(start(shape, "Aside", 180.0), motion.name).findings]
                self.assertNotIn("Feet stand elsewhere", titles, shape)


class Wheels(unittest.TestCase):
    def walking(self, heading):
        project = stands("two_wheels", "Wheels", 220.0)
        way = {f"walker/limbs/{n}/feet/0/contact/heading_deg": heading for n in (2, 3)}
        walk = {"motions/0/twist": {"vx_mm_s": 40.0}, "motions/0/cycle_s": 1.0}
        legs = [{"limb": name, "phase": phase, "duty": 0.6} for name, phase in (("L", 0.0), ("R", 0.5))]
        return changed(project, {**way, **walk, "motions/0/legs": legs})

    def test_wheels_across_the_way_are_told_by_how_far_they_are_dragged(self):
        for heading in (90.0, 30.0):
            plan = evaluate(self.walking(heading), "Stand")
            found = next(f for f in plan.findings if f.code == "F12")
            self.assertEqual(found.title, "Wheels dragged sideways")
            self.assertAlmostEqual(found.value, 40.0 * np.sin(np.radians(heading)), delta=0.5)
            mended = remedies(self.walking(heading), "Stand", found)
            self.assertIn("Wheels along the way", [r.title for r in mended])

    def test_however_short_the_way_wheels_across_it_are_dragged(self):
        short = changed(self.walking(90.0), {"motions/0/twist": {"vx_mm_s": 2.0}})
        found = [f for f in evaluate(short, "Stand").findings if f.code == "F12"]
        self.assertEqual([f.title for f in found], ["Wheels dragged sideways"])
        self.assertAlmostEqual(found[0].value, 2.0, delta=0.01)
        mend = next(r for r in remedies(short, "Stand", found[0]) if r.title == "Wheels along the way")
        self.assertNotIn("F12", {f.code for f in evaluate(patched(short, mend.patch), "Stand").findings})

    def test_to_and_fro_is_no_way(self):
        """A body that sways over its wheels comes back to where it was."""
        swaying = [{"harmonic": 1, "y_cos_mm": 1.0}]
        sways = changed(self.walking(0.0), {"motions/0/twist": {}, "motions/0/pose/sway": swaying})
        self.assertEqual(evaluate(sways, "Stand").reading.of(dragged_across), [])

    def test_along_the_way_they_roll(self):
        plan = evaluate(self.walking(0.0), "Stand")
        self.assertNotIn("Wheels dragged sideways", [f.title for f in plan.findings])


class Rocks(unittest.TestCase):
    """A hair outside the feet that stand, a machine comes down on to the foot it has lifted."""

    def shifted(self, margin):
        """A creep whose centre of mass is so far inside its feet at its worst, by a shift of the body."""
        low, high = -60.0, 0.0
        for _ in range(40):
            middle = (low + high) / 2
            project = changed(quadruped(), {"motions/0/pose/shift_mm": [middle, 0.0], "motions/0/pose/sway": []})
            found = evaluate(project, "Forward").figure("worst_margin_mm")
            low, high = (middle, high) if found < margin else (low, middle)
        return project

    def test_within_three_millimetres_it_rocks_and_says_on_to_which(self):
        found = codes(self.shifted(-1.0), "Forward")["F18"]
        self.assertEqual((found.severity, found.title), ("stop", "Rocks over"))
        self.assertRegex(found.message, r"rocks on to (FL|FR|BL|BR), [\d.]+° over")

    def test_further_out_it_falls(self):
        found = codes(self.shifted(-8.0), "Forward")["F18"]
        self.assertEqual(found.title, "Falls over")
        self.assertNotIn("rocks", found.message)


if __name__ == "__main__":
    unittest.main()
