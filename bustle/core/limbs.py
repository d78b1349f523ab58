"""The walker's limbs as arrays: groups of one family, solved and laid out together."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bustle.core.chain import Chain, forward, to_mount, turns
from bustle.core.legs import FAMILIES, Family
from bustle.core.project import Walker

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Group:
    """Limbs of one family. members: their places in walker.limbs. columns: (L, J) into the flat joint array.

    design is what inverse kinematics is solved on, built what was measured; zeros (L, J) rad are added to the
    solved angles to give the angles the built joints take.
    """

    family: Family
    members: NDArray[np.intp]
    columns: NDArray[np.intp]
    lengths: Array
    mirrored: NDArray[np.bool_]
    branch: NDArray[np.intp]
    design: Chain
    built: Chain
    zeros: Array


def joint_slices(walker: Walker) -> list[slice]:
    """Where each limb's joints are in the flat joint array."""
    slices, start = [], 0
    for limb in walker.limbs:
        slices.append(slice(start, start + len(limb.joints)))
        start += len(limb.joints)
    return slices


def groups(walker: Walker) -> list[Group]:
    """The walker's limbs by family, in the order in which families first appear."""
    measured = {m.limb: m for m in walker.as_built.limbs}
    slices = joint_slices(walker)
    found = []
    for name in dict.fromkeys(limb.family for limb in walker.limbs):
        family = FAMILIES[name]
        members = [i for i, limb in enumerate(walker.limbs) if limb.family == name]
        limbs = [walker.limbs[i] for i in members]
        design = np.array([[k.length_mm for k in limb.links] for limb in limbs])
        built, zeros = design.copy(), np.zeros((len(limbs), len(family.joints)))
        for row, limb in enumerate(limbs):
            if limb.name in measured:
                truth = measured[limb.name]
                for n, link in enumerate(limb.links):
                    built[row, n] = truth.link_length_mm.get(link.name, design[row, n])
                for n, joint in enumerate(limb.joints):
                    zeros[row, n] = np.radians(truth.joint_zero_deg.get(joint.name, 0.0))
        mirrored = np.array([limb.mirrored for limb in limbs])
        at = np.array([limb.mount.at_mm for limb in limbs])
        turn = turns(np.array([0.0, 0.0, 1.0]), np.radians([limb.mount.yaw_deg for limb in limbs]))
        found.append(
            Group(
                family=family,
                members=np.array(members),
                columns=np.array([range(slices[i].start, slices[i].stop) for i in members]),
                lengths=design,
                mirrored=mirrored,
                branch=np.array([family.branches.index(limb.branch) for limb in limbs]),
                design=Chain(family.axes, family.offsets(design, mirrored), at, turn),
                built=Chain(family.axes, family.offsets(built, mirrored), at, turn),
                zeros=zeros,
            )
        )
    return found


@dataclass(frozen=True)
class Solved:
    """All limbs over S samples, in the body frame.

    joints: (S, J) rad, what the table says. points: per limb (S, n+1, 3) mm, of the built machine. frames: per
    limb (S, n, 3, 3). miss_mm: (L, S), how far the design's foot is from its target. straight_mm: (L, S).
    """

    joints: Array
    points: tuple[Array, ...]
    frames: tuple[Array, ...]
    miss_mm: Array
    straight_mm: Array


def solve(parts: list[Group], targets: Array) -> Solved:
    """Inverse kinematics of every limb, then forward kinematics of the result. targets: (L, S, 3) mm, body frame."""
    limbs, samples, _ = targets.shape
    joints = np.empty((samples, sum(g.columns.size for g in parts)))
    points: list[Array] = [np.empty(0)] * limbs
    frames: list[Array] = [np.empty(0)] * limbs
    miss, straight = np.empty((limbs, samples)), np.empty((limbs, samples))
    for group in parts:
        seen = to_mount(group.design, targets[group.members])
        solution = group.family.solve(group.lengths, group.mirrored, group.branch, seen)
        taken = solution.joints + group.zeros[:, None]
        at, turn = forward(group.built, taken)
        miss[group.members] = np.linalg.norm(solution.residual[..., :3], axis=-1)
        straight[group.members] = group.family.straight_mm(group.lengths, solution.joints)
        for row, member in enumerate(group.members):
            joints[:, group.columns[row]] = solution.joints[row]
            points[member], frames[member] = at[row], turn[row]
    return Solved(joints, tuple(points), tuple(frames), miss, straight)
