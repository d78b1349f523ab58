"""How a foot gives and how hard it lands: sag of the body, the jolt of a touchdown.

A foot's joints give: with C the compliance of its drives, a newton up on the foot moves it by c = J·C·Jᵀ (mm/N, see
`springs`). The body sags by the load of one standing foot times the mean c of those that stand.

At touchdown with speed v the mass that moves with the foot has to be stopped: m = 1/(J_z·M⁻¹·J_zᵀ), M the inertia of
the leg's joints, M = Σ mᵢ·Jᵢᵀ·Jᵢ + diag(I), I a servo's own inertia as its joint sees it. A mass m on a spring k = 1/c
that it meets with v is pushed back with at most F = v·√(k·m) (energy: ½mv² = ½F²/k).

Where a drive's stiffness is not stated it is assumed: a servo holds with its stall torque where it is STALL_AT_DEG from
where it should be. Its inertia is assumed from its sheet: a motor that comes up to its no-load speed ω with the time
constant TAU_S under its stall torque T has I = T·TAU_S/ω.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from bustle.core.chain import jacobian
from bustle.core.mass import total_kg
from bustle.core.springs import give

if TYPE_CHECKING:
    from bustle.core.evidence import Evidence

Array = NDArray[np.float64]

GRAVITY = 9.80665
STALL_AT_DEG = 5.0
TAU_S = 0.03


@dataclass(frozen=True)
class Footing:
    """A leg at mid-stance. give_mm_per_n: up; mass_kg: what moves with the foot; assumed: no stiffness was stated."""

    limb: int
    give_mm_per_n: float
    mass_kg: float
    assumed: bool


def footings(e: Evidence) -> list[Footing]:
    """One per leg that steps, at the middle of its stance; none where the motion is no gait."""
    found = []
    for group in e.parts if e.gait else []:
        if group.fixed is not None:
            continue
        limbs = [e.project.walker.limbs[int(m)] for m in group.members]
        legs = [e.timing[limb.name] for limb in limbs]
        at = [round((leg.phase + leg.duty / 2) * e.samples) % e.samples for leg in legs]
        joints = np.stack([e.course.solved.joints[k, c] for k, c in zip(at, group.columns, strict=True)])
        points = np.stack([e.course.solved.points[m][k] for k, m in zip(at, group.members, strict=True)])
        frames = np.stack([e.course.solved.frames[m][k] for k, m in zip(at, group.members, strict=True)])
        slopes = jacobian(group.build.chain, joints[:, None], points[:, None], frames[:, None])[:, 0, :3]
        for row, limb in enumerate(limbs):
            bend = give(e.project, limb, joints[row], slopes[row], STALL_AT_DEG)
            if bend is not None:
                mass = _moving_kg(e, int(group.members[row]), points[row], slopes[row])
                own = [d for d in e.project.walker.drives if d.joints[0].startswith(f"{limb.name}/")]
                assumed = any(d.stiffness_nm_deg is None for d in own)
                found.append(Footing(int(group.members[row]), max(float(bend[2]), 1e-6), mass, assumed))
    return found


def _moving_kg(e: Evidence, member: int, points: Array, slope: Array) -> float:
    """m = 1/(J_z·M⁻¹·J_zᵀ); a mass at share s of the way from hip to foot is taken to move s as far as the foot."""
    limb = e.project.walker.limbs[member]
    joints = slope.shape[1]
    hip, span = points[0], max(float(np.linalg.norm(points[-1] - points[0])), 1.0)
    inertia = np.zeros((joints, joints))
    for entry in e.masses:
        if entry.limb == member:
            at = points[entry.link] + entry.along * (points[entry.link + 1] - points[entry.link])
            share = min(1.0, float(np.linalg.norm(at - hip)) / span)
            moved = slope * share / 1000
            inertia += entry.mass_kg * moved.T @ moved
    sheets = {s.name: s for s in e.project.servo_types}
    names = [f"{limb.name}/{j.name}" for j in limb.joints]
    for drive in e.project.walker.drives:
        for n, joint in enumerate(drive.joints):
            if joint in names:
                servo = sheets[drive.servos[min(n, len(drive.servos) - 1)].type]
                at_joint = names.index(joint)
                inertia[at_joint, at_joint] += servo.stall_torque_nm * TAU_S / np.radians(servo.no_load_speed_deg_s)
    inertia += np.eye(joints) * 1e-6
    up = slope[2] / 1000
    return float(1.0 / max(up @ np.linalg.solve(inertia, up), 1e-9))


def sag_mm(e: Evidence, sample: int) -> float:
    """How far the body has sunk there under its own weight, as against all feet sharing it alike."""
    standing = [f for f in e.footings if e.course.contact[f.limb, sample]]
    if not standing:
        return 0.0
    load = total_kg(e.masses) * GRAVITY / max(1, int(e.course.contact[:, sample].sum()))
    return load * float(np.mean([f.give_mm_per_n for f in standing]))


def jolt_n(footing: Footing, down_mm_s: float) -> float:
    """F = v·√(k·m)."""
    return float(down_mm_s / 1000 * np.sqrt(1000 / footing.give_mm_per_n * footing.mass_kg))
