"""Every leg in the middle of its stance, where what it gives, plays and carries is told."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.serial_chain import jacobian
from bustle.core.judge.measures.gait_phase import samples_at
from bustle.core.project.walker import Limb
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class MidStance:
    """A leg there: its place among the limbs; columns (J,) of its joints, and their values in rad or mm; points
    (H+1, 3) mm from mount to foot in the body frame; slope (3, J), what the foot does per unit of each joint."""

    limb: Limb
    member: int
    columns: Indices
    joints: Array
    points: Array
    slope: Array


def mid_stances(r: Reading) -> list[MidStance]:
    """One per leg that takes part; none where the motion is no gait."""
    found: list[MidStance] = []
    course = r.course.solved
    for group, (all_points, all_frames) in zip(r.assembled.parts, course.by_group, strict=True) if r.gait else ():
        rows = [n for n, m in enumerate(group.members) if r.project.walker.limbs[m].name in r.timing]
        if not rows:
            continue
        members, columns, chain = group.members[rows], group.columns[rows], group.build.only(rows).chain
        limbs = [r.project.walker.limbs[m] for m in members]
        timing = [r.timing[limb.name] for limb in limbs]
        at = samples_at(r, [leg.phase + leg.duty / 2 for leg in timing])
        joints = course.joints[np.array(at)[:, None], columns]
        points, frames = all_points[rows, at], all_frames[rows, at]
        own = [course.swung.get(limb.section) for limb in limbs] if course.swung else []
        before = [s and s.only(slice(k, k + 1)) for s, k in zip(own, at, strict=True)] if any(own) else []
        still, along = points, frames
        if before:
            # The design's chain does not know what its section has turned it: told as it was put together, and turned.
            still = np.stack([s.back(p[:, None])[:, 0] if s else p for s, p in zip(before, points, strict=True)])
            along = np.stack([np.swapaxes(s.turn, 1, 2) @ f if s else f for s, f in zip(before, frames, strict=True)])
        slopes = jacobian(chain, still[:, None], along[:, None])[:, 0, :3]
        if before:
            slopes = np.stack([s.turn[0] @ j if s else j for s, j in zip(before, slopes, strict=True)])
        found += [
            MidStance(limb, int(members[n]), columns[n], joints[n], points[n], slopes[n])
            for n, limb in enumerate(limbs)
        ]
    return found
