"""MJCF and URDF out, loaded and played by a physics engine that knows nothing of us."""

from __future__ import annotations

import tempfile
import unittest
from pathlib import Path

import mujoco
import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.document.file import save_project
from bustle.core.evaluate import evaluate
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.project.project import document
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.formats.robot_files.mjcf_out import FULL_TORQUE_DEG, write_mjcf
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.formats.posed import Engine, Posed
from tests.long import in_turns, is_long, share
from tests.projects import bending, changed, demo, fault, hexapod, start
from tests.seeded import SeededTest
from tests.terminal import bustle


class Agrees(Posed):
    @is_long
    def test_every_starting_shape(self):
        for shape in share(self.random, list(SHAPES), 5):
            length = float(self.random.uniform(60, 600))
            project = start(shape, f"{shape} {length:.0f}", length)
            self.agree(project, project.motions[0].name)

    @in_turns
    def test_every_demo_walker_and_a_bent_frame(self):
        for name in ("fennel", "sorrel"):
            project = demo(name)
            files = self.files(project)
            for motion in project.motions:
                self.agree(project, motion.name, files)
        values = document(hexapod())
        hinge = {"on": "body", "at_mm": [-40.0, 0.0, 3.0], "to_mm": [-50.0, 0.0, 2.0], "axis": "yaw"}
        values["walker"]["sections"].append({"name": "back", "size_mm": [60.0, 80.0, 30.0], "hinge": hinge})
        values["walker"]["masses"].append({"name": "Tail", "mass_g": 80.0, "on": "back", "at_mm": [-10.0, 4.0, 6.0]})
        values["motions"][0]["pose"]["bends"] = [{"section": "back", "angle_deg": 12.0}]
        for limb in values["walker"]["limbs"]:
            if limb["name"] in ("L3", "R3"):
                limb["section"], limb["mount"]["at_mm"] = "back", [0.0, limb["mount"]["at_mm"][1], 0.0]
        self.agree(parse_project(values), values["motions"][0]["name"])

    def test_a_frame_whose_hinge_has_a_servo(self):
        for axis in ("yaw", "pitch", "roll"):
            self.agree(bending(axis), "Forward")


class Played:
    @staticmethod
    def of(project, motion, cycles=4):
        """The table on the file's own servos from its own key: (way ahead, way planned, how upright) in the end."""
        r = evaluate(project, motion).reading
        played = Played.steps(project, r, cycles)
        _, data = next(played)
        begun = data.qpos[0]
        for _ in played:
            pass
        asked = r.motion.twist.vx_mm_s * r.score.duration_s * cycles if r.gait else 0.0
        upright = data.body(project.walker.sections[0].name).xmat[8]
        return float((data.qpos[0] - begun) * 1000), asked, float(upright)

    @staticmethod
    def steps(project, r, cycles):
        """The engine's model and its one state, at the start and after every step of it."""
        engine = Engine(write_mjcf(project).data)
        model, data = engine.model, engine.data
        mujoco.mj_resetDataKeyframe(model, data, model.key(r.motion.name).id)
        told = [model.actuator(joint.path).id for joint in r.kit.joints]
        yield model, data
        for row in range(cycles * r.samples):
            data.ctrl[told] = r.of(sent_joints)[row % r.samples]
            for _ in range(round(r.row_s / model.opt.timestep)):
                mujoco.mj_step(model, data)
                yield model, data


class Pinned:
    """A pose on the file's own servos with its feet held where they stand: no floor, no dry friction, no play."""

    def __init__(self, project, motion):
        self.r = evaluate(project, motion).reading
        spec = mujoco.MjSpec.from_string(write_mjcf(project).data.decode())
        feet = [m.name for m in project.walker.limbs if m.feet]
        flat = [m.feet[0].sole.kind == "rectangle" for m in project.walker.limbs if m.feet]
        for name, whole in zip(feet, flat, strict=True):
            tie = spec.add_equality(objtype=mujoco.mjtObj.mjOBJ_BODY, name1=f"{name}/foot", name2="world")
            tie.type = mujoco.mjtEq.mjEQ_WELD if whole else mujoco.mjtEq.mjEQ_CONNECT
            tie.solref, tie.solimp = [0.002, 1], [0.9999, 0.99999, 0.0001, 0.5, 2]
        self.model = spec.compile()
        self.model.geom_contype[:], self.model.geom_conaffinity[:], self.model.dof_frictionloss[:] = 0, 0, 0
        self.model.opt.timestep = 0.0005
        self.data = mujoco.MjData(self.model)
        mujoco.mj_resetDataKeyframe(self.model, self.data, self.model.key(motion).id)
        mujoco.mj_forward(self.model, self.data)
        for n, (name, whole) in enumerate(zip(feet, flat, strict=True)):
            body = self.data.body(f"{name}/foot")
            turn, data = body.xmat.reshape(3, 3), self.model.eq_data[n]
            data[:6] = 0.0
            if whole:
                around = np.zeros(4)
                mujoco.mju_mat2Quat(around, turn.T.flatten())
                data[3:6], data[6:10], data[10] = -turn.T @ body.xpos, around, 1.0
            else:
                data[3:6] = body.xpos

    def sinks_mm(self, told):
        """How far the body has sunk from where the plan has it, once all is still."""
        planned = self.data.qpos[2]
        actuators = [self.model.actuator(joint.path).id for joint in self.r.kit.joints]
        self.data.ctrl[actuators] = told
        for _ in range(round(3 / self.model.opt.timestep)):
            mujoco.mj_step(self.model, self.data)
        return float((planned - self.data.qpos[2]) * 1000)


class Sags(SeededTest):
    SHAPES = ("six_sprawled", "six_upright", "four_sprawled", "four_upright", "two_full")

    def soft(self, shape):
        """Servos that give as the file's do."""
        values = document(start(shape, "Soft", float(self.random.uniform(150, 300))))
        values["servo_types"][0]["full_torque_at_deg"] = FULL_TORQUE_DEG
        values["against_sag"] = "static"
        return parse_project(values)

    @in_turns
    def test_it_sinks_by_what_the_servos_give_and_stands_where_planned_when_that_is_held_against(self):
        for shape in self.SHAPES:
            project = self.soft(shape)
            r = evaluate(project, "Stand").reading
            told = float(r.of(sag).down_mm[0])
            with self.subTest(shape=shape, seed=self.seed):
                seen = Pinned(project, "Stand").sinks_mm(r.angles[0])
                self.assertLess(abs(seen - told), max(0.02, 0.02 * told))
                held = Pinned(project, "Stand").sinks_mm(r.of(sent_joints)[0])
                self.assertLess(abs(held), max(0.02, 0.05 * told))


class Plays(SeededTest):
    @in_turns
    def test_a_walker_on_weak_servos_covers_its_plan_once_that_is_held_against(self):
        """Upright legs whose servos hold half their stall torque walk a tenth too far, as they give into the step."""
        way = {}
        for how in ("off", "static"):
            values = document(start("four_upright", "Weak", 200.0))
            values["servo_types"][0] |= {"full_torque_at_deg": FULL_TORQUE_DEG, "stall_torque_nm": 0.7}
            values["against_sag"] = how
            gone, asked, upright = Played.of(parse_project(values), "Forward")
            self.assertGreater(upright, 0.99)
            way[how] = gone / asked
        self.assertGreater(abs(way["off"] - 1), 0.06)
        self.assertLess(abs(way["static"] - 1), 0.02)

    @in_turns
    def test_walks_on_three_joint_legs_cover_their_plan(self):
        for shape in ("six_sprawled", "six_upright", "four_sprawled", "four_upright", "four_casters"):
            with self.subTest(shape=shape):
                way, asked, upright = Played.of(start(shape, "Walks", 200.0), "Forward")
                self.assertGreater(upright, 0.99)
                self.assertLess(abs(way / asked - 1), 0.12)

    @is_long
    def test_every_shape_stands_on_its_own_servos(self):
        for shape in share(self.random, list(SHAPES), 5):
            with self.subTest(shape=shape):
                way, _, upright = Played.of(start(shape, "Stands", 200.0), "Stand", cycles=1)
                self.assertGreater(upright, 0.99)
                self.assertLess(abs(way), 5.0)

    def test_feet_that_are_said_to_stamp_shake_the_machine(self):
        """F25's faulty project beside its sound twin: what the floor bears at once, and how the body is shaken."""
        peaks, shakes = [], []
        for sound in (False, True):
            project = fault("F25", sound)
            r = evaluate(project, project.motions[0].name).reading
            borne, shaken, force = [], [], np.zeros(6)
            for model, data in Played.steps(project, r, 4):
                total = 0.0
                for n in range(data.ncon):
                    mujoco.mj_contactForce(model, data, n, force)
                    total += force[0]
                borne.append(total)
                shaken.append(np.linalg.norm(data.qacc[:3]))
            # The first of four cycles it finds its feet.
            steady = slice(len(borne) // 4, None)
            peaks.append(np.percentile(borne[steady], 99.5) / (sum(model.body_mass) * 9.81))
            shakes.append(np.sqrt(np.mean(np.square(shaken[steady]))))
        self.assertGreater(peaks[0] - 1, 1.5 * (peaks[1] - 1))
        self.assertGreater(shakes[0], 1.3 * shakes[1])

    def test_a_parallelogram_keeps_its_soles_level_while_it_is_played(self):
        project = start("two_parallelogram", "Level", 240.0)
        engine = Engine(write_mjcf(project).data)
        model, data = engine.model, engine.data
        mujoco.mj_resetDataKeyframe(model, data, model.key("Stand").id)
        for n in range(400):
            for side in "LR":
                data.ctrl[model.actuator(f"{side}/thigh").id] = np.radians(25 + 10 * np.sin(n / 60))
                data.ctrl[model.actuator(f"{side}/shank").id] = np.radians(-25 - 10 * np.sin(n / 60))
            mujoco.mj_step(model, data)
        leaf = data.body("L/foot").xmat.reshape(3, 3).T @ data.body("body").xmat.reshape(3, 3)
        self.assertLess(np.degrees(np.arccos(leaf[2, 2])), 0.2)

    def test_a_softer_servo_sags_further(self):
        project = hexapod()
        heights = []
        for give in (1.0, 8.0):
            engine = Engine(write_mjcf(project, give).data)
            mujoco.mj_resetDataKeyframe(engine.model, engine.data, engine.model.key("Stand").id)
            mujoco.mj_step(engine.model, engine.data, 1500)
            heights.append(engine.at("body")[2])
        self.assertGreater(heights[0] - heights[1], 0.2)

    def test_give_and_friction_are_the_project_s_own_where_it_says_them(self):
        project = changed(hexapod(), {"servo_types/0/full_torque_at_deg": 7.0, "floor/friction": 0.45})
        plain, told, given = (Engine(write_mjcf(p, give).data).model
                              for p, give in ((hexapod(), None), (project, None), (project, 2.0)))  # fmt: skip
        np.testing.assert_allclose(told.actuator_gainprm[:, 0] / plain.actuator_gainprm[:, 0], 4.0 / 7.0, rtol=1e-6)
        np.testing.assert_allclose(given.actuator_gainprm[:, 0] / plain.actuator_gainprm[:, 0], 2.0, rtol=1e-6)
        self.assertEqual({0.8}, set(plain.geom_friction[:, 0].round(9).tolist()))
        self.assertEqual({0.45}, set(told.geom_friction[:, 0].round(9).tolist()))

    @is_long
    def test_nothing_touches_itself_at_rest(self):
        """In the file that lets an engine decide what collides."""
        for shape in share(self.random, list(SHAPES), 6):
            project = start(shape, "Free", 200.0)
            engine = Engine(write_urdf(project).data, afloat=True)
            engine.pose(evaluate(project, "Stand").reading, 0)
            with self.subTest(shape=shape):
                pairs = [
                    tuple(engine.model.body(engine.model.geom_bodyid[g]).name for g in contact.geom)
                    for contact in engine.data.contact[: engine.data.ncon]
                ]
                self.assertEqual(pairs, [])


class Called(unittest.TestCase):
    def test_from_the_command_line(self):
        with tempfile.TemporaryDirectory() as folder:
            file, out = Path(folder) / "w.bustle.json", Path(folder) / "w.xml"
            file.write_bytes(save_project(hexapod()))
            said = bustle("mjcf", file, "--out", out, "--full-torque-deg", 2)
            self.assertEqual(out.read_bytes(), write_mjcf(hexapod(), 2.0).data)
            self.assertIn("not in the file", said.stderr)

    def test_a_servo_that_never_gives_or_always_does_is_refused(self):
        for given in (0.0, -1.0, 91.0, float("nan"), float("inf")):
            with self.assertRaises(InputRefused) as caught:
                write_mjcf(hexapod(), given)
            self.assertIn("full_torque_deg", str(caught.exception))

    def test_a_gear_gives_torque_and_takes_speed(self):
        geared = changed(hexapod(), {"walker/drives/0/kind": "gear", "walker/drives/0/settings": {"ratio": -3.0}})
        plain, slow = (Engine(write_mjcf(p).data).model for p in (hexapod(), geared))
        name = hexapod().walker.drives[0].joints[0]
        force = [m.actuator(name).forcerange[1] for m in (plain, slow)]
        self.assertAlmostEqual(force[1] / force[0], 3.0, places=6)
        drag = [m.dof_damping[m.joint(name).dofadr[0]] for m in (plain, slow)]
        self.assertAlmostEqual(float(drag[1] / drag[0]), 9.0, places=6)


if __name__ == "__main__":
    unittest.main()
