"""A floor that slopes: where a plumb line from the mass meets it, what feet have to hold, and what is said of it."""

from __future__ import annotations

import numpy as np
from scipy.optimize import brentq

from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.falling.tipping import leans
from bustle.core.judge.judgements.balance.into_the_slope import uphill_mm
from bustle.core.judge.judgements.loads.feet_slip import grip_needed
from bustle.core.judge.measures.margins.halted import halted_margin
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.loads.foot_forces import standing_forces
from bustle.core.loads.inertial_wrenches import held_still, wrenches
from bustle.core.loads.zero_moment_point import pushes_at
from bustle.core.machine.masses import GRAVITY
from bustle.core.search.remedies import remedies
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.walk.plumb import over_floor, upright
from bustle.core.walk.standing_polygon import standing
from bustle.formats.plan_json import plan_values
from bustle.formats.robot_files.mjcf_out import write_mjcf
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.long import in_turns, is_long, share
from tests.projects import changed, hexapod, start
from tests.seeded import SeededTest

ON_FEET = ("six_sprawled", "six_two", "four_sprawled", "four_upright", "six_radial")


def sloping(project, slope_deg, uphill_deg=0.0, **more):
    return changed(project, {"floor/slope_deg": float(slope_deg), "floor/uphill_deg": float(uphill_deg), **more})


def found(project, motion, code):
    return next((f for f in evaluate(project, motion).findings if f.code == code), None)


class Plumb(SeededTest):
    @in_turns
    def test_a_machine_tips_where_its_mass_is_over_the_edge(self):
        """Standing, at tan σ = d/h: d from under its mass to the edge of its feet down the slope, h how high it is."""
        for shape in ON_FEET:
            project = start(shape, "Tips", float(self.random.uniform(100, 300)))
            uphill = float(self.random.uniform(-180, 180))
            level = evaluate(project, "Stand").reading
            held, mass = level.of(standing), level.course.com_ground_mm[0]
            corners = held.corners[0, : int(held.count[0])]
            down = -np.array([np.cos(np.radians(uphill)), np.sin(np.radians(uphill))])
            edges = np.roll(corners, -1, axis=0) - corners
            # The ray from under the mass meets the line of each edge at so many mm; it leaves at the nearest ahead.
            across = edges[:, 0] * down[1] - edges[:, 1] * down[0]
            to = corners - mass[:2]
            ways = (to[:, 1] * edges[:, 0] - to[:, 0] * edges[:, 1]) / np.where(np.abs(across) > 1e-9, across, np.nan)
            leaves = float(np.nanmin(ways[ways > 0]))

            def margin(slope, project=project, uphill=uphill):
                return evaluate(sloping(project, slope, uphill), "Stand").reading.of(worst_margin)[0]

            steepest = float(np.degrees(np.arctan(leaves / mass[2])))
            with self.subTest(shape=shape, uphill=uphill, seed=self.seed):
                if steepest < 44:
                    self.assertAlmostEqual(brentq(margin, 0.0, 45.0), steepest, delta=0.02)
                else:
                    self.assertGreater(margin(44.0), 0.0)

    def test_a_level_floor_is_as_it_was_and_says_nothing(self):
        plan = evaluate(hexapod(), "Forward").reading
        np.testing.assert_array_equal(plan.of(over_floor), plan.course.com_ground_mm[:, :2])
        self.assertEqual(plan.of(upright).tolist(), [0.0, 0.0, GRAVITY])
        self.assertEqual(uphill_mm(plan).tolist(), [0.0, 0.0])
        # Which way none rises makes no difference.
        turned = evaluate(changed(hexapod(), {"floor/uphill_deg": 77.0}), "Forward").reading
        np.testing.assert_array_equal(turned.of(standing).margin_mm, plan.of(standing).margin_mm)

    @is_long
    def test_what_a_plumb_line_says_the_wrenches_say(self):
        """Held still, where it pushes is where a plumb line from the mass meets the floor."""
        for shape in share(self.random, list(SHAPES), 4):
            project = sloping(start(shape, "Held", 180.0), self.random.uniform(1, 15), self.random.uniform(-180, 180))
            if project.walker.lifted_n:
                continue
            for motion in ("Stand", "Forward"):
                r = evaluate(project, motion).reading
                with self.subTest(shape=shape, motion=motion, seed=self.seed):
                    pushes = 1000 * pushes_at(r.of(held_still))
                    np.testing.assert_allclose(pushes, r.of(over_floor)[: r.samples], atol=1e-6)
                    whole = r.of(wrenches)
                    up = np.linalg.norm(r.of(held_still).force, axis=1)
                    np.testing.assert_allclose(up, whole.kg * GRAVITY, rtol=1e-9)

    def test_turned_on_the_spot_the_slope_comes_round_with_the_floor(self):
        """A turn begins facing uphill; a quarter turn on, the floor rises to its right."""
        project = sloping(start("six_sprawled", "Round", 200.0), 10.0)
        r = evaluate(project, "Turn left").reading
        theta, n = r.course.body.travel[2][: r.samples], r.samples
        slid = r.of(over_floor)[:n] - r.course.com_ground_mm[:n, :2]
        high = r.course.com_ground_mm[:n, 2]
        np.testing.assert_allclose(slid[:, 0], -high * np.tan(np.radians(10.0)), atol=1e-9)
        np.testing.assert_allclose(slid[:, 1], 0.0, atol=1e-9)
        self.assertGreater(np.ptp(theta), 0.1)

    def test_halted_it_comes_to_rest_nearer_the_edge_downhill(self):
        project = start("six_sprawled", "Halts", 200.0)
        level, down = (
            evaluate(p, "Forward").reading.of(halted_margin).min() for p in (project, sloping(project, 12.0, 180.0))
        )
        self.assertLess(down, level - 5.0)


class Held(SeededTest):
    def test_standing_still_feet_need_as_much_grip_as_the_slope_is_steep(self):
        for shape in ("six_sprawled", "four_upright", "four_sprawled"):
            project = start(shape, "Grips", 200.0)
            slope = float(self.random.uniform(4, 14))
            steep = float(np.tan(np.radians(slope)))
            for holds, severity in ((steep / 0.5, None), (steep / 0.9, "warn"), (steep / 1.1, "stop")):
                asked = sloping(project, slope, self.random.uniform(-180, 180), **{"floor/friction": round(holds, 4)})
                slips = found(asked, "Stand", "F08")
                with self.subTest(shape=shape, holds=holds, seed=self.seed):
                    self.assertEqual(slips.severity if slips else None, severity)
                    needs = evaluate(asked, "Stand").reading.of(grip_needed)
                    np.testing.assert_allclose(needs.max(), steep, rtol=1e-3)

    def test_feet_bear_what_is_square_to_the_floor_and_push_what_lies_along_it(self):
        project = sloping(hexapod(), 11.0, 40.0)
        r = evaluate(project, "Stand").reading
        total = r.of(standing_forces).forces[:, 0].sum(axis=0)
        weight = r.assembled.total_kg * GRAVITY
        slope, rises = np.radians(11.0), np.radians(40.0)
        along = np.sin(slope) * np.array([np.cos(rises), np.sin(rises)])
        np.testing.assert_allclose(total, weight * np.array([*along, np.cos(slope)]), atol=1e-6)

    def test_lower_feet_carry_more(self):
        """Uphill ahead, the hind legs."""
        r = evaluate(sloping(start("four_upright", "Climbs", 200.0), 10.0), "Stand").reading
        by_leg = [r.of(standing_forces).of_limb(n)[0, 2] for n in range(4)]
        fore = [m.mount.at_mm[0] > 0 for m in r.project.walker.limbs]
        self.assertLess(max(v for v, f in zip(by_leg, fore, strict=True) if f),
                        min(v for v, f in zip(by_leg, fore, strict=True) if not f))  # fmt: skip


class Said(SeededTest):
    @in_turns
    def test_a_walk_that_a_slope_takes_the_margin_of_is_mended(self):
        """F18: a creep; F19: a trot; F53: on two soles. Each sound on the level."""
        for shape, motion, code, slope, uphill, how in (
            ("four_upright", "Forward", "F18", 9.0, 0.0, "Lean "),
            ("four_upright", "Trot", "F19", 8.0, 90.0, "Lean "),
            ("two_full", "Forward", "F53", 8.0, -90.0, "Sway "),
        ):
            project = start(shape, "Leans", float(SHAPES[shape].usual_mm))
            level = found(project, motion, code)
            asked = sloping(project, slope, uphill, **{"floor/friction": 0.8, "limits/margin_mm": 5.0})
            stops = found(asked, motion, code)
            with self.subTest(code=code):
                self.assertFalse(level and level.severity == "stop")
                self.assertEqual(stops.severity, "stop")
                mended = next(r for r in remedies(asked, motion, stops) if r.title.startswith(how))
                after = evaluate(patched(asked, mended.patch), motion)
                self.assertNotIn((code, stops.subject), {(f.code, f.subject) for f in after.findings})
                was, now = (patched(asked, p).motion(motion).pose.shift_mm for p in ([], mended.patch))
                uphill_by = np.subtract(now, was) @ [np.cos(np.radians(uphill)), np.sin(np.radians(uphill))]
                self.assertGreater(uphill_by, 5.0)

    @in_turns
    def test_where_the_floor_is_level_nothing_leans_into_it(self):
        project = changed(start("four_upright", "Level", 200.0), {"motions/0/pose/shift_mm": [60.0, 0.0]})
        stops = found(project, "Forward", "F18")
        self.assertEqual(stops.severity, "stop")
        self.assertFalse([r for r in remedies(project, "Forward", stops) if "slope" in r.title])

    def test_a_trot_drags_its_feet_uphill_before_it_does_downhill(self):
        project = changed(start("four_upright", "Drags", 220.0), {"floor/friction": 0.8})
        told = {
            uphill: found(sloping(project, 12.0, uphill), "Trot", "F19").title for uphill in (0.0, 90.0, -90.0, 180.0)
        }
        self.assertEqual({told[u] for u in (0.0, 90.0, -90.0)}, {"Drags its feet on the slope"})
        shares = [float(np.mean([one.drags for one in leans(evaluate(sloping(project, s), "Trot").reading)]))
                  for s in (4.0, 8.0, 12.0)]  # fmt: skip
        self.assertEqual(shares, sorted(shares))
        self.assertEqual(found(sloping(project, 12.0, 0.0), "Trot", "F19").severity, "stop")
        self.assertEqual(found(sloping(project, 8.0, 180.0), "Trot", "F19").severity, "warn")

    def test_curved_soles_roll_down(self):
        project = start("two_rocker", "Rolls", 180.0)
        for slope, uphill, severity in (
            (1.0, 0.0, "warn"),
            (5.0, 0.0, "stop"),
            (2.0, 90.0, None),
            (5.0, -90.0, "stop"),
        ):
            rolls = found(sloping(project, slope, uphill), "Forward", "F53")
            with self.subTest(slope=slope, uphill=uphill):
                self.assertEqual(rolls.severity if rolls else None, severity)

    @in_turns
    def test_what_rocks_over_its_edges_is_stopped_where_the_slope_takes_it(self):
        for shape, slope, uphill, title in (
            ("two_parallelogram", 2.0, 90.0, None),
            ("two_parallelogram", 5.0, -90.0, "Rocks over to one side"),
            ("two_parallelogram", 8.0, 0.0, "Pitches over its heels"),
            ("two_moving_mass", 5.0, 90.0, None),
            ("two_moving_mass", 9.0, 90.0, "Rocks over to one side"),
            ("two_moving_mass", 8.0, 180.0, None),
        ):
            project = start(shape, "Rocks", float(SHAPES[shape].usual_mm))
            stops = [f for f in evaluate(sloping(project, slope, uphill), "Forward").findings
                     if f.code == "F53" and f.severity == "stop"]  # fmt: skip
            with self.subTest(shape=shape, slope=slope, uphill=uphill):
                self.assertEqual([f.title for f in stops], [title] if title else [])
        # Backwards up a slope, it is its toes that are downhill.
        backs = sloping(start("two_parallelogram", "Rocks", 260.0), 11.0, 180.0)
        self.assertEqual(found(backs, "Back", "F53").title, "Pitches over its toes")

    def test_feet_that_slide_as_they_stand_walk_less_far_uphill(self):
        """As far across as on the level, and the more downhill the less the floor holds."""
        project = changed(start("six_two_radial", "Slides", 200.0), {"floor/friction": 0.6})
        ways = {}
        for name, slope, uphill, holds in (
            ("level", 0.0, 0.0, 0.6), ("up", 6.0, 0.0, 0.6), ("down", 6.0, 180.0, 0.6), ("icy", 6.0, 180.0, 0.3),
        ):  # fmt: skip
            r = evaluate(sloping(project, slope, uphill, **{"floor/friction": holds}), "Forward").reading
            ways[name] = r.goes_on[0]
        self.assertLess(ways["up"], 0.5 * ways["level"])
        self.assertGreater(ways["down"], 1.2 * ways["level"])
        self.assertGreater(ways["icy"], ways["down"])


class Told(SeededTest):
    def test_files_carry_it(self):
        slope, uphill = float(self.random.uniform(3, 20)), float(self.random.uniform(-180, 180))
        project = sloping(hexapod(), slope, uphill)
        said = write_mjcf(project).data.decode()
        pull = np.array([float(v) for v in said.split('gravity="')[1].split('"')[0].split()])
        self.assertAlmostEqual(float(np.linalg.norm(pull)), GRAVITY, places=4)
        self.assertAlmostEqual(np.degrees(np.arctan2(np.hypot(*pull[:2]), -pull[2])), slope, places=3)
        self.assertAlmostEqual(np.cos(np.arctan2(-pull[1], -pull[0]) - np.radians(uphill)), 1.0, places=6)
        self.assertNotIn("gravity", write_mjcf(hexapod()).data.decode())
        self.assertTrue(any("slopes" in line for line in write_urdf(project).lost))
        self.assertFalse(any("slopes" in line for line in write_urdf(hexapod()).lost))

    def test_a_plan_tells_where_the_plumb_line_falls(self):
        project = sloping(hexapod(), 9.0, -30.0)
        told = plan_values(evaluate(project, "Forward"))
        r = evaluate(project, "Forward").reading
        np.testing.assert_allclose(told["samples"]["plumb_ground_mm"], r.of(over_floor)[: r.samples], atol=1e-3)
