"""What sprung horns give at the foot.

A horn of stiffness k turns by τ/k under the servo's torque τ. A drive turns its joints by A = ∂q/∂s per turn of the
servo, so that a force F on the foot, p its place, J = ∂p/∂q, moves it by

    δp = J·C·Jᵀ·F,   C = Σ A·Aᵀ/k over the walker's sprung servos (small angles; principle of virtual work)
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from bustle.core.project import Project
from bustle.core.servo.drives import DRIVES
from bustle.core.walker import Limb

Array = NDArray[np.float64]

STEP = 1e-5


def give(project: Project, limb: Limb, joints: Array, slope: Array, stall_at_deg: float | None = None) -> Array | None:
    """How far the foot moves, (3,) mm, for each newton that presses up on it; None where every horn is stiff.

    stall_at_deg: a drive whose stiffness is not stated is taken to reach its stall torque that far from its place.

    joints (J,) rad or mm, slope (3, J) mm per rad: the leg's Jacobian there.
    """
    own = {f"{limb.name}/{j.name}": n for n, j in enumerate(limb.joints)}
    sheets = {s.name: s for s in project.servo_types}
    total = np.zeros(3)
    sprung = False
    for drive in project.walker.drives:
        columns = [own.get(j) for j in drive.joints]
        if all(c is None for c in columns):
            continue
        stiffness = drive.stiffness_nm_deg
        if stiffness is None and stall_at_deg is not None:
            stiffness = min(sheets[s.type].stall_torque_nm for s in drive.servos) / stall_at_deg
        if stiffness is None:
            continue
        sprung = True
        kind = DRIVES[drive.kind]
        centres = np.radians([[s.centre_deg for s in drive.servos]])
        settings = np.array([kind.values(drive.settings)]).reshape(1, -1)
        # A joint of another leg follows the same servo, whatever its own angle: it does not change this leg's give.
        at = np.array([[[0.0 if c is None else joints[c] for c in columns]]])
        servos = kind.to_servos(at, centres, settings)
        nm_per_rad = stiffness * 180 / np.pi
        for n in range(servos.shape[-1]):
            ahead, behind = servos.copy(), servos.copy()
            ahead[..., n] += STEP
            behind[..., n] -= STEP
            turn = (kind.to_joints(ahead, centres, settings) - kind.to_joints(behind, centres, settings))[0, 0]
            moved = sum(slope[:, c] * t / (2 * STEP) for c, t in zip(columns, turn, strict=True) if c is not None)
            # mm per rad of the servo; its torque per newton is that lever, in mm, over 1000 for N·m.
            total += moved * moved[2] / 1000 / nm_per_rad
    return total if sprung else None
