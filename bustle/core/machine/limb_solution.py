"""Every limb solved for where its foot should be, and laid out as it is built."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward, to_mount
from bustle.core.kinds.legs.family import Solution
from bustle.core.machine.limb_groups import Group
from bustle.core.machine.sections import Swung
from bustle.core.machine.shared_servo_legs import Legs, Tie, settle
from bustle.core.machine.tracks import JointTrack


@dataclass(frozen=True)
class Solved:
    """All limbs over S samples, in the body frame.

    joints: (S, J), rad or mm, what the table says. points: per limb (S, n+1, 3) mm, of the built machine. frames: per
    limb (S, n, 3, 3); mount_turns: per limb (3, 3), or (S, 3, 3) where its section moves. by_group: points and frames
    of all limbs of each group together. swung: the sections that move. miss_mm: (L, S), how far the design's foot is
    from what it is meant to meet of its target; miss_rad: how far its tilt. straight_mm: (L, S), infinite where there
    is no knee.
    """

    joints: Array
    points: tuple[Array, ...]
    frames: tuple[Array, ...]
    mount_turns: tuple[Array, ...]
    miss_mm: Array
    miss_rad: Array
    straight_mm: Array
    by_group: tuple[tuple[Array, Array], ...]
    swung: Mapping[str, Swung] = field(default_factory=dict)

    def carried(self, section: str, points: Array) -> Array:
        """Points (P, 3) mm of a section where it was put together → (P, S, 3) where they are."""
        spread = np.broadcast_to(points[:, None], (len(points), len(self.joints), 3))
        return self.swung[section].carry(spread) if section in self.swung else spread

    def end_turns(self, limb: int) -> Array:
        """The orientation of a limb's last link (S, 3, 3); of its mount where it has none."""
        frames = self.frames[limb]
        if frames.shape[1]:
            return frames[:, -1]
        return np.broadcast_to(self.mount_turns[limb], (len(frames), 3, 3))


def solve(
    parts: list[Group],
    tied: Sequence[Tie],
    targets: Array,
    aims: Array | None,
    given: JointTrack | None = None,
    on: Sequence[str] = (),
    swung: Mapping[str, Swung] | None = None,
) -> Solved:
    """Inverse kinematics of every limb, of those that share a servo together, then forward kinematics of the result.

    targets: (L, S, 3) mm; aims: (L, S, 3, 3), how the feet should be turned, needed where some family has `pose`;
    both in the body frame. given: joints that are not solved for. on: the section of each limb; swung: the sections
    that move: what hangs on one is solved as if it stood still, and carried along with it.
    """
    moved = {n: swung[section] for n, section in enumerate(on) if section in swung} if swung else {}
    if moved:
        targets, aims = targets.copy(), None if aims is None else aims.copy()
        for member, own in moved.items():
            targets[member] = own.back(targets[member])
            if aims is not None:
                aims[member] = np.swapaxes(own.turn, -1, -2) @ aims[member]
    shape = targets.shape[:2]
    joints = np.empty((shape[1], sum(g.columns.size for g in parts)))
    miss, tilt, straight = np.zeros(shape), np.zeros(shape), np.full(shape, np.inf)
    for group in parts:
        solution, found = _put_in(joints, group, targets, aims)
        if solution is not None:
            miss[group.members] = solution.short
            if group.family.pose:
                tilt[group.members] = np.linalg.norm(solution.residual[..., 3:], axis=-1)
            if group.family.straight_mm:
                straight[group.members] = group.family.straight_mm(group.build, found)
    if tied:
        for member, missing in settle(tied, _with_targets(parts, targets), joints).items():
            miss[member] = missing
    if given:
        joints = np.where(given.given, given.values, joints)
        for group in parts:
            for row, member in enumerate(group.members):
                free = ~given.given[:, group.columns[row]].all(axis=1)
                miss[member] *= free
                tilt[member] *= free
                straight[member] = np.where(free, straight[member], np.inf)
    return _laid_out(parts, joints, miss, tilt, straight, moved, swung or {})


def _put_in(joints: Array, group: Group, targets: Array, aims: Array | None) -> tuple[Solution | None, Array]:
    """Write a group's joints (L, S, J) into those of all (S, ΣJ), for targets as in `solve`. Returns what they were
    solved by, None of limbs that are held, and them."""
    if group.fixed is not None:
        joints[:, group.columns] = group.fixed
        return None, group.fixed[:, None]
    seen = to_mount(group.build.chain, targets[group.members])
    turned = None
    if group.family.pose and aims is not None:
        turned = np.swapaxes(group.build.chain.mount_turn, -1, -2)[:, None] @ aims[group.members]
    solution = group.family.solve(group.aside.build if group.aside else group.build, seen, turned)
    found = group.aside.real(solution.joints) if group.aside else solution.joints
    for row in range(len(group.members)):
        joints[:, group.columns[row]] = found[row]
    return solution, found


def lacking(parts: list[Group], targets: Array, aims: Array | None) -> tuple[Array, Array, Array]:
    """Of targets as in `solve`, of a machine as it is designed whose limbs share no servo: joints (S, J), miss (L, S)
    mm, and how far each foot is from its target (L, S, 3) mm, in its mount's axes. Nothing is laid out."""
    shape = targets.shape[:2]
    joints = np.empty((shape[1], sum(g.columns.size for g in parts)))
    miss, away = np.zeros(shape), np.zeros(targets.shape)
    for group in parts:
        solution, _ = _put_in(joints, group, targets, aims)
        if solution is not None:
            miss[group.members], away[group.members] = solution.short, solution.residual[..., :3]
    return joints, miss, away


def posed(parts: list[Group], joints: Array) -> Solved:
    """Forward kinematics alone, of joints (S, J) in a frame that does not bend."""
    shape = sum(len(group.members) for group in parts), len(joints)
    return _laid_out(parts, joints, np.zeros(shape), np.zeros(shape), np.full(shape, np.inf), {}, {})


def _with_targets(parts: list[Group], targets: Array) -> list[Legs]:
    return [
        Legs(
            int(member),
            (replace(group.build, chain=group.aside.chain) if group.aside else group.build).only([row]).chain,
            group.columns[row].tolist(),
            targets[member],
        )
        for group in parts
        if group.fixed is None
        for row, member in enumerate(group.members)
    ]


def _laid_out(
    parts: list[Group],
    joints: Array,
    miss: Array,
    tilt: Array,
    straight: Array,
    moved: Mapping[int, Swung],
    swung: Mapping[str, Swung],
) -> Solved:
    """Where everything of the built machine is."""
    points: list[Array] = [np.empty(0)] * len(miss)
    frames: list[Array] = [np.empty(0)] * len(miss)
    mounts: list[Array] = [np.empty(0)] * len(miss)
    by_group: list[tuple[Array, Array]] = []
    for group in parts:
        at, turn = forward(group.built, np.moveaxis(joints[:, group.columns], 1, 0) + group.zeros[:, None])
        by_group.append((at, turn))
        for row, member in enumerate(group.members):
            points[member], frames[member] = at[row], turn[row]
            mounts[member] = group.built.mount_turn[row]
    for member, own in moved.items():
        points[member] = np.swapaxes(own.carry(np.swapaxes(points[member], 0, 1)), 0, 1)
        frames[member] = own.turn[:, None] @ frames[member]
        mounts[member] = own.turn @ mounts[member]
    if moved:
        each = [group.members.tolist() for group in parts]
        by_group = [(np.stack([points[m] for m in own]), np.stack([frames[m] for m in own])) for own in each]
    laid = tuple(points), tuple(frames), tuple(mounts)
    return Solved(joints, *laid, miss, tilt, straight, tuple(by_group), swung)
