"""Whether joints as soft as they are hold a machine up on one sole, and ankles tip one from sole to sole."""

from __future__ import annotations

import unittest

import mujoco
import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.falling.leans_on import leans_on
from bustle.core.falling.tipping_ankles import tipped
from bustle.core.machine.masses import GRAVITY
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from bustle.core.starting.leg_that_stands import leg_that_stands
from bustle.core.starting.own_numbers import OwnNumbers
from bustle.core.starting.starting_walkers import start_from
from bustle.formats.robot_files.mjcf_out import write_mjcf
from tests.engine.played import Played, planned_mm
from tests.engine.random_walkers import in_order
from tests.long import in_turns
from tests.projects import changed, start
from tests.seeded import SeededTest

STEP = 1e-3


def curvature(project, r, found):
    """∂²U/∂q² (J, J) of what the standing leg carries, by the engine's kinematics: its foot held as it stands."""
    model = mujoco.MjSpec.from_string(write_mjcf(project).data.decode()).compile()
    data = mujoco.MjData(model)
    name = project.walker.limbs[found.limb].name
    for n, joint in enumerate(r.kit.joints):
        data.qpos[model.joint(joint.path).qposadr[0]] = r.angles[found.row, n]
    own = [model.joint(j.path).qposadr[0] for j in r.kit.joints if j.limb.name == name]
    foot = [n for n in range(model.nbody) if model.body(n).name.startswith(f"{name}/")][-1]
    begun = data.qpos.copy()

    def energy(turns):
        data.qpos[:] = begun
        data.qpos[own] += turns
        mujoco.mj_forward(model, data)
        centre = data.subtree_com[1] - data.xpos[foot]
        # Seen from the foot, which lies flat on the floor.
        return float(model.body_mass.sum() * GRAVITY * (data.xmat[foot].reshape(3, 3).T @ centre)[2])

    unit = STEP * np.eye(len(own))
    return np.array(
        [[(energy(a + b) - energy(a - b) - energy(b - a) + energy(-a - b)) / (4 * STEP**2) for b in unit] for a in unit]
    )


class LeaningOn(SeededTest):
    @in_turns
    def test_it_is_the_curvature_of_what_the_leg_carries_against_its_stiffness(self):
        for shape in ("two_full", "two_planar"):
            project = changed(start(shape, "Stands", float(self.random.uniform(120, 400))), {"against_sag": "off"})
            r = evaluate(project, "Forward").reading
            found = r.of(leans_on)
            columns = [n for n, j in enumerate(r.kit.joints) if j.limb.name == project.walker.limbs[found.limb].name]
            own = [k for k, servo in enumerate(r.kit.servos) if servo.first in columns]
            soft = np.sqrt([r.kit.full_torque_at[k] / r.kit.servos[k].sheet.stall_torque_nm for k in own])
            curved = curvature(project, r, found)
            with self.subTest(shape=shape, seed=self.seed):
                share = float(np.linalg.eigvalsh(-soft[:, None] * curved * soft)[-1])
                self.assertAlmostEqual(found.share, share, delta=2e-3 * share)

    @in_turns
    def test_a_machine_that_is_told_to_lean_on_falls_in_its_walk_and_a_stiffer_one_does_not(self):
        sound = start("two_planar", "Stands", 240.0)
        share = evaluate(sound, "Forward").reading.of(leans_on).share
        for wanted, up in ((0.5, True), (1.4, False)):
            soft = changed(sound, {"servo_types/0/full_torque_at_deg": round(5.0 * wanted / share, 2)})
            plan = evaluate(soft, "Forward")
            told = [f for f in plan.findings if f.code == "F07" and f.title == "Too soft to stand"]
            self.assertAlmostEqual(plan.reading.of(leans_on).share, wanted, delta=0.01)
            self.assertEqual(bool(told), not up)
            played = Played(soft, in_order(soft, "Forward", 3), soft.servo_types[0].full_torque_at_deg)
            self.assertEqual(played.up, up)

    def test_a_stronger_servo_clears_it(self):
        sound = start("two_planar", "Stands", 240.0)
        share = evaluate(sound, "Forward").reading.of(leans_on).share
        soft = changed(sound, {"servo_types/0/full_torque_at_deg": round(5.0 * 1.4 / share, 2)})
        finding = next(f for f in evaluate(soft, "Forward").findings if f.title == "Too soft to stand")
        self.assertTrue(any("Stronger servos" in one.title for one in remedies(soft, "Forward", finding)))


class TippingOver(SeededTest):
    def narrow(self, share):
        project = start("two_servo", "Tips", 140.0)
        width = project.walker.limbs[0].feet[0].sole.width_mm
        return changed(project, {f"walker/limbs/{n}/feet/0/sole/width_mm": width * share for n in (0, 1)})

    def test_soles_too_narrow_to_tip_on_to_and_a_cycle_too_quick_are_stopped_and_mended(self):
        sound = start("two_servo", "Tips", 140.0)
        self.assertFalse(evaluate(sound, "Forward").stops)
        quick = changed(
            sound, {f"motions/{n}/cycle_s": 0.36 for n, m in enumerate(sound.motions) if m.kind == "swings"}
        )
        for project, code in ((self.narrow(0.4), "F35"), (quick, "F53")):
            found = [f for f in evaluate(project, "Forward").findings if f.code == code and f.severity == "stop"]
            self.assertEqual(len(found), 1, code)
            mended = remedies(project, "Forward", found[0])
            self.assertTrue(mended, code)
            for one in mended:
                better = evaluate(patched(project, one.patch), "Forward").stops
                self.assertFalse([s for s in better if s[0] == code], one.title)

    @in_turns
    def test_it_turns_as_it_is_told_by_swinging_one_hip_alone(self):
        project = start("two_servo", "Turns", float(self.random.uniform(100, 240)))
        for name, left in (("Turn left", 1.0), ("Turn right", -1.0)):
            r = evaluate(project, name).reading
            theta = np.degrees(r.course.body.travel[2])
            told = float(theta[r.samples - 1] - theta[0]) * r.samples / (r.samples - 1)
            self.assertGreater(left * told, 5.0)
            starts, *_ = in_order(project, name)
            self.assertEqual(starts, (f"Start {name.lower()}", 1))
            once, more = (Played(project, [starts, (name, times)]) for times in (2, 6))
            self.assertTrue(more.up)
            self.assertAlmostEqual((more.turned_deg - once.turned_deg) / 4, told, delta=0.2 * abs(told))

    @in_turns
    def test_the_engine_bears_both_out(self):
        sound, narrow = start("two_servo", "Tips", 140.0), self.narrow(0.4)
        way = {}
        for name, project in (("sound", sound), ("narrow", narrow)):
            played = Played(project, in_order(project, "Forward"))
            way[name] = played.way_mm if played.up else 0.0
        tips = evaluate(narrow, "Forward").reading.of(tipped)
        self.assertGreater(tips.inner_mm, tips.inner_most_mm)
        for name, project in (("sound", sound), ("narrow", narrow)):
            share = way[name] / planned_mm(project, in_order(project, "Forward"))
            self.assertEqual(0.8 <= share <= 1.2, name == "sound", share)

    @in_turns
    def test_the_way_that_is_told_is_the_way_it_goes_however_far_its_ankles_swing(self):
        """Soles of 0.7 to 1 of the shape's, ankles from 4° to 12°."""
        sole, swing = float(self.random.uniform(0.7, 1.0)), float(self.random.uniform(4.0, 12.0))
        project = self.narrow(sole)
        edits = {
            f"motions/{n}/joints/{k}/swing": swing * float(np.sign(joint.swing))
            for n, motion in enumerate(project.motions)
            if motion.kind == "swings"
            for k, joint in enumerate(motion.joints)
            if joint.joint == "ankle"
        }
        project = changed(project, edits)
        played = Played(project, in_order(project, "Forward"))
        share = played.way_mm / planned_mm(project, in_order(project, "Forward"))
        with self.subTest(sole=sole, swing=swing):
            self.assertTrue(0.8 <= share <= 1.2, share)


class OnThreeLegs(SeededTest):
    @in_turns
    def test_what_rests_on_the_foot_it_lifts_falls_short_and_on_six_legs_walks(self):
        scale = float(self.random.uniform(0.8, 2.0))
        links = tuple(round(v * scale, 1) for v in (40.0, 70.0, 95.0))
        for legs, walks in ((3, False), (6, True)):
            body = (180.0 * scale, 180.0 * scale, 40.0 * scale)
            machine = start_from(OwnNumbers("sprawled_3", legs, "round", body, "round", links), "Round")
            found = [f.title for f in evaluate(machine, "Forward").findings if f.code == "F19"]
            way = (("Forward", 6),)
            covers = Played(machine, way).way_mm / planned_mm(machine, way)
            with self.subTest(legs=legs, seed=self.seed, covers=covers):
                self.assertEqual(found, [] if walks else ["Rests on a lifted foot"])
                self.assertEqual(covers > 0.8, walks)


class OnOneFoot(SeededTest):
    @in_turns
    def test_a_trot_with_a_leg_held_is_stopped_and_falls_short_of_its_way(self):
        """One foot of each pair in turn is all it has: it lies on what it is to swing."""
        shape = str(self.random.choice(["four_upright", "four_upright_2"]))
        whole = start(shape, "Whole", float(self.random.uniform(120.0, 350.0)))
        values = document(whole)
        trot = next(motion for motion in values["motions"] if motion["name"] == "Trot")
        held = trot["legs"].pop(int(self.random.integers(4)))["limb"]
        trot["held"], trot["gait"] = [{"limb": held}], "custom"
        way = (("Trot", 6),)
        for project, walks in ((whole, True), (parse_project(values), False)):
            found = [f.title for f in evaluate(project, "Trot").findings if f.severity == "stop"]
            covers = Played(project, way).way_mm / planned_mm(project, way)
            with self.subTest(shape=shape, held=held, seed=self.seed, covers=covers):
                self.assertEqual("Rests on a lifted foot" not in found, walks)
                self.assertEqual(covers > 0.8, walks)


class OnSolesAndTips(SeededTest):
    @in_turns
    def test_two_soles_and_a_tip_in_turn_are_stopped_and_fall_or_fall_short(self):
        """Neither what leans between tips nor what stands on soles alone."""
        shape = str(self.random.choice(["two_full", "two_parallelogram"]))
        family = str(self.random.choice(["upright_3", "biped_5_no_yaw"]))
        length = float(self.random.uniform(140.0, 250.0))
        values = document(leg_that_stands(start(shape, "Three", length), family))
        walk = next(motion for motion in values["motions"] if motion["name"] == "Forward")
        walk |= {"gait": "custom", "balance": "dynamic", "cycle_s": 1.2}
        walk["pose"]["sway"], walk["twist"]["vx_mm_s"] = [], 0.2 * length
        for n, leg in enumerate(walk["legs"]):
            leg |= {"phase": round(n / 3, 3), "duty": 0.67}
        values |= {"motions": [walk], "controls": [], "walked": []}
        values["start_up"] |= {"pose": None, "fail_safe": None}
        project, way = parse_project(values), (("Forward", 5),)
        found = {f.code for f in evaluate(project, "Forward").findings if f.severity == "stop"}
        played = Played(project, way)
        covers = played.way_mm / planned_mm(project, way)
        with self.subTest(shape=shape, family=family, length=length, seed=self.seed):
            self.assertIn("F53", found)
            self.assertTrue(not played.up or covers < 0.9, covers)


if __name__ == "__main__":
    unittest.main()
