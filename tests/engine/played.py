"""Motions of a project in a physics engine: MuJoCo plays the exported MJCF, row by row as the table tells.

Friction turning on a spot is 0.005 m; a row is held until the next; within its play a servo holds nothing. Feet and
floor are as firm as the file says, or come to rest within soft_s, as on a carpet.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence

import mujoco
import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import evaluate
from bustle.core.geometry.arrays import Array, Flags
from bustle.core.judge.measures.way_walked import crawls
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.walk.reading import Reading
from bustle.formats.robot_files.mjcf_out import write_mjcf
from tests.engine.outcomes import FELL_DEG, Outcome

InOrder = Sequence[tuple[str, int]]


class Played:
    """What became of motions played one after another: whether it stayed up, how far it went, along and to the left,
    how far it leaned and turned. machine: the one that was built, where it is another than the project's. each_row:
    looks on at the end of every row. no_creep: what an engine lets feet creep under less than it takes to slide is
    taken out."""

    def __init__(
        self,
        project: CheckedProject,
        motions: InOrder,
        full_deg: float = 4.0,
        friction: float | None = None,
        play_deg: float = 0.0,
        soft_s: float | None = None,
        machine: CheckedProject | None = None,
        each_row: Callable[[mujoco.MjModel, mujoco.MjData], None] | None = None,
        no_creep: bool = False,
    ) -> None:
        model = mujoco.MjSpec.from_string(write_mjcf(machine or project, full_deg).data.decode()).compile()
        if friction is not None:
            model.geom_friction[:, 0] = friction
        if soft_s is not None:
            model.geom_solref[:, 0] = soft_s
        model.opt.noslip_iterations = 20 if no_creep else 0
        data = mujoco.MjData(model)
        mujoco.mj_resetDataKeyframe(model, data, model.key(motions[0][0]).id)
        mujoco.mj_forward(model, data)
        body = data.body(project.walker.sections[0].name)
        begun, self.lean_deg, self.beyond_deg, self.up = body.xpos.copy(), 0.0, 0.0, True
        self.turned_deg, heading = 0.0, 0.0
        limb_of = _limbs_of_geoms(project, model)
        swung, touched = np.zeros(len(project.walker.limbs)), np.zeros(len(project.walker.limbs))
        for name, times in motions:
            r = evaluate(project, name).reading
            own = [model.actuator(joint.path).id for joint in r.kit.joints]
            places = [model.joint(joint.path).qposadr[0] for joint in r.kit.joints]
            sent, slack = r.of(sent_joints), np.radians(play_deg) / 2
            # Turned over, its under side is to be up.
            over = np.sign(r.course.body.turn[0, 2, 2])
            planned = np.degrees(np.arccos(np.clip(over * r.course.body.turn[:, 2, 2], -1.0, 1.0)))
            middle = mid_swings(r) if r.score.periodic else np.zeros((len(swung), r.samples), dtype=bool)
            for row in [*range(r.samples)] * times:
                for _ in range(round(r.row_s / model.opt.timestep)):
                    told, at = sent[row], data.qpos[places]
                    off = np.sign(told - at) * np.maximum(np.abs(told - at) - slack, 0.0)
                    data.ctrl[own] = at + off if slack else told
                    mujoco.mj_step(model, data)
                    lean = float(np.degrees(np.arccos(np.clip(over * body.xmat[8], -1.0, 1.0))))
                    self.lean_deg = max(self.lean_deg, lean)
                    self.beyond_deg = max(self.beyond_deg, lean - float(planned[row]))
                now = float(np.degrees(np.arctan2(body.xmat[3], body.xmat[0])))
                self.turned_deg += (now - heading + 180.0) % 360.0 - 180.0
                heading = now
                if each_row:
                    each_row(model, data)
                down = {int(limb_of[g]) for g in data.contact.geom.ravel() if limb_of[g] >= 0}
                swung += middle[:, row]
                touched += middle[:, row] & np.isin(np.arange(len(swung)), [*down])
                if lean > FELL_DEG:
                    self.up = False
                    break
            if not self.up:
                break
        self.way_mm, self.beside_mm = ((body.xpos - begun)[:2] * 1000).tolist()
        self.dragged = float((touched / np.maximum(swung, 1)).max())

    def outcome(self, r: Reading, plan_mm: float) -> Outcome:
        """Of the walk r."""
        covered = self.way_mm / plan_mm if plan_mm else 1.0
        return Outcome(
            self.up,
            covered,
            None if r.kit.rolls else self.beyond_deg,
            self.dragged if r.balance == "static" else None,
            r.of(crawls),
        )


def planned_mm(project: CheckedProject, motions: InOrder) -> float:
    """How far the plan has it go."""
    found = 0.0
    for name, times in motions:
        r = evaluate(project, name).reading
        x: Array = r.course.body.travel[0][: r.samples]
        whole = float(x[-1] - x[0])
        if r.score.periodic:
            whole *= r.samples / (r.samples - 1)
        found += times * whole
    return found


def mid_swings(r: Reading) -> Flags:
    """(L, S): when each stepping foot should be in the air and is in the middle half of its swing, of a walk that
    repeats."""
    steps = np.array([limb.steps for limb in r.kit.walker.limbs])
    down = r.course.contact[:, : r.samples]
    found = np.zeros(down.shape, dtype=bool)
    for limb in np.flatnonzero(steps & down.any(axis=1)):
        twice = np.tile(down[limb], 3)
        since, until = np.zeros(len(twice)), np.zeros(len(twice))
        for n in range(1, len(twice)):
            since[n] = 0 if twice[n] else since[n - 1] + 1
            until[-n - 1] = 0 if twice[-n - 1] else until[-n] + 1
        share = since / np.maximum(since + until, 1)
        found[limb] = ((share > 0.25) & (share < 0.75) & ~twice)[r.samples : 2 * r.samples]
    return found


def _limbs_of_geoms(project: CheckedProject, model: mujoco.MjModel) -> Array:
    """Which limb each geom is of, −1 for none."""
    names = {limb.name: n for n, limb in enumerate(project.walker.limbs)}
    bodies = [names.get(model.body(n).name.partition("/")[0], -1) for n in range(model.nbody)]
    return np.array([bodies[model.geom_bodyid[g]] for g in range(model.ngeom)])
