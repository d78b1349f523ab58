"""Robot files posed by a physics engine, beside the plan they were written from."""

from __future__ import annotations

import mujoco
import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.machine.masses import total_kg
from bustle.formats.robot_files.mjcf_out import write_mjcf
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.seeded import SeededTest

CLOSE_MM = 1e-3
FAR_MM = 500.0


class Engine:
    """A file as the engine has it; with `afloat`, a file's root that it would fix to the world is let go."""

    def __init__(self, data, afloat=False):
        spec = mujoco.MjSpec.from_string(data.decode())
        if afloat:
            spec.compiler.fusestatic = False
            spec.body("body").add_freejoint()
        self.model = spec.compile()
        self.data = mujoco.MjData(self.model)

    def tell(self, joint, value):
        self.data.qpos[self.model.joint(joint).qposadr[0]] = value

    def follow(self):
        """What the file ties to other joints goes where they put it."""
        model = self.model
        for n in range(model.neq):
            one, two = model.jnt_qposadr[model.eq_obj1id[n]], model.jnt_qposadr[model.eq_obj2id[n]]
            self.data.qpos[one] = model.eq_data[n, 0] + model.eq_data[n, 1] * self.data.qpos[two]
        mujoco.mj_forward(model, self.data)

    def pose(self, r, sample):
        for n, joint in enumerate(r.kit.joints):
            self.tell(joint.called, joint.sign * r.angles[sample, n] / (1000 if joint.slides else 1))
        for section, bend in r.score.bends_deg.items():
            self.tell(f"{section}/hinge", np.radians(bend))
        self.follow()

    def at(self, body):
        return self.data.body(body).xpos * 1000


class Posed(SeededTest):
    """A motion's rows told to an engine that has read both robot files: feet, wheels and centre of mass are where the
    plan has them."""

    def files(self, project):
        return {"mjcf": Engine(write_mjcf(project).data), "urdf": Engine(write_urdf(project).data, afloat=True)}

    def agree(self, project, motion, files=None):
        r = evaluate(project, motion).reading
        for kind, engine in (files or self.files(project)).items():
            for sample in self.random.integers(0, r.samples, 4):
                with self.subTest(project=project.name, motion=motion, file=kind, seed=self.seed):
                    engine.pose(r, sample)
                    root = engine.data.body(project.walker.sections[0].name)
                    turn = root.xmat.reshape(3, 3)
                    for i, limb in enumerate(project.walker.limbs):
                        if limb.feet:
                            seen = (engine.at(f"{limb.name}/foot") - root.xpos * 1000) @ turn
                            end = r.course.solved.points[i][sample, -1]
                            np.testing.assert_allclose(seen, end, atol=CLOSE_MM)
                    centre = (engine.data.subtree_com[root.id] - root.xpos) @ turn * 1000
                    weighs, told = engine.model.body_subtreemass[root.id], total_kg(r.assembled.masses)
                    # What weighs nothing weighs half a milligram in an engine, wherever it is.
                    self.assertAlmostEqual(weighs, told, delta=1e-6 + 5e-7 * engine.model.nbody)
                    off = CLOSE_MM + FAR_MM * max(0.0, weighs - told) / max(told, 1e-9)
                    np.testing.assert_allclose(centre, r.course.com_body_mm[sample], atol=off)
