"""Limbs that share a servo are solved together, in servo space.

One servo on two joints leaves fewer servos than joints: joints = B·x + b, x the free joints and the shared servos. The
closed forms give each limb its own answer; where a shared servo cannot follow both, the feet's misses are made as
small as they get together by Gauss–Newton with damping on x, from the mean of what the two asked for. All samples at
once. Source: least squares under linear constraints, any text on numerical methods.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import Chain, forward, jacobian
from bustle.core.kinds.drives import DRIVES
from bustle.core.project.walker import Drive, Walker

ROUNDS = 12


@dataclass(frozen=True)
class Tie:
    """One servo on two joints: columns into the flat joint array; joint k = sense[k]·servo + centre[k]."""

    columns: tuple[int, int]
    sense: tuple[float, float]
    centre: tuple[float, float]


def ties(walker: Walker) -> list[Tie]:
    """The drives with fewer servos than joints."""
    columns: dict[str, int] = {}
    for limb in walker.limbs:
        for joint in limb.joints:
            columns[f"{limb.name}/{joint.name}"] = len(columns)
    return [_tie(drive, columns) for drive in walker.drives if len(drive.servos) < len(drive.joints)]


def _tie(drive: Drive, columns: dict[str, int]) -> Tie:
    """The two lines joint(servo), read off the drive at servo 0 and 1 rad."""
    kind = DRIVES[drive.kind]
    centres = np.radians([[servo.centre_deg for servo in drive.servos]])
    settings = np.array([kind.values(drive.settings)])
    at = [kind.to_joints(np.full((1, 1, 1), turn), centres, settings)[0, 0] for turn in (0.0, 1.0)]
    first, second = drive.joints
    return Tie(
        (columns[first], columns[second]),
        (float(at[1][0] - at[0][0]), float(at[1][1] - at[0][1])),
        (float(at[0][0]), float(at[0][1])),
    )


@dataclass(frozen=True)
class Legs:
    """One limb with a target: its place in walker.limbs, its chain as designed, its columns, its target (S, 3) mm."""

    member: int
    chain: Chain
    columns: list[int]
    target: Array


def settle(found: Sequence[Tie], legs: list[Legs], joints: Array) -> dict[int, Array]:
    """Bring joints (S, J) in line with the ties, in place. Returns what each limb concerned misses, (S,) mm."""
    missing: dict[int, Array] = {}
    for tied, group in _groups(found, legs):
        columns = [c for leg in group for c in leg.columns]
        basis, offset, start = _space(tied, columns, joints)
        x = _least_squares(group, columns, basis, offset, start)
        joints[:, columns] = x @ basis.T + offset
        for leg in group:
            end = forward(leg.chain, joints[None][:, :, leg.columns])[0][0, :, -1]
            missing[leg.member] = np.linalg.norm(leg.target - end, axis=-1)
    return missing


def _groups(found: Sequence[Tie], legs: list[Legs]) -> Iterator[tuple[list[Tie], list[Legs]]]:
    """Limbs that share servos, directly or through others."""
    rest = list(found)
    while rest:
        tied, columns = [rest.pop(0)], set[int]()
        while True:
            touched = {c for tie in tied for c in tie.columns}
            group = [leg for leg in legs if touched & set(leg.columns)]
            columns = {c for leg in group for c in leg.columns} | touched
            more = [tie for tie in rest if columns & set(tie.columns)]
            if not more:
                break
            tied += more
            rest = [tie for tie in rest if tie not in more]
        if group:
            yield tied, group


def _space(tied: list[Tie], columns: list[int], joints: Array) -> tuple[Array, Array, Array]:
    """B (C, X), b (C,) and the start x (S, X): shared servos first, then the joints that are free."""
    shared = {c: n for n, tie in enumerate(tied) for c in tie.columns}
    free = [c for c in columns if c not in shared]
    basis, offset = np.zeros((len(columns), len(tied) + len(free))), np.zeros(len(columns))
    start = np.zeros((len(joints), basis.shape[1]))
    for row, column in enumerate(columns):
        if column in shared:
            n = shared[column]
            side = tied[n].columns.index(column)
            basis[row, n], offset[row] = tied[n].sense[side], tied[n].centre[side]
        else:
            basis[row, len(tied) + free.index(column)] = 1.0
            start[:, len(tied) + free.index(column)] = joints[:, column]
    for n, tie in enumerate(tied):
        weight = tie.sense[0] ** 2 + tie.sense[1] ** 2
        start[:, n] = sum(s * (joints[:, c] - o) for s, c, o in zip(tie.sense, tie.columns, tie.centre, strict=True))
        start[:, n] /= weight
    return basis, offset, start


def _gap(group: list[Legs], columns: list[int], joints: Array) -> tuple[Array, Array]:
    """What the feet miss (S, 3·limbs) mm, and how it changes with the joints (S, 3·limbs, C)."""
    gap = np.zeros((len(joints), 3 * len(group)))
    slope = np.zeros((len(joints), 3 * len(group), len(columns)))
    for n, leg in enumerate(group):
        own = [columns.index(c) for c in leg.columns]
        points, frames = forward(leg.chain, joints[None][:, :, own])
        gap[:, 3 * n : 3 * n + 3] = leg.target - points[0, :, -1]
        slope[:, 3 * n : 3 * n + 3, own] = jacobian(leg.chain, points, frames)[0, :, :3]
    return gap, slope


def _least_squares(group: list[Legs], columns: list[int], basis: Array, offset: Array, x: Array) -> Array:
    damping = np.full(len(x), 1.0)
    gap, slope = _gap(group, columns, x @ basis.T + offset)
    for _ in range(ROUNDS):
        j = slope @ basis
        square = np.swapaxes(j, -1, -2) @ j + damping[:, None, None] * np.eye(x.shape[1])
        step = np.linalg.solve(square, np.einsum("srx,sr->sx", j, gap)[..., None])[..., 0]
        new_gap, new_slope = _gap(group, columns, (x + step) @ basis.T + offset)
        better = np.linalg.norm(new_gap, axis=1) < np.linalg.norm(gap, axis=1)
        x = np.where(better[:, None], x + step, x)
        gap, slope = np.where(better[:, None], new_gap, gap), np.where(better[:, None, None], new_slope, slope)
        damping = np.where(better, damping * 0.1, damping * 10)
    return x
