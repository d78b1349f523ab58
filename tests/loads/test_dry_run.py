"""Dry runs: the machine beside its plan against mechanics, and what is told of how it goes."""

from __future__ import annotations

import json
import unittest

import mujoco
import numpy as np

from bustle.core.dry_run.beside_its_plan import BODY, beside_plan
from bustle.core.dry_run.dry_run import NOMINAL, VARIANTS, Running, dry_run
from bustle.core.dry_run.let_go import SINKS_MM, STEP_S, LetGo, Machine
from bustle.core.dry_run.mends import mends
from bustle.core.dry_run.rows import curve_of, rows
from bustle.core.dry_run.steps import walk
from bustle.core.dry_run.touch import lowest, touching
from bustle.core.edits.mirroring import mirror_image
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.geometry.serial_chain import forward, turned_by
from bustle.core.judge.judgements.ground.scuffing import PUSHING
from bustle.core.loads.by_servo import servo_levers
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.loads.moving import placed
from bustle.core.machine.masses import GRAVITY
from bustle.core.machine.soles import touching as touching_of
from bustle.core.project.walker import CurvedSole
from bustle.core.starting.own_numbers import OwnNumbers
from bustle.core.starting.starting_walkers import start_from
from bustle.core.walk.motions.own_ends import in_order
from bustle.core.words.problems import InputRefused
from bustle.formats.robot_files.mjcf_out import write_mjcf
from tests.loads.test_slopes import sloping
from tests.long import in_turns
from tests.projects import changed, demo, stands, start
from tests.seeded import SeededTest
from tests.terminal import bustle

ALONE = {NOMINAL: VARIANTS[NOMINAL]}
SHAPES = ("six_sprawled", "four_upright", "four_upright_2", "two_full", "two_planar", "four_casters")


def reading(project, motion="Stand"):
    return evaluate(project, motion).reading


class Mechanics(SeededTest):
    @in_turns
    def test_feet_are_where_the_machine_as_it_lies_has_them_and_go_as_it_is_told(self):
        """Body and servos far off their plan, at random: tips against forward kinematics, rates against differences."""
        for shape in ("six_sprawled", "four_upright", "four_sprawled", "two_rocker"):
            project = start(shape, "Lies", float(self.random.uniform(120, 320)))
            r = reading(project, project.motions[0].name)
            plan, row = r.of(beside_plan), int(self.random.integers(r.samples - 1))
            shift, lean = self.random.normal(0, 0.02, 3), self.random.normal(0, 0.2, 3)
            servos = self.random.normal(0, 0.3, plan.servos.shape[1])
            touch = touching(r.of(rows), row, 0.0, shift, turned_by(lean), servos)
            with self.subTest(shape=shape, seed=self.seed):
                if not plan.rolling:
                    joints = r.angles[row] + servos @ r.of(servo_levers)[min(row, len(r.of(servo_levers)) - 1)]
                    body, centre = r.of(placed), plan.centre[row]
                    for group in r.assembled.parts:
                        points, _ = forward(group.built, joints[group.columns][:, None] + group.zeros[:, None])
                        tips = points[:, 0, -1] / 1000 @ body.turn[row].T + body.at[row]
                        own = [plan.limb.tolist().index(m) for m in group.members.tolist()]
                        lies = (tips - centre) @ turned_by(lean).T + centre + shift
                        np.testing.assert_allclose(touch.at[own], lies, atol=1e-9)
                rates = self.random.normal(0, 1, plan.mass.shape[1])
                step = 1e-6 * rates
                on = (shift + step[:3], turned_by(step[3:BODY]) @ turned_by(lean), servos + step[BODY:])
                later = touching(r.of(rows), row, 0.0, *on)
                went = later.at - touch.at
                for n, rolls in enumerate(plan.rolling):
                    # What touches moves on over the sole as it rolls; the sole itself there goes as it is told.
                    went[rolls.point] -= later.lies[n] @ (later.local[n] - touch.local[n])
                np.testing.assert_allclose(went / 1e-6, touch.moves @ rates, atol=2e-4)

    def test_a_curved_sole_touches_where_it_is_told_to_elsewhere(self):
        """As lies at random, with ends and without, what is compiled beside what judges a plan."""
        for long, wide in ((None, None), (40.0, None), (None, 25.0), (60.0, 30.0)):
            fore, side = self.random.uniform(20, 120, 2).tolist()
            sole = CurvedSole(radius_fore_mm=fore, radius_side_mm=side, length_mm=long, width_mm=wide)
            foot = start("two_rocker", "Rolls", 180.0).walker.legs[0].feet[0].model_copy(update={"sole": sole})
            for lean in self.random.normal(0, 0.3, (20, 3)):
                lies = turned_by(lean)
                with self.subTest(sole=sole, lean=lean, seed=self.seed):
                    curve = lies @ np.array(lowest(lies, np.array(curve_of(sole))))
                    np.testing.assert_allclose(
                        1000 * curve, touching_of(foot, np.zeros((1, 3)), lies[None])[0], atol=1e-9
                    )

    def test_a_rocker_turns_and_rolls_as_an_engine_s_does(self):
        """Two cycles from rest: it swings round by ±24° and from side to side by ±2°."""
        length = float(self.random.uniform(110, 300))
        project = start("two_rocker", "Rocks", length)
        r, go = reading(project, "Forward"), LetGo([Machine(play_deg=0.0)])
        give = project.servo_types[0].full_torque_at_deg
        model = mujoco.MjSpec.from_string(write_mjcf(project, give).data.decode()).compile()
        data = mujoco.MjData(model)
        mujoco.mj_resetDataKeyframe(model, data, model.key("Forward").id)
        own, sent = [model.actuator(joint.path).id for joint in r.kit.joints], r.of(sent_joints)
        mujoco.mj_forward(model, data)
        body = data.body(project.walker.sections[0].name)
        begun = body.xpos[:2].copy()
        for cycle in (1, 2):
            turned, rolled = [], []
            for row in range(r.samples):
                data.ctrl[own] = sent[row]
                mujoco.mj_step(model, data, nstep=round(r.row_s / model.opt.timestep))
                turned.append(np.degrees(np.arctan2(body.xmat[3], body.xmat[0])))
                rolled.append(np.degrees(np.arcsin(body.xmat[7])))
            (went,) = go.go_on(r).lean_deg
            with self.subTest(cycle=cycle, seed=self.seed):
                self.assertLess(abs(np.degrees(go.frame[0]) - turned[-1]), 8.0)
                self.assertLess(abs(went.max() - np.abs(rolled).max()), 2.0)
                self.assertGreater(np.ptp(turned), 40.0)
        self.assertLess(1000 * np.linalg.norm(go.at[0, :2] - body.xpos[:2] + begun), 0.2 * length)

    @in_turns
    def test_on_a_floor_that_gives_it_stands_as_much_deeper(self):
        """Its whole weight on one point would press that in by 4 mm, on each of its feet by their share of it."""
        shape, feet = [("four_upright", 4), ("six_sprawled", 6), ("four_sprawled", 4)][self.random.integers(3)]
        project, softer = start(shape, "Sinks", float(self.random.uniform(120, 320))), float(self.random.uniform(5, 20))
        go = LetGo([Machine(play_deg=0.0), Machine(play_deg=0.0, soft=softer)])
        for _ in range(2):
            go.go_on(reading(project))
        firm_mm, soft_mm = 1000 * go.state.lies.shift[:, 2]
        with self.subTest(shape=shape, softer=softer, seed=self.seed):
            self.assertAlmostEqual(firm_mm - soft_mm, SINKS_MM * (softer - 1) / feet, delta=0.1 * (firm_mm - soft_mm))

    @in_turns
    def test_its_energy_of_motion_is_an_engine_s(self):
        """½·żᵀ·M·ż against ½·q̇ᵀ·M·q̇ of the exported machine, posed as planned, for rates at random."""
        for shape in ("six_sprawled", "four_upright", "two_full"):
            project = start(shape, "Moves", float(self.random.uniform(120, 320)))
            name = project.motions[0].name
            r = reading(project, name)
            model = mujoco.MjSpec.from_string(write_mjcf(project).data.decode()).compile()
            data = mujoco.MjData(model)
            mujoco.mj_resetDataKeyframe(model, data, model.key(name).id)
            mujoco.mj_forward(model, data)
            plan = r.of(beside_plan)
            rates = self.random.normal(0, 1, plan.mass.shape[1])
            moved = np.zeros(model.nv)
            turn = data.body(project.walker.sections[0].name).xmat.reshape(3, 3)
            moved[:3] = rates[:3] + np.cross(rates[3:BODY], r.course.body.at[0] / 1000 - plan.centre[0])
            moved[3:6] = turn.T @ rates[3:BODY]
            joints = rates[BODY:] @ r.of(servo_levers)[0]
            for joint, rate in zip(r.kit.joints, joints, strict=True):
                moved[model.joint(joint.path).dofadr[0]] = rate
            whole = np.zeros((model.nv, model.nv))
            mujoco.mj_fullM(model, data, whole)
            with self.subTest(shape=shape):
                engine, ours = moved @ whole @ moved, rates @ plan.mass[0] @ rates
                self.assertAlmostEqual(ours / engine, 1.0, delta=2e-3)

    @in_turns
    def test_standing_it_comes_to_rest_where_load_says_it_sags(self):
        for shape in ("four_sprawled", "six_upright", "two_full"):
            soft = float(self.random.uniform(3, 8))
            project = changed(
                stands(shape, "Sinks", float(self.random.uniform(150, 300))),
                {"servo_types/0/full_torque_at_deg": soft, "servo_types/0/play_deg": 0.0, "against_sag": "off",
                 "floor": {"friction": 3.0}},
            )  # fmt: skip
            r = reading(project)
            go = LetGo([Machine()])
            for _ in range(3):
                go.go_on(r)
            down = r.of(sag).down_mm[0]
            self.assertLess(np.abs(go.state.lies.rate).max(), 1e-3)
            with self.subTest(shape=shape, soft=soft):
                # Its feet press some tenths of a millimetre into the floor besides.
                self.assertAlmostEqual(-1000 * go.state.lies.shift[0, 2], down, delta=0.1 * down + 0.3)

    @in_turns
    def test_pushed_it_slides_as_far_as_dry_friction_lets_it(self):
        """v²/(2·µ·g), on legs that do not give."""
        grip, speed = float(self.random.uniform(0.1, 0.3)), float(self.random.uniform(0.2, 0.5))
        project = changed(stands("four_sprawled", "Slides", 200.0), {"floor": {"friction": grip}})
        r, go = reading(project), LetGo([Machine(gives=0.01, play_deg=0.0)])
        go.go_on(r)
        came = go.at[0, :2].copy()
        go.state.lies.rate[0, 0] = speed
        while np.abs(go.state.lies.rate[0, :2]).max() > 1e-4:
            go.go_on(r)
        gone = np.linalg.norm(go.at[0, :2] - came)
        self.assertAlmostEqual(gone / (speed**2 / (2 * grip * GRAVITY)), 1.0, delta=0.08)

    @in_turns
    def test_firm_servos_on_a_floor_that_holds_walk_the_plan(self):
        project = changed(start("six_sprawled", "Firm", 200.0), {"floor": {"friction": 1.0}})
        (run,) = dry_run(project, "Forward", machines={"firm": Machine(gives=0.2, play_deg=0.0)})
        self.assertAlmostEqual(run.covers, 1.0, delta=0.02)
        self.assertLess(run.leans_deg, 0.2)
        bent = changed(project, {"motions/0/twist/omega_deg_s": 12.0})
        (arc,) = dry_run(bent, "Forward", machines={"firm": Machine(gives=0.2, play_deg=0.0)})
        self.assertAlmostEqual(arc.covers, 1.0, delta=0.03)
        (turns,) = dry_run(project, "Turn left", machines={"firm": Machine(gives=0.2, play_deg=0.0)})
        self.assertAlmostEqual(turns.covers, 1.0, delta=0.03)

    @in_turns
    def test_in_half_as_long_steps_it_comes_to_the_same(self):
        for shape, motion in (("four_upright", "Trot"), ("six_sprawled", "Forward"), ("two_full", "Forward")):
            project = start(shape, "Halved", float(self.random.uniform(150, 300)))
            long, short = (Running(project, motion, VARIANTS, step_s).told() for step_s in (STEP_S, STEP_S / 2))
            for one, other in zip(long, short, strict=True):
                with self.subTest(shape=shape, machine=one.machine, seed=self.seed):
                    self.assertAlmostEqual(one.covers, other.covers, delta=0.08)
                    self.assertAlmostEqual(one.leans_deg, other.leans_deg, delta=1.0)

    @in_turns
    def test_soles_do_not_skate_over_a_floor_that_holds_little(self):
        for machine in (Machine(), Machine(grip=0.5)):
            project = start("two_servo", "Skates", float(self.random.uniform(110, 380)))
            holds = float(self.random.uniform(0.15, 0.3)) / machine.grip
            project = changed(project, {"floor/friction": round(holds, 3)})
            (run,) = dry_run(project, "Forward", machines={"one": machine})
            with self.subTest(holds=holds, machine=machine, seed=self.seed):
                self.assertAlmostEqual(run.covers, 1.0, delta=0.15)
                self.assertEqual(run.goes_badly, "")

    @in_turns
    def test_what_is_compiled_is_compiled_once_for_machines_of_every_kind(self):
        """A second time would take a quarter of a minute of somebody's wait."""
        for shape in ("six_sprawled", "two_rocker", "two_planar", "four_casters", "two_wheels"):
            project = start(shape, "Once", float(self.random.uniform(150, 250)))
            for motion in ("Forward", "Stand"):
                dry_run(project, motion, machines=ALONE)
        self.assertEqual(len(walk.signatures), 1)

    @in_turns
    def test_a_mirrored_machine_goes_mirrored(self):
        project = demo("sorrel")
        (run,), (image,) = (dry_run(p, "Forward", machines=ALONE) for p in (project, mirror_image(project)))
        self.assertAlmostEqual(run.covers, image.covers, delta=0.02)
        self.assertAlmostEqual(run.veers_deg, -image.veers_deg, delta=0.2)

    @in_turns
    def test_a_trot_leans_as_far_as_balance_tells(self):
        project = start("four_sprawled", "Leans", 220.0)
        told = evaluate(project, "Trot").figure("lean_deg")
        (run,) = dry_run(project, "Trot", machines={"firm": Machine(gives=0.2, play_deg=0.0)})
        self.assertAlmostEqual(run.leans_deg, told, delta=1.5)


class Told(SeededTest):
    @in_turns
    def test_what_goes_badly_has_a_word_and_what_goes_well_has_none(self):
        sound = start("four_sprawled", "Walks", 220.0)
        self.assertEqual(dry_run(sound, "Forward", machines=ALONE)[0].goes_badly, "")
        weak = changed(sound, {"servo_types/0/stall_torque_nm": 0.06})
        (run,) = dry_run(weak, "Forward", machines=ALONE)
        self.assertRegex(run.goes_badly, "falls after|of its way|leans|drags")
        hips = changed(
            start("two_full", "Hips", 260.0), {"against_sag": "off", "servo_types/0/full_torque_at_deg": 5.0}
        )
        self.assertRegex(dry_run(hips, "Forward", machines=ALONE)[0].goes_badly, "falls after|leans")

    @in_turns
    def test_wheels_swayed_across_the_way_they_roll_are_said_to_push_it_on(self):
        """Told by the finding, borne out by the run; without the sway neither says a word."""
        straight = start("two_wheels", "Sways", float(self.random.uniform(150, 300)))
        sway = [{"harmonic": 1, "y_cos_mm": float(self.random.uniform(15, 35)), "y_sin_mm": 0.0}]
        back = next(n for n, m in enumerate(straight.motions) if m.name == "Back")
        for project, badly in ((straight, False), (changed(straight, {f"motions/{back}/pose/sway": sway}), True)):
            (run,) = dry_run(project, "Back", machines=ALONE)
            said = [f.message for f in evaluate(project, "Back").findings if f.code == "F12"]
            with self.subTest(badly=badly, seed=self.seed, covers=run.covers):
                self.assertEqual(bool(run.goes_badly), badly)
                self.assertEqual([PUSHING in line for line in said], [True] if badly else [])

    def test_it_begins_with_its_own_start_and_ends_with_its_own_stop(self):
        self.assertEqual(in_order(demo("bramble"), "Forward"), ("Start", "Forward", "Stop"))
        self.assertEqual(in_order(demo("fennel"), "Hurry")[-1], "Hurry")

    @in_turns
    def test_four_legs_by_ones_own_numbers_come_with_a_trot_that_goes_well(self):
        long, short = (180.0, 110.0, 50.0), (154.0, 110.0, 44.0)
        for family, body, links in (
            ("upright_3", long, (30.0, 90.0, 100.0)),
            ("sprawled_3", long, (40.0, 80.0, 110.0)),
            # In the usual cycle so short a body leans too far before the next feet land.
            ("upright_3", short, (40.0, 110.0, 110.0)),
        ):
            own = OwnNumbers(family, 4, "sides", body, "box", links)
            (run,) = dry_run(start_from(own, "Own"), "Trot", machines=ALONE)
            with self.subTest(family=family, run=run.sentence):
                self.assertEqual(run.goes_badly, "")

    @in_turns
    def test_numbers_by_which_every_trot_falls_come_without_and_say_so(self):
        """Tall and narrow: on one machine of its dry runs or another it tips over, in an engine too."""
        own = OwnNumbers("upright_2", 4, "round", (125.4, 125.4, 31.6), "round", (19.5, 103.2, 131.0))
        project = start_from(own, "Tall")
        names = {motion.name for motion in project.motions}
        self.assertIn("Forward", names)
        self.assertNotIn("Trot", names)
        self.assertIn("no trot", project.note)

    @in_turns
    def test_upright_trots_that_are_not_held_overrun_and_held_they_do_not(self):
        """The finding that nothing told before, its remedy, and what that is told to come to."""
        held = start("four_upright_2", "Runs on", 290.0)
        trot = held.motions[2]
        self.assertEqual((trot.name, dry_run(held, "Trot", machines=ALONE)[0].goes_badly), ("Trot", ""))
        quicker = {"vx_mm_s": trot.twist.vx_mm_s * trot.cycle_s / 0.6}
        edits = {"motions/2/lift_mm": 39.0, "motions/2/cycle_s": 0.6, "motions/2/twist": quicker}
        loose = changed(held, {"against_sag": "off", **edits})
        (run,) = dry_run(loose, "Trot", machines=ALONE)
        self.assertGreater(run.covers, 1.2)
        found = mends(loose, "Trot")
        self.assertTrue(found)
        self.assertIn("Held against sag", " ".join(m.title for m in found))
        for mend in found:
            (after,) = dry_run(patched(loose, mend.patch), "Trot", machines=ALONE)
            self.assertEqual((after.covers, after.goes_badly), (mend.run.covers, ""))

    @in_turns
    def test_a_rocker_tells_how_far_it_goes_and_in_too_quick_a_cycle_falls_until_that_is_longer(self):
        sound = start("two_rocker", "Rocks", 150.0)
        (run,) = dry_run(sound, "Forward", machines=ALONE)
        self.assertEqual((run.goes_badly, run.covers), ("", None))
        self.assertGreater(run.goes_mm, 8.0)
        self.assertIn("mm a cycle", run.sentence)
        quick = changed(sound, {f"motions/{n}/cycle_s": 0.56 for n in (0, 2, 3)})
        self.assertTrue(dry_run(quick, "Forward", machines=ALONE)[0].goes_badly)
        self.assertIn("A cycle 1.25 times as long, the same steps", [mend.title for mend in mends(quick, "Forward")])

    def test_what_has_no_servo_is_refused_in_a_sentence(self):
        bare = changed(start("four_upright", "Bare", 200.0), {"servo_types/0/stall_torque_nm": 1e-9})
        with self.assertRaisesRegex(InputRefused, "next to no torque"):
            dry_run(bare, "Forward", machines=ALONE)

    @in_turns
    def test_from_a_terminal(self):
        said = bustle("dry-run", "demo/fennel.bustle.json", "--motion", "Forward").stdout.splitlines()
        self.assertEqual(len(said), 1 + len(VARIANTS))
        self.assertIn("of its way", said[1])
        runs = json.loads(bustle("dry-run", "demo/fennel.bustle.json", "--motion", "Forward", "--json").stdout)
        self.assertEqual([run["machine"] for run in runs], list(VARIANTS))
        self.assertIn("no motion", bustle("dry-run", "demo/fennel.bustle.json", "--motion", "X", expect=2).stderr)


if __name__ == "__main__":
    unittest.main()


class LetGoOnASlope(SeededTest):
    """A machine that only stands, let go on a slope: a block on an incline, by the textbook."""

    def slid(self, slope, friction, uphill, seconds=2.0):
        """(K, 2) m: where it has come to at the end of each 0.4 s that it stands."""
        project = start("six_sprawled", "Slides", 200.0)
        index = [m.name for m in project.motions].index("Stand")
        asked = sloping(project, slope, uphill, **{"floor/friction": friction, f"motions/{index}/cycle_s": 0.4})
        r = evaluate(asked, "Stand").reading
        go, places = LetGo([Machine(play_deg=0.0)]), []
        for _ in range(round(seconds / r.score.duration_s)):
            self.assertTrue(go.go_on(r).up.all())
            places.append(go.at[0, :2].copy())
        return np.array(places)

    @in_turns
    def test_where_the_floor_holds_it_stays_and_else_it_slides_by_what_is_over(self):
        """a = g·(sin σ − µ·cos σ), downhill, from rest."""
        slope, uphill = float(self.random.uniform(10, 20)), float(self.random.choice([0.0, 90.0, 180.0, -60.0]))
        steep = np.tan(np.radians(slope))
        held = self.slid(slope, round(float(1.3 * steep), 3), uphill)
        with self.subTest(slope=slope, uphill=uphill, seed=self.seed):
            self.assertLess(np.hypot(*held[-1]), 0.003)
        holds = round(float(0.5 * steep), 3)
        gone = self.slid(slope, holds, uphill)
        down = -np.array([np.cos(np.radians(uphill)), np.sin(np.radians(uphill))])
        along, aside = gone @ down, gone @ [-down[1], down[0]]
        speeds_up = GRAVITY * (np.sin(np.radians(slope)) - holds * np.cos(np.radians(slope)))
        with self.subTest(slope=slope, uphill=uphill, seed=self.seed):
            np.testing.assert_allclose(np.diff(along, 2), speeds_up * 0.4**2, rtol=0.1)
            self.assertLess(np.abs(aside).max(), 0.05 * along[-1])
