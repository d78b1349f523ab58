"""What somebody makes of the table and the URDF alone: an engine as it comes, servos as springs of their own."""

from __future__ import annotations

import csv
import io

import mujoco
import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.starting.starting_walkers import SHAPES
from bustle.formats import write_table
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.engine.played import planned_mm
from tests.engine.random_walkers import in_order
from tests.long import in_turns, is_long, share
from tests.projects import changed, start
from tests.seeded import SeededTest

GIVE_DEG, LAG_S, STEP_S, SETTLES_S = 5.0, 0.01, 0.001, 0.5
# Without what they need: a boom, stiff couplings; whose plan tells no way. Legs set round with two joints crawl.
LEFT_OUT = ("two_planar", "two_rocker", "two_parallelogram", "six_two_radial", "four_radial_2")


class AsItComes:
    """A URDF on a plane, with an actuator for every column of its tables; data: somebody's own, not ours."""

    def __init__(self, project, columns, friction=0.8, data=None):
        spec = mujoco.MjSpec.from_string(data or write_urdf(project).data.decode())
        spec.compiler.fusestatic = False
        spec.option.timestep = STEP_S
        spec.option.integrator = mujoco.mjtIntegrator.mjINT_IMPLICITFAST
        spec.worldbody.first_body().add_freejoint()
        for geom in (g for body in spec.bodies for g in body.geoms):
            geom.contype, geom.conaffinity, geom.friction[0] = 1, 0, friction
        floor = spec.worldbody.add_geom()
        floor.type, floor.size, floor.contype, floor.conaffinity = mujoco.mjtGeom.mjGEOM_PLANE, [0, 0, 0.1], 0, 1
        floor.friction[0] = friction
        joints = {joint.name.replace("/", "."): joint for joint in spec.joints}
        for column in columns:
            joint = joints[column]
            actuator = spec.add_actuator()
            actuator.name = actuator.target = joint.name
            actuator.trntype = mujoco.mjtTrn.mjTRN_JOINT
            strong = float(joint.actfrcrange[1])
            actuator.set_to_position(kp=strong / np.radians(GIVE_DEG))
            joint.damping, joint.armature = [strong / np.radians(GIVE_DEG) * LAG_S, 0, 0], strong * 1e-3
        self.model = spec.compile()
        self.data = mujoco.MjData(self.model)
        self.places = [self.model.joint(joints[column].name).qposadr[0] for column in columns]

    def stand(self, row):
        """Let down on to the floor, and still."""
        self.data.qpos[self.places] = self.data.ctrl[:] = row
        mujoco.mj_forward(self.model, self.data)
        self.data.qpos[2] -= min(self._lowest(g) for g in range(self.model.ngeom) if self.model.geom_contype[g])
        self.go(row, SETTLES_S)

    def go(self, row, for_s):
        self.data.ctrl[:] = row
        for _ in range(round(for_s / STEP_S)):
            mujoco.mj_step(self.model, self.data)

    def _lowest(self, geom):
        """By the box round it: no higher than it is."""
        middle, half = self.model.geom_aabb[geom, :3], self.model.geom_aabb[geom, 3:]
        turn = self.data.geom_xmat[geom].reshape(3, 3)
        return self.data.geom_xpos[geom, 2] + turn[2] @ middle - np.abs(turn[2]) @ half


def table(project, motion):
    """Its columns, and (rows, columns) rad or m, as the file has them; and the time of a row."""
    lines = io.StringIO(write_table(evaluate(project, motion), "csv", 3).decode())
    head, *rows = csv.reader(line for line in lines if not line.startswith("#"))
    joints = [n for n, name in enumerate(head) if name.endswith(("_deg", "_mm"))]
    unit = [np.pi / 180 if head[n].endswith("_deg") else 1e-3 for n in joints]
    values = np.array(rows, dtype=float)
    return [head[n].rpartition("_")[0] for n in joints], values[:, joints] * unit, values[1, 0] - values[0, 0]


def played(project, times):
    """Its walk ahead, from its own start: in which order, in what, and how far it went, mm."""
    order = in_order(project, "Forward", times)
    columns, rows, _ = table(project, order[0][0])
    engine = AsItComes(project, columns)
    engine.stand(rows[0])
    begun = engine.data.qpos[0]
    for name, cycles in order:
        _, rows, row_s = table(project, name)
        for row in [*rows] * cycles:
            engine.go(row, row_s)
    return order, engine, (engine.data.qpos[0] - begun) * 1000


class Strangers(SeededTest):
    @is_long
    def test_walks_go_as_far_as_told(self):
        for shape in (
            "four_casters",
            *share(self.random, [s for s in SHAPES if s not in (*LEFT_OUT, "four_casters")], 2),
        ):
            project = start(shape, "Stranger", float(SHAPES[shape].usual_mm * self.random.uniform(0.6, 1.2)))
            order, engine, went_mm = played(project, 4)
            with self.subTest(shape=shape, seed=self.seed):
                self.assertGreater(engine.data.body("body").xmat[8], 0.95)
                self.assertAlmostEqual(went_mm / planned_mm(project, order), 1.0, delta=0.12)

    @is_long
    def test_rockers_rock_on_their_curves(self):
        """Their plan tells no way: they stay up, and get on."""
        project = start("two_rocker", "Stranger", float(self.random.uniform(140, 300)))
        _, engine, went_mm = played(project, 6)
        with self.subTest(long=project.walker.legs[0].links[1].length_mm, seed=self.seed):
            self.assertGreater(engine.data.body("body").xmat[8], 0.95)
            self.assertGreater(went_mm, 0.1 * project.walker.legs[0].links[1].length_mm)

    @in_turns
    def test_what_rolls_every_way_lets_itself_be_pulled_every_way(self):
        """On four balls a newton speeds it up by 1/m, whichever way it points."""
        foot = {"sole": {"kind": "ball", "radius_mm": 8.0}, "contact": {"kind": "rolls", "any_way": True}}
        project = changed(start("four_sprawled", "Rolls", 150.0), {f"walker/limbs/{n}/feet/0": foot for n in range(4)})
        columns, rows, _ = table(project, "Stand")
        for pull in self.random.uniform(0, 2 * np.pi, 3):
            engine = AsItComes(project, columns)
            engine.stand(rows[0])
            way, root = np.array([np.cos(pull), np.sin(pull)]), engine.data.body("body").id
            engine.data.xfrc_applied[root, :2] = way
            before = engine.data.qvel[:2].copy()
            engine.go(rows[0], 0.3)
            gained = (engine.data.qvel[:2] - before) @ way * sum(engine.model.body_mass) / 0.3
            with self.subTest(pull=np.degrees(pull), seed=self.seed):
                self.assertAlmostEqual(gained, 1.0, delta=0.15)
