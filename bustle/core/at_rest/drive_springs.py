"""What sprung horns give at the foot.

A horn of stiffness k turns by τ/k under the servo's torque τ. A drive turns its joints by A = ∂q/∂s per turn of the
servo, so that a force F on the foot, p its place, J = ∂p/∂q, moves it by

    δp = J·C·Jᵀ·F,   C = Σ A·Aᵀ/k over the walker's sprung servos (small angles; principle of virtual work)
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from bustle.core.geometry.arrays import Array, Indices, kept
from bustle.core.kinds.drives import DRIVES, DriveKind
from bustle.core.project.kept_by_identity import KeptByIdentity
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


@dataclass(frozen=True)
class Turning:
    """Drives of one kind that turn joints of some legs, whose joints are counted one leg after another.

    joints (D, K): which each turns, −1 of other legs; centres (D, servos) rad; settings (D, …). stated (D,): N·m per
    degree, NaN where nobody said; assumed (D,). Of each leg (P,) that a drive (P,) turns something of, own (P, K):
    which joints, −1 of other legs. turns (D, servos, K): as `_turns`, where that is the same wherever joints are.
    """

    kind: DriveKind
    joints: Indices
    centres: Array
    settings: Array
    stated: Array
    assumed: Array
    drive: Indices
    leg: Indices
    own: Indices
    turns: Array | None


_known: KeptByIdentity[list[Turning]] = KeptByIdentity(32)


def gives(project: Project, legs: Sequence[Bent], assumed: bool = False) -> list[Array | None]:
    """How far each foot moves, (3,) mm, for each newton that presses up on it; None where every horn is stiff.

    assumed: a drive whose stiffness is not stated is taken to reach its stall torque STALL_AT_DEG from its place.
    """
    limbs = [leg.limb for leg in legs]
    turning = _known.of((project.walker, *project.servo_types, *limbs), lambda: kept(_turning(project, limbs)))
    # What is of another leg is the last: a joint of it follows the same servo, whatever its own angle, and moves no
    # foot of these.
    joints = np.concatenate([*(leg.joints for leg in legs), [0.0]])
    slopes = np.concatenate([*(leg.slope.T for leg in legs), np.zeros((1, 3))])
    bends, bent = np.zeros((len(legs), 3)), np.zeros(len(legs), dtype=bool)
    for drives in turning:
        stiffness = np.where(np.isnan(drives.stated), drives.assumed, drives.stated) if assumed else drives.stated
        gives_way = ~np.isnan(stiffness[drives.drive])
        drive, leg, own = drives.drive[gives_way], drives.leg[gives_way], drives.own[gives_way]
        turns = _turns(drives, joints) if drives.turns is None else drives.turns
        levers = turns[drive] @ slopes[own]
        nm_per_rad = stiffness[drive] * 180 / np.pi
        # mm per rad of the servo; its torque per newton is that lever, in mm, over 1000 for N·m.
        np.add.at(bends, leg, (levers * levers[..., 2:]).sum(axis=1) / 1000 / nm_per_rad[:, None])
        bent[leg] = True
    return [bend if some else None for bend, some in zip(bends, bent.tolist(), strict=True)]


def _turning(project: Project, limbs: Sequence[Limb]) -> list[Turning]:
    names = [(n, f"{limb.name}/{joint.name}") for n, limb in enumerate(limbs) for joint in limb.joints]
    place = {name: k for k, (_, name) in enumerate(names)}
    by_sheet = {s.name: s.stall_torque_nm / (s.full_torque_at_deg or STALL_AT_DEG) for s in project.servo_types}
    kinds: dict[str, list[Drive]] = {}
    for drive in project.walker.drives:
        if any(j in place for j in drive.joints):
            kinds.setdefault(drive.kind, []).append(drive)
    found = []
    for name, drives in kinds.items():
        kind = DRIVES[name]
        joints = np.array([[place.get(j, -1) for j in drive.joints] for drive in drives])
        owner = np.array([n for n, _ in names] + [-1])[joints]
        pairs = [(row, leg) for row, legs in enumerate(owner.tolist()) for leg in sorted({*legs} - {-1})]
        rows, legs = np.array(pairs).T
        one = Turning(
            kind,
            joints,
            np.radians([[s.centre_deg for s in drive.servos] for drive in drives]),
            np.array([kind.values(drive.settings) for drive in drives]).reshape(len(drives), -1),
            np.array([drive.stiffness_nm_deg for drive in drives], dtype=float),
            np.array([min(by_sheet[s.type] for s in drive.servos) for drive in drives]),
            rows,
            legs,
            np.where(owner[rows] == legs[:, None], joints[rows], -1),
            None,
        )
        found.append(replace(one, turns=_turns(one, np.zeros(len(names) + 1))) if kind.linear else one)
    return found


def _turns(drives: Turning, joints: Array) -> Array:
    """(D, servos, joints): rad, or mm, of each joint per rad of each servo."""
    kind, centres, settings = drives.kind, drives.centres, drives.settings
    servos = kind.to_servos(joints[drives.joints][None], centres, settings)
    # One servo after another, a little ahead and a little behind.
    steps = STEP * np.eye(servos.shape[-1])[:, None]
    ahead, behind = (kind.to_joints(servos + step, centres, settings) for step in (steps, -steps))
    turns: Array = (ahead - behind).swapaxes(0, 1) / (2 * STEP)
    return turns
