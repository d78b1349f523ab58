"""What a machine lands on as it falls over, against a physics engine that lets it fall."""

from __future__ import annotations

import unittest
from itertools import product

import mujoco
import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.falling.lands_on import TURNS, WAYS, landings
from bustle.core.starting.starting_walkers import SHAPES
from bustle.formats.robot_files.mjcf_out import write_mjcf
from tests.long import in_turns
from tests.projects import start
from tests.seeded import SeededTest

# So stiff that hardly anything moves while it falls, and as grippy; pushed by so much more than takes it upright.
STIFF_DEG, STRONG, GRIP, MORE = 0.1, 50.0, 5.0, 1.15
FALLS = {"two_full": "Forward", "two_servo": "Forward", "two_parallelogram": "Turn left", "four_sprawled": "Trot"}
STEPS = 6000
# Feet slip and legs give a little before it is down: frame and limb that come so near to each other are either.
EITHER_DEG = 2.0


def fallen(project, motion, turn):
    """(which body of the file touches the floor first beside its feet, J freed from upright until then): pushed over
    the border of its feet from how it lies at the motion's first row."""
    model = mujoco.MjSpec.from_string(write_mjcf(project, STIFF_DEG).data.decode()).compile()
    model.geom_friction[:, 0] = GRIP
    model.actuator_forcerange[:] *= STRONG
    data = mujoco.MjData(model)
    mujoco.mj_resetDataKeyframe(model, data, model.key(motion).id)
    mujoco.mj_forward(model, data)
    feet = set()
    for limb in project.walker.limbs:
        own = [g for g in range(model.ngeom) if model.body(model.geom_bodyid[g]).name.startswith(f"{limb.name}/")]
        feet.add(min(own, key=lambda g: float(data.geom_xpos[g, 2])))
    along = np.array([np.cos(turn), np.sin(turn), 0.0])
    border = max(float((_corners(model, data, g) @ along).max()) for g in feet)
    arm = data.subtree_com[0] - np.array([*(border * along[:2]), 0.0])
    far = float(np.hypot(arm @ along, arm[2]))
    spin = np.sqrt(MORE * 2 * 9.81 * max(far - arm[2], 0.002 * far)) / far * np.cross([0.0, 0.0, 1.0], along)
    at = data.qpos[:3] - np.array([*(border * along[:2]), 0.0])
    data.qvel[:3] = np.cross(spin, at)
    turned = np.empty(9)
    mujoco.mju_quat2Mat(turned, data.qpos[3:7])
    data.qvel[3:6] = turned.reshape(3, 3).T @ spin
    highest = 0.0
    for _ in range(STEPS):
        mujoco.mj_step(model, data)
        high = float(data.subtree_com[0, 2])
        highest = max(highest, high)
        for one in data.contact.geom[: data.ncon].ravel().tolist():
            if model.geom_bodyid[one] and one not in feet:
                name = model.body(model.geom_bodyid[one]).name
                return name, float(model.body_mass.sum()) * 9.81 * (highest - high)
    raise AssertionError("it did not fall")


def _corners(model, data, geom):
    """(8, 3) m of a box; a ball is as good as its middle."""
    if model.geom_type[geom] != mujoco.mjtGeom.mjGEOM_BOX:
        return data.geom_xpos[geom][None]
    signs = np.array(list(product((-1.0, 1.0), repeat=3)))
    return data.geom_xpos[geom] + (signs * model.geom_size[geom]) @ data.geom_xmat[geom].reshape(3, 3).T


class LandsOnWhatItIsTold(SeededTest):
    @in_turns
    def test_first_of_all_and_with_as_much_energy(self):
        surely = 0
        for shape, motion in FALLS.items():
            project = start(shape, "Falls", float(SHAPES[shape].usual_mm * self.random.uniform(0.7, 1.5)))
            r = evaluate(project, motion).reading
            for way, (name, told) in enumerate(zip(WAYS, landings(r, 0), strict=True)):
                body, energy = fallen(project, motion, TURNS[way])
                with self.subTest(seed=self.seed, shape=shape, way=name, body=body, told=told):
                    if told.sooner_deg > EITHER_DEG:
                        surely += 1
                        self.assertEqual(told.limb >= 0, "/" in body)
                    if len(project.walker.legs) == 2:
                        self.assertLess(abs(told.energy_j / energy - 1.0), 0.12)
        self.assertGreater(surely, len(FALLS) * len(WAYS) / 2)


if __name__ == "__main__":
    unittest.main()
