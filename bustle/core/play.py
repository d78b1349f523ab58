"""Foot play: what backlash and horn slack of all joints come to at the foot.

Joint play qⱼ (end to end, rad) moves the foot by up to |∂p/∂qⱼ|·qⱼ; the worst case adds them up. A joint's play is what
was measured, else its servo's, divided by what the drive gears it down.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from bustle.core.chain import jacobian
from bustle.core.servo.drives import DRIVES

if TYPE_CHECKING:
    from bustle.core.evidence import Evidence

Array = NDArray[np.float64]


@dataclass(frozen=True)
class FootPlay:
    """At mid-stance: the whole play and its upward part, mm; per joint (name, play in degrees, lever in mm)."""

    limb: int
    play_mm: float
    up_mm: float
    joints: tuple[tuple[str, float, float], ...]
    measured: bool


def joint_play_deg(e: Evidence) -> tuple[Array, NDArray[np.bool_]]:
    """(J,) degrees end to end, and which were measured."""
    play, measured = np.zeros(len(e.joints)), np.zeros(len(e.joints), dtype=bool)
    sheets = {s.name: s for s in e.project.servo_types}
    if not any(s.play_deg for s in e.project.servo_types) and not any(
        m.joint_play_deg for m in e.project.walker.as_built.limbs
    ):
        return play, measured
    for kind, drives in e.drives.items():
        columns, centres, settings = e.gearing(drives)
        for n, drive in enumerate(drives):
            at = np.array([[e.course.solved.joints[0, columns[n]]]])
            ratio = _turn_per_joint(kind, at, centres[n : n + 1], settings[n : n + 1])
            for k, column in enumerate(columns[n]):
                servo = sheets[drive.servos[min(k, len(drive.servos) - 1)].type]
                play[column] = servo.play_deg / max(ratio, 1e-6)
    truths = {m.limb: m for m in e.project.walker.as_built.limbs}
    for column, joint in enumerate(e.joints):
        truth = truths.get(joint.limb.name)
        if truth and joint.name in truth.joint_play_deg:
            play[column], measured[column] = truth.joint_play_deg[joint.name], True
    return play, measured


def _turn_per_joint(kind: str, at: Array, centres: Array, settings: Array) -> float:
    """How far the (first) servo turns per turn of the (first) joint, there."""
    step = 1e-4
    moved = at.copy()
    moved[..., 0] += step
    to_servos = DRIVES[kind].to_servos
    return float(abs(to_servos(moved, centres, settings) - to_servos(at, centres, settings)).max() / step)


def foot_plays(e: Evidence) -> list[FootPlay]:
    """One per leg that steps, at the middle of its stance; none where no play is known of any joint."""
    play, measured = joint_play_deg(e)
    if not play.any() or not e.gait:
        return []
    timing = e.timing
    found = []
    for group in e.parts:
        if group.fixed is not None:
            continue
        legs = [timing[e.project.walker.limbs[m].name] for m in group.members]
        middle = [round((leg.phase + leg.duty / 2) * e.samples) % e.samples for leg in legs]
        joints = np.stack([e.course.solved.joints[k, c] for k, c in zip(middle, group.columns, strict=True)])[:, None]
        points = np.stack([e.course.solved.points[m][k] for k, m in zip(middle, group.members, strict=True)])[:, None]
        frames = np.stack([e.course.solved.frames[m][k] for k, m in zip(middle, group.members, strict=True)])[:, None]
        slope = jacobian(group.build.chain, joints, points, frames)[:, 0, :3]
        lever = np.linalg.norm(slope, axis=1)
        for row, member in enumerate(group.members):
            columns = group.columns[row]
            amount = np.array([play[c] if e.joints[c].slides else np.radians(play[c]) for c in columns])
            parts = tuple(
                (e.joints[c].name, float(play[c]), float(v)) for c, v in zip(columns, lever[row], strict=True)
            )
            up = float((np.abs(slope[row, 2]) * amount).sum())
            whole = float((lever[row] * amount).sum())
            found.append(FootPlay(int(member), whole, up, parts, bool(measured[columns].any())))
    return found
