"""What the straight way into the fail-safe pose hits: every servo goes evenly from where the radio was lost to where
the pose has it, so the way is straight in servo space and bent in every other.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.at_rest.turned_sections import turned_sections
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward
from bustle.core.judge.measures.gaps import Gap, gaps_of
from bustle.core.servo.power_on_order import pose_joints, starting_pose
from bustle.core.walk.reading import Reading

# Instants of the motion at which the radio is lost, and steps on the way from each.
INSTANTS, STEPS = 8, 9


@dataclass(frozen=True)
class Way:
    """pose: where it goes; lost_s: when the radio was lost; share: how far along the way the least gap is."""

    pose: str
    gap: Gap
    lost_s: float
    share: float


def way_to_fail_safe(r: Reading) -> Way | None:
    """The least gap on any of the ways; None where it takes no pose, or nothing comes near anything."""
    safe = r.project.electrics.fail_safe
    if safe is None or safe.effect != "pose" or not r.project.motions:
        return None
    pose = r.project.start_up.fail_safe or starting_pose(r.project)
    rows = _lost_at(r, safe.finish_step)
    share = np.linspace(0.0, 1.0, STEPS)
    start, end = r.angles[rows], pose_joints(r.project, pose)
    joints = (start[:, None] + share[:, None] * (end - start)[:, None]).reshape(-1, start.shape[1])
    for gearing in r.kit.gearings:
        if gearing.turns_slides or not r.kit.slides[gearing.columns].any():
            one, two = gearing.to_servos(start), gearing.to_servos(end[None])
            turned = one[:, None] + share[:, None, None] * (two - one)[:, None]
            joints[:, gearing.columns] = gearing.to_joints(turned.reshape(-1, *turned.shape[2:]))
    swung = turned_sections(r.project.walker, joints, r.kit.bent(r.score.bends_deg, r.score.held))
    points: list[Array] = [np.zeros((len(joints), 1, 3))] * len(r.project.walker.limbs)
    for group in r.assembled.parts:
        found, _ = forward(group.build.chain, np.moveaxis(joints[:, group.columns], 1, 0))
        for row, member in enumerate(group.members.tolist()):
            own = swung.get(r.project.walker.limbs[member].section)
            points[member] = found[row] if own is None else np.swapaxes(own.carry(np.swapaxes(found[row], 0, 1)), 0, 1)
    near = gaps_of(r, points, swung)
    if not near:
        return None
    lost, step = divmod(near[0].sample, STEPS)
    return Way(pose, near[0], float(rows[lost] * r.row_s), float(share[step]))


def _lost_at(r: Reading, finish_step: bool) -> Array:
    """Rows of the motion from which it goes there: any, or those with all feet down once the step is finished."""
    rows = np.arange(r.samples)
    if finish_step:
        legs = [n for n, limb in enumerate(r.project.walker.limbs) if limb.steps]
        down = np.flatnonzero(r.course.contact[legs, : r.samples].all(axis=0))
        rows = down if len(down) else rows
    return rows[np.unique(np.linspace(0, len(rows) - 1, INSTANTS).astype(int))]
