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

NOWHERE = np.zeros(3)


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
    bends, bent = np.zeros((len(legs), 3)), np.zeros(len(legs), dtype=bool)
    kinds: dict[str, list[tuple[Drive, float]]] = {}
    for drive, stiffness in _sprung(project, stall_at_deg):
        if any(j in own for j in drive.joints):
            kinds.setdefault(drive.kind, []).append((drive, stiffness))
    for name, sprung in kinds.items():
        turn = _turns(name, [drive for drive, _ in sprung], legs, own)
        # Of each leg that a drive turns something of: which drive, which leg, and how its foot goes with each joint.
        rows, feet, slopes = [], [], []
        for row, (drive, _) in enumerate(sprung):
            places = [own.get(j) for j in drive.joints]
            for leg in {at[0] for at in places if at}:
                rows.append(row)
                feet.append(leg)
                slopes.append([legs[leg].slope[:, at[1]] if at and at[0] == leg else NOWHERE for at in places])
        levers = turn[rows] @ np.array(slopes)
        nm_per_rad = np.array([sprung[row][1] for row in rows]) * 180 / np.pi
        # mm per rad of the servo; its torque per newton is that lever, in mm, over 1000 for N·m.
        np.add.at(bends, feet, (levers * levers[..., 2:]).sum(axis=1) / 1000 / nm_per_rad[:, None])
        bent[feet] = True
    return [bend if some else None for bend, some in zip(bends, bent.tolist(), strict=True)]


def _sprung(project: Project, stall_at_deg: float | None) -> Iterator[tuple[Drive, float]]:
    """The drives that give, N·m per degree."""
    assumed = {} if stall_at_deg is None else _by_sheet(project, stall_at_deg)
    for drive in project.walker.drives:
        if drive.stiffness_nm_deg is not None:
            yield drive, drive.stiffness_nm_deg
        elif stall_at_deg is not None:
            yield drive, min([assumed[s.type] for s in drive.servos])


def _by_sheet(project: Project, stall_at_deg: float) -> dict[str, float]:
    """N·m per degree of each servo type; a drive without a stated stiffness has that of its weakest servo."""
    return {s.name: s.stall_torque_nm / (s.full_torque_at_deg or stall_at_deg) for s in project.servo_types}


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
