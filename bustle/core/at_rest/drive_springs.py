"""What sprung horns give at the foot.

A horn of stiffness k turns by τ/k under the servo's torque τ. A drive turns its joints by A = ∂q/∂s per turn of the
servo, so that a force F on the foot, p its place, J = ∂p/∂q, moves it by

    δp = J·C·Jᵀ·F,   C = Σ A·Aᵀ/k over the walker's sprung servos (small angles; principle of virtual work)
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.drives import DRIVES
from bustle.core.project.project import Project
from bustle.core.project.walker import Drive, Limb

STEP = 1e-5

# Where no stiffness is stated a servo is taken to hold with its stall torque this far from where it should be.
STALL_AT_DEG = 5.0


@dataclass(frozen=True)
class Bent:
    """A leg as it stands: joints (J,) rad or mm, slope (3, J) mm per rad, its Jacobian there."""

    limb: Limb
    joints: Array
    slope: Array


def gives(project: Project, legs: Sequence[Bent], stall_at_deg: float | None = None) -> list[Array | None]:
    """How far each foot moves, (3,) mm, for each newton that presses up on it; None where every horn is stiff.

    stall_at_deg: a drive whose stiffness is not stated is taken to reach its stall torque that far from its place.
    """
    own = {f"{bent.limb.name}/{j.name}": (n, k) for n, bent in enumerate(legs) for k, j in enumerate(bent.limb.joints)}
    found: list[Array | None] = [None] * len(legs)
    kinds: dict[str, list[tuple[Drive, float]]] = {}
    for drive, stiffness in _sprung(project, stall_at_deg):
        if any(j in own for j in drive.joints):
            kinds.setdefault(drive.kind, []).append((drive, stiffness))
    for name, sprung in kinds.items():
        drives = [drive for drive, _ in sprung]
        for row, turn in enumerate(_turns(name, drives, legs, own)):
            drive, stiffness = sprung[row]
            nm_per_rad = stiffness * 180 / np.pi
            for leg in {own[j][0] for j in drive.joints if j in own}:
                levers = np.zeros((len(turn), 3))
                for k, joint in enumerate(drive.joints):
                    at = own.get(joint)
                    if at and at[0] == leg:
                        levers += turn[:, k, None] * legs[leg].slope[:, at[1]]
                # mm per rad of the servo; its torque per newton is that lever, in mm, over 1000 for N·m.
                bend = (levers * levers[:, 2:]).sum(axis=0) / 1000 / nm_per_rad
                before = found[leg]
                found[leg] = bend if before is None else before + bend
    return found


def _sprung(project: Project, stall_at_deg: float | None) -> Iterator[tuple[Drive, float]]:
    """The drives that give, N·m per degree."""
    for drive in project.walker.drives:
        if drive.stiffness_nm_deg is not None:
            yield drive, drive.stiffness_nm_deg
        elif stall_at_deg is not None:
            yield drive, assumed_nm_deg(project, drive, stall_at_deg)


def assumed_nm_deg(project: Project, drive: Drive, stall_at_deg: float = STALL_AT_DEG) -> float:
    """A drive's stiffness where none is stated, by its weakest servo's sheet."""
    sheets = {s.name: s for s in project.servo_types}
    own = (sheets[s.type] for s in drive.servos)
    return min(s.stall_torque_nm / (s.full_torque_at_deg or stall_at_deg) for s in own)


def _turns(name: str, drives: list[Drive], legs: Sequence[Bent], own: dict[str, tuple[int, int]]) -> Array:
    """(D, servos, joints): rad, or mm, of each joint per rad of each servo, for drives of one kind."""
    kind = DRIVES[name]

    def at(joint: str) -> float:
        # A joint of another leg follows the same servo, whatever its own angle: it does not change this leg's give.
        if joint not in own:
            return 0.0
        leg, k = own[joint]
        return float(legs[leg].joints[k])

    joints = np.array([[[at(j) for j in drive.joints] for drive in drives]])
    centres = np.radians([[s.centre_deg for s in drive.servos] for drive in drives])
    settings = np.array([kind.values(drive.settings) for drive in drives]).reshape(len(drives), -1)
    servos = kind.to_servos(joints, centres, settings)
    found = []
    for n in range(servos.shape[-1]):
        ahead, behind = servos.copy(), servos.copy()
        ahead[..., n] += STEP
        behind[..., n] -= STEP
        found.append((kind.to_joints(ahead, centres, settings) - kind.to_joints(behind, centres, settings))[0])
    turns: Array = np.stack(found, axis=1) / (2 * STEP)
    return turns
