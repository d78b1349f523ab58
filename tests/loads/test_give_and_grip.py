"""Casters beside legs, servos that fall behind, legs that overshoot, floors that hold less across, and what ten minutes
with a scale and a ruler tell."""

from __future__ import annotations

import re

import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import minimize, nnls

from bustle.core.edits.at_rest import AT_REST, standing
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.geometry.serial_chain import forward
from bustle.core.geometry.shared_load import pressed
from bustle.core.judge.judgements.loads.feet_slip import WARN, gentle, grip_needed
from bustle.core.judge.measures.feet.foot_play import foot_plays
from bustle.core.judge.measures.feet.swing_clearance import clearances
from bustle.core.judge.playing import told
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.falls_behind import _behind_by, falls_behind, foot_lag_mm
from bustle.core.loads.foot_forces import standing_forces, support_gaps
from bustle.core.loads.friction import held_along
from bustle.core.loads.giving.carried_margin import carried_margin
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.held_by_supports import overlap
from bustle.core.loads.joint_torques import joint_torques, servo_loads
from bustle.core.loads.overshoot import overshoot
from bustle.core.machine.masses import GRAVITY
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from bustle.core.servo.power_on_order import soft_start
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.trials.ten_minutes import MEASUREMENTS, asked_of, taken
from bustle.core.walk.standing_polygon import standing as standing_polygon
from bustle.core.words.problems import InputRefused
from tests.long import in_turns
from tests.projects import changed, demo, fault, quadruped, start
from tests.seeded import SeededTest


def codes(project, motion="Forward"):
    return {f.code: f.severity for f in evaluate(project, motion).findings}


class Casters(SeededTest):
    def test_points_that_hang_press_when_the_others_have_given_so_far(self):
        """The least strain of springs that only press, by a general optimiser."""
        for _ in range(8):
            points = self.random.uniform(-0.2, 0.2, (5, 1, 2))
            stiff = self.random.uniform(1.0, 20.0, (5, 1))
            gaps = np.array([0.0, 0.0, 0.0, *self.random.uniform(0.0, 1.0, 2)])[:, None]
            centre = points[:3, 0].mean(axis=0)
            load = 20.0 * np.array([[1.0, centre[1], -centre[0]]])
            forces, left = pressed(points, stiff, load, gaps)
            self.assertLess(np.abs(left).max(), 1e-9)
            rows = np.stack([np.ones(5), points[:, 0, 1], -points[:, 0, 0]])
            best = minimize(
                lambda z, k=stiff[:, 0], g=gaps[:, 0]: (z**2 / (2 * k) + z * g).sum(),
                np.full(5, 4.0), bounds=[(0, None)] * 5, method="SLSQP", options={"ftol": 1e-14, "maxiter": 500},
                constraints={"type": "eq", "fun": lambda z, a=rows, b=load[0]: a @ z - b},
            )  # fmt: skip
            np.testing.assert_allclose(forces[:, 0], best.x, atol=2e-3, err_msg=f"seed {self.seed}")

    def test_points_come_as_near_as_an_independent_solver_s_do(self):
        """Feet that may not hold a load: none to twelve that press, some in one place or in a row, some alike."""
        for points, stiff, load in (self.loaded(k) for k in range(40)):
            forces, left = pressed(points, stiff, load)
            self.assertTrue((forces >= 0).all() and (forces[stiff == 0] == 0).all())
            for n in range(len(load)):
                own = stiff[:, n] > 0
                rows = np.stack([np.ones(own.sum()), points[own, n, 1], -points[own, n, 0]])
                best = nnls(rows, load[n])[1] if own.any() else np.linalg.norm(load[n])
                with self.subTest(n=n, seed=self.seed):
                    self.assertAlmostEqual(float(np.linalg.norm(left[n])), float(best), delta=1e-7 * load[n, 0])
                    np.testing.assert_allclose(rows @ forces[own, n] + left[n], load[n], atol=1e-9 * load[n, 0])

    def loaded(self, k):
        """Points (P, N, 2), stiffness (P, N) and loads (N, 3), the kth kind of them."""
        count, many = int(self.random.integers(1, 13)), 30
        points = self.random.normal(size=(count, many, 2)) * 0.1
        if k % 3 == 0:
            points = np.round(points, 1)
        if k % 5 == 0:
            points[..., 1] = 0.05
        stiff = self.random.uniform(0.5, 5.0, (count, many)) * (self.random.random((count, many)) < 0.6)
        weight = self.random.uniform(1.0, 20.0, many)
        x, y = self.random.normal(size=(2, many)) * self.random.choice([0.05, 0.2])
        return points, stiff, np.column_stack([weight, weight * y, -weight * x])

    def test_feet_carry_what_they_are_planned_below_the_casters(self):
        project = start("four_casters", "Rolling", float(self.random.uniform(160, 400)))
        for share in (0.25, 0.5, 0.9):
            beside = evaluate(project, "Stand").reading.of(overlap)
            x = [limb.mount.at_mm[0] for limb in project.walker.limbs[4:]]
            high = share * float(beside.gives_mm.min()) - project.motions[0].pose.ride_height_mm
            moved = {f"walker/limbs/{4 + n}/mount/at_mm": [v, 0.0, high] for n, v in enumerate(x)}
            r = evaluate(changed(project, moved), "Stand").reading
            beside = r.of(overlap)
            weight = r.assembled.total_kg * GRAVITY
            # The casters give a little themselves, which the legs then carry.
            self.assertAlmostEqual(beside.driven_n[0] / weight, share, delta=0.12)
            self.assertAlmostEqual(r.of(sag).down_mm[0], beside.overlap_mm[0], delta=0.12 * beside.gives_mm[0])

    def test_support_height_is_silent_as_far_as_the_legs_give(self):
        project = start("four_casters", "Rolling", 300.0)
        gives = float(evaluate(project, "Forward").reading.of(overlap).gives_mm.min())
        ride = project.motions[0].pose.ride_height_mm

        def with_overlap(mm):
            x = [limb.mount.at_mm[0] for limb in project.walker.limbs[4:]]
            moved = {f"walker/limbs/{4 + n}/mount/at_mm": [v, 0.0, mm - ride] for n, v in enumerate(x)}
            return codes(changed(project, moved))

        self.assertEqual(with_overlap(0.0).get("F03"), "stop")
        self.assertFalse({"F03", "F56"} & with_overlap(0.9 * gives).keys())
        self.assertEqual(with_overlap(1.3 * gives).get("F56"), "warn")

    def test_a_counterweight_lifts_so_much(self):
        project = start("two_planar", "Boom", 240.0)
        one, other = (evaluate(changed(project, {"walker/lifted_n": n}), "Stand").reading for n in (0.0, 3.0))
        lighter = one.of(sag).down_mm[0] - other.of(sag).down_mm[0]
        self.assertGreater(lighter, 0.0)
        for shape in ("four_upright", "two_full"):
            with self.assertRaisesRegex(InputRefused, "counterweight"):
                changed(start(shape, "Free", 200.0), {"walker/lifted_n": 3.0})


class Speed(SeededTest):
    def test_what_a_servo_is_behind_is_what_following_it_step_by_step_gives(self):
        rates = self.random.normal(0.0, 3.0, 60)
        available = np.full(60, 2.0)
        behind = {1: 0.0, -1: 0.0}
        told = []
        for _ in range(3):
            told = []
            for rate in rates:
                told.append(max(behind.values()))
                behind = {way: max(0.0, b + (way * rate - 2.0) * 0.02) for way, b in behind.items()}
        np.testing.assert_allclose(_behind_by(rates, available, 0.02, True), told, atol=1e-9)

    def test_a_foot_that_lands_in_time_is_warned_of_and_one_that_does_not_is_stopped(self):
        self.assertEqual(codes(demo("fennel"), "Hurry")["F06"], "stop")
        n = [m.name for m in demo("fennel").motions].index("Hurry")
        slower = {f"motions/{n}/cycle_s": 1.2, f"motions/{n}/twist/vx_mm_s": 178.0}
        gentle = changed(demo("fennel"), slower)
        self.assertEqual(codes(gentle, "Hurry")["F06"], "warn")
        self.assertFalse(evaluate(gentle, "Hurry").reading.of(falls_behind).lands_late_mm)

    def test_a_load_takes_speed(self):
        found = evaluate(demo("fennel"), "Hurry").reading
        available = found.of(falls_behind).available
        self.assertTrue((available <= found.kit.servo_speed + 1e-12).all())
        self.assertLess(available.min(), 0.5 * found.kit.servo_speed.min())


class Overshooting(SeededTest):
    def test_damping_is_that_of_the_servo_let_go(self):
        """A spring and damper with what hangs on the servo, followed by scipy: it runs past as far as is told."""
        r = evaluate(fault("F30"), "Forward").reading
        found = r.of(overshoot)
        k = int(found.damping.argmin())
        servo = r.kit.servos[k]
        stall, speed = servo.sheet.stall_torque_nm, np.radians(servo.sheet.no_load_speed_deg_s)
        stiff, damper = stall / r.kit.full_torque_at[k], stall / speed
        inertia = found.inertia_kg_m2[k]
        run = solve_ivp(
            lambda _, y: [y[1], (stiff * (1.0 - y[0]) - damper * y[1]) / inertia], (0, 2), [0, 0],
            rtol=1e-9, atol=1e-12, max_step=1e-3,
        )  # fmt: skip
        zeta = found.damping[k]
        self.assertAlmostEqual(run.y[0].max() - 1.0, np.exp(-np.pi * zeta / np.sqrt(1 - zeta**2)), places=4)

    def test_inertia_is_the_share_of_the_mass_matrix(self):
        """What a joint swings, by the torque that turning it alone takes: half of the second difference of energy."""
        r = evaluate(quadruped(), "Forward").reading
        heavier = changed(quadruped(), {"walker/limbs/0/links/2/mass_g": 90.0})
        other = evaluate(heavier, "Forward").reading
        swung = other.of(overshoot).inertia_kg_m2 - r.of(overshoot).inertia_kg_m2
        own = [k for k, s in enumerate(r.kit.servos) if r.kit.joints[s.first].limb.name == "FL"]
        self.assertTrue((swung[own] > 0).all())
        self.assertFalse(np.delete(swung, own).any())

    def test_a_ring_holds_while_the_joint_turns(self):
        ringed = changed(quadruped(), {"walker/limbs/0/joints/2/friction_nm": 0.2})
        one, other = (evaluate(p, "Forward").reading.of(joint_torques) for p in (quadruped(), ringed))
        self.assertAlmostEqual(np.abs(other - one).max(), 0.2, places=2)
        self.assertFalse(np.delete(other - one, 2, axis=1).any())


class Grip(SeededTest):
    def test_across_counts_where_the_floor_holds_less_across(self):
        side = changed(quadruped(), {"motions/0/twist/vx_mm_s": 0.0, "motions/0/twist/vy_mm_s": 30.0,
                                     "motions/0/cycle_s": 1.4, "floor/friction": 0.5})  # fmt: skip
        need = evaluate(side, "Forward").figure("grip_needed")
        less = evaluate(changed(side, {"floor/friction_across": 0.25}), "Forward").figure("grip_needed")
        self.assertGreater(less, 1.5 * need)
        self.assertLessEqual(less, 2.0 * need + 1e-9)

    @in_turns
    def test_no_foot_of_a_machine_that_speeds_up_gently_comes_near_slipping(self):
        """What spares the forces is held against them, on floors so slippery that some do slip."""
        found = set()
        # The first surely slips and the last does not.
        for hold in (0.003, *np.exp(self.random.uniform(np.log(0.003), np.log(0.3), 8)).tolist(), 0.9):
            shape = str(self.random.choice(["six_sprawled", "four_upright", "four_sprawled", "two_full", "two_wheels"]))
            project = start(shape, "Slips", SHAPES[shape].usual_mm)
            n = int(
                self.random.choice([n for n, m in enumerate(project.motions) if isinstance(m, PhaseGait) and m.moves])
            )
            walk, slower = project.motions[n], float(self.random.uniform(0.4, 2.0))
            row_s = project.controller.frame_period_ms / 1000
            pace = {name: speed / slower for name, speed in walk.twist.model_dump().items()}
            cycle = round(max(12, round(walk.cycle_s * slower / row_s)) * row_s, 6)
            r = evaluate(
                changed(
                    project,
                    {
                        f"motions/{n}/cycle_s": cycle,
                        f"motions/{n}/twist": pace,
                        "floor/friction": hold,
                    },
                ),
                walk.name,
            ).reading
            share = float(r.of(grip_needed).max()) / held_along(r)
            found.add(share > WARN)
            with self.subTest(shape=shape, motion=walk.name, seed=self.seed):
                self.assertFalse(r.of(gentle) and share > WARN, share)
                self.assertFalse(r.of(gentle) and "F08" in told(r).unjudged)
        self.assertEqual(found, {True, False})


class AsItGives(SeededTest):
    def test_held_against_sag_the_servos_start_where_the_table_does(self):
        project = changed(start("two_full", "Held", 260.0), {"against_sag": "static"})
        free = changed(project, {"against_sag": "off"})
        told = {s.joint: s.to for s in soft_start(project).switches}
        plain = {s.joint: s.to for s in soft_start(free).switches}
        self.assertTrue(any(abs(told[j] - plain[j]) > 0.05 for j in told))

    def test_a_stiff_machine_keeps_its_margin(self):
        soft = quadruped()
        stiff = changed(soft, {"servo_types/0/full_torque_at_deg": 0.01})
        for project, near in ((stiff, 0.1), (soft, 6.0)):
            r = evaluate(project, "Forward").reading
            planned = float(r.of(standing_polygon).margin_mm.min())
            self.assertAlmostEqual(float(np.nanmin(r.of(carried_margin))), planned, delta=near)

    def test_beside_casters_off_the_feet_s_plane_a_foot_that_lifts_stays_as_stiff_as_it_is(self):
        """It carries less from row to row, and the frame does not sink on to it."""
        project = demo("faults/F56")
        for times in (1, 4):
            r = evaluate(project, "Forward", times * 80).reading
            self.assertLess(float(r.of(support_gaps).min()), -1.0)
            self.assertLess(float(r.of(sag).down_mm.max()), 2.0)

    @in_turns
    def test_its_margins_hardly_depend_on_how_the_rows_lie(self):
        """A foot lifts between two rows: just before it does, as much is left as there will be."""
        for shape in ("four_sprawled", "four_upright", "four_radial_2"):
            project = start(shape, "Rows", float(self.random.uniform(150, 300)))
            coarse = evaluate(project, "Forward")
            fine = evaluate(project, "Forward", 4 * coarse.reading.samples)
            # A foot counts as lifted once it is so high, at a row.
            for name, near in (("worst_margin_mm", 0.01), ("carried_margin_mm", 0.05), ("halted_margin_mm", 0.12)):
                one, other = coarse.figure(name), fine.figure(name)
                self.assertAlmostEqual(one, other, delta=max(near * other, 0.4), msg=f"{shape} {name}")
            self.assertLess(coarse.figure("carried_margin_mm"), coarse.figure("worst_margin_mm"))

    @in_turns
    def test_on_two_point_feet_it_sinks_as_their_legs_give_and_rocks_about_no_line_that_holds_nothing(self):
        for shape in ("four_sprawled", "four_upright"):
            r = evaluate(start(shape, "Trots", float(self.random.uniform(60, 500))), "Trot").reading
            gives, down = r.of(sag), r.course.contact[:, : r.samples].sum(axis=0)
            four, two = (np.abs(gives.down_mm[down == feet]) for feet in (4, 2))
            # Half as many springs; where the mass is not midway, one of them has more of it.
            self.assertTrue(((two > four.mean()) & (two < 6 * four.mean())).all(), two / four.mean())
            self.assertLess(np.degrees(np.abs(gives.turn).max()), 5.0)
            self.assertLess(np.abs(gives.shift_mm).max(), 5 * two.max())


class Bending(SeededTest):
    def test_a_lifted_leg_bends_its_own_mount_and_a_standing_one_gives_with_it(self):
        """F02's budget: what hangs on the mount, and where the plane of the three feet that stand comes to lie under
        what they carry, in newtons, times the give that was said."""
        project = quadruped()
        soft = changed(project, {f"walker/limbs/{n}/gives_mm_per_n": 0.4 for n in range(4)})
        one, other = (evaluate(p, "Forward").reading for p in (project, soft))
        leg = sum(e.mass_kg for e in one.assembled.masses if e.limb == 0) * GRAVITY
        was, now = ({s.limb: s for s in r.of(clearances)}[0] for r in (one, other))
        row, at = was.sample, one.course.feet_ground_mm[:, was.sample]
        down = np.flatnonzero(one.course.contact[:, row])
        self.assertEqual(len(down), 3)
        carried = [one.of(standing_forces).of_limb(n)[row, 2] for n in down.tolist()]
        plane = np.linalg.solve(np.column_stack([np.ones(3), at[down, :2]]), carried)
        at_foot = float(plane @ [1.0, *at[0, :2]])
        self.assertAlmostEqual(now.sag_mm - was.sag_mm, 0.4 * (leg + at_foot), delta=0.03 * now.sag_mm)

    def test_a_foot_lags_as_far_as_forward_kinematics_of_its_lagging_servos_says(self):
        r = evaluate(quadruped(), "Forward").reading
        lag = np.radians(r.of(servo_loads).lag_deg)
        row = int(r.of(foot_lag_mm)[0].argmax())
        columns = list(range(3))
        group = r.assembled.parts[0]
        values = np.stack([r.angles[row, columns], r.angles[row, columns] - lag[row, columns]])
        ends = forward(group.build.only([0]).chain, values[None])[0][0, :, -1]
        self.assertAlmostEqual(float(np.linalg.norm(ends[1] - ends[0])), float(r.of(foot_lag_mm)[0, row]), delta=0.1)


class Soles(SeededTest):
    @in_turns
    def test_what_lifts_its_soles_by_less_than_their_edges_come_down_as_it_leans_is_warned(self):
        """Held against its sag nothing else takes of the lift. As it comes it lifts well clear of that."""
        project = start("two_full", "Low", float(self.random.uniform(160, 500)))
        self.assertNotIn("F02", {f.code for f in evaluate(project, "Forward").findings})
        sole, index = project.walker.legs[0].feet[0].sole, [m.name for m in project.motions].index("Forward")
        edge = sole.length_mm / 2 * np.sin(np.radians(2.0))
        low = changed(project, {f"motions/{index}/lift_mm": round(0.95 * edge, 2)})
        (found,) = (f for f in evaluate(low, "Forward").findings if f.code == "F02")
        with self.subTest(edge=edge, seed=self.seed):
            self.assertEqual(found.severity, "warn")
            told = float(re.search(r"Leaning by ([\d.]+)°", found.message)[1])
            self.assertAlmostEqual(sole.length_mm / 2 * np.sin(np.radians(told)), found.value, delta=0.06 * edge)
            higher = next(r for r in remedies(low, "Forward", found) if r.title.startswith("Lift"))
            mended = patched(low, higher.patch)
            self.assertNotIn("F02", {f.code for f in evaluate(mended, "Forward").findings})


class TenMinutes(SeededTest):
    def test_measured_on_a_level_bench_whatever_floor_it_walks_on(self):
        level = demo("sorrel")
        sloping = changed(level, {"floor/slope_deg": 12.0})
        for project in (level, sloping):
            plan = evaluate(standing(project, "Forward"), AT_REST, 2).reading
            up = plan.of(standing_forces)
            self.assertAlmostEqual(float(up.forces[:, 0, 2].sum()), plan.assembled.total_kg * GRAVITY, places=6)

    @in_turns
    def test_what_the_plan_itself_would_show_changes_nothing(self):
        project = demo("sorrel")
        r = evaluate(standing(project, "Forward"), AT_REST, 2).reading
        planned = {line: [a.planned for a in taken(project, line, "Forward", self.read(project, r, line)).against]
                   for line in MEASUREMENTS}  # fmt: skip
        for line, values in planned.items():
            found = taken(project, line, "Forward", self.read(project, r, line))
            for against, was in zip(found.against, values, strict=True):
                self.assertAlmostEqual(against.measured, was, delta=max(0.02, 0.02 * abs(was)), msg=line)

    def read(self, project, r, line):
        """What each instrument would show of the machine as planned."""
        com, body = r.course.com_ground_mm[0], r.course.body.at[0]
        ahead = max(float(r.course.feet_ground_mm[i, 0, 0]) for i, m in enumerate(project.walker.limbs) if m.feet)
        sinks = float(r.of(sag).down_mm[0])
        stall = float(r.of(at_its_voltage).stall_nm[0])
        weights = {m.name: float(r.of(standing_forces).of_limb(i)[0, 2]) / GRAVITY * 1000
                   for i, m in enumerate(project.walker.limbs) if m.feet}  # fmt: skip
        return {
            "scales": weights,
            "tipped": {"tilt_deg": float(np.degrees(np.arctan2(ahead - com[0], com[2])))},
            "hung": {"hanging_mm": float(body[2]), "standing_mm": float(body[2]) - sinks},
            "wiggled": {"play_mm": max(p.play_mm for p in foot_plays(r))},
            "pulled": {"pull_g": stall / GRAVITY / 0.05 * 1000, "arm_mm": 50.0},
            "pressed": {"weight_g": 1000.0, "sinks_mm": 0.0, "bounces": 0.0},
            "slid": {"ahead_deg": float(np.degrees(np.arctan(0.6))), "across_deg": float(np.degrees(np.arctan(0.6)))},
        }[line]

    @in_turns
    def test_taken_over_the_plan_says_what_was_measured(self):
        project = demo("sorrel")
        feet = [m.name for m in project.walker.limbs if m.feet]
        weights = {name: float(self.random.uniform(380, 460)) for name in feet}
        read = {
            "scales": weights, "tipped": {"tilt_deg": 38.0}, "wiggled": {"play_mm": 5.0},
            "pulled": {"pull_g": 1500.0, "arm_mm": 50.0}, "pressed": {"weight_g": 500.0, "sinks_mm": 1.0, "bounces": 1},
            "slid": {"ahead_deg": 20.0, "across_deg": 15.0},
        }  # fmt: skip
        for line, values in read.items():
            found = taken(project, line, "Forward", values)
            again = taken(found.project, line, "Forward", values)
            for against in again.against:
                with self.subTest(line=line, what=against.what, seed=self.seed):
                    self.assertAlmostEqual(against.planned, against.measured, delta=max(0.6, 0.02 * against.measured))

    @in_turns
    def test_a_weaker_servo_turns_verdicts_and_says_which(self):
        found = taken(demo("fennel"), "pulled", "Forward", {"pull_g": 1000.0, "arm_mm": 50.0})
        self.assertIn(("F05", "sound", "warn"), {(t.code, t.before, t.after) for t in found.turned})

    def test_what_is_missing_or_cannot_be_is_named(self):
        project = demo("sorrel")
        for line, values, said in (
            ("scales", {"FL": 400.0}, r"values\.\w+: is missing"),
            ("tipped", {"tilt_deg": 95.0}, "values.tilt_deg: must be from"),
            ("hung", {"hanging_mm": 80.0, "standing_mm": 90.0}, "values.standing_mm"),
            ("pulled", {"pull_g": 100.0}, "values.arm_mm: is missing"),
            ("nothing", {}, "measurement: must be one of"),
        ):
            with self.subTest(line=line), self.assertRaisesRegex(InputRefused, said):
                taken(project, line, "Forward", values)
        self.assertEqual([a.name for a in asked_of(project, MEASUREMENTS["scales"])], ["FL", "FR", "BL", "BR"])

    def test_what_comes_to_nothing_says_what_to_do_first(self):
        project = demo("sorrel")
        feet = {m.name: 0.0 for m in project.walker.limbs if m.feet}
        light = dict.fromkeys(feet, 10.0)
        for line, values, said in (
            ("scales", feet, "the scale has shown nothing"),
            ("scales", light, "put servos and links right first"),
            ("hung", {"hanging_mm": 95.0, "standing_mm": 95.0}, "the belly sinks when it stands"),
        ):
            with self.subTest(line=line, said=said), self.assertRaisesRegex(InputRefused, said):
                taken(project, line, "Forward", values)

    def test_of_a_machine_without_a_listed_mass_what_is_over_is_one_where_it_has_to_be(self):
        """Weighed heavier than its links and servos, with no mass on its body to put right."""
        project = demo("sorrel")
        body = project.walker.sections[0].name
        bare = changed(project, {
            "walker/masses": [m for m in document(project)["walker"]["masses"] if m["on"] != body]
        })  # fmt: skip
        r = evaluate(standing(bare, "Forward"), AT_REST, 2).reading
        planned_g = 1000 * r.assembled.total_kg
        feet = [i for i, m in enumerate(bare.walker.limbs) if m.feet]
        weights = self.random.uniform(0.8, 1.2, len(feet))
        weights *= planned_g * float(self.random.uniform(1.3, 1.8)) / weights.sum()
        values = {bare.walker.limbs[i].name: float(w) for i, w in zip(feet, weights, strict=True)}
        found = taken(bare, "scales", "Forward", values)
        (made,) = [m for m in found.project.walker.masses if m.name == "As weighed"]
        self.assertAlmostEqual(made.mass_g, weights.sum() - planned_g, delta=0.1)
        after = evaluate(standing(found.project, "Forward"), AT_REST, 2).reading
        places = after.course.feet_ground_mm[feet, 0, :2]
        np.testing.assert_allclose(after.course.com_ground_mm[0, :2], weights @ places / weights.sum(), atol=0.2)
        # As heavy as its parts are listed there is nothing that could be somewhere else.
        fair = {name: value * planned_g / weights.sum() for name, value in values.items()}
        with self.assertRaisesRegex(InputRefused, "no mass is listed on the body"):
            taken(bare, "scales", "Forward", fair)
