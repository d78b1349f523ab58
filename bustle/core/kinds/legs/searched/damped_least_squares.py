"""Inverse kinematics of any serial chain: damped least squares within the joints' limits.

Each round takes the step Δq = Jᵀ(J·Jᵀ + λ²·I)⁻¹·e for the joints that are free to move, e being what is missing at the
foot; a joint pressed against its limit is left out and the rest solved again. λ shrinks while steps help and grows
where they do not (Levenberg–Marquardt), so that the end of the search is Newton's; a sample is done with once it gains
next to nothing by a step. Where that misses a target no further off than the chain is
long, they start again from several places of a fixed grid at once; samples that stand another way than most, or worse
than they need (the least miss changes by no more than the target does), are started again from their neighbours. A
chain with more joints than it needs starts a little bent, where it can go every way; one whose foot is told how to lie
starts as it stands, its knees ahead. Of a foot that is to lie level, whatever its heading, J leaves out what turns it
about the normal n* that it is to have, and of e counts the turn from its normal n to n*, along n × n*.

A chain whose hinges all turn about one axis is searched for in its plane, what is asked beside it being left over. One
that has too few joints for what it is asked keeps first its height, W·e with W = diag(1, 1, 300) over the body, then
its place, then its tilt, a radian weighing as 0.3 mm (else as 60): height and place are met, the rest is told.

Source: damped least-squares inverse kinematics, any text on redundant arms; the grid, the neighbour rule and what comes
first are ours.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.serial_chain import forward, jacobian
from bustle.core.kinds.legs.family import REACHED_MM, Build, Solution, miss
from bustle.core.kinds.legs.searched.chain_starts import nearest_of, rest_of, start_of
from bustle.core.kinds.legs.searched.damped_descent import descend, gap_of, size_of
from bustle.core.kinds.legs.searched.foot_aim import LEVEL, PLACE, Aim
from bustle.core.kinds.legs.searched.sought import USUAL, Sought, sought

SWEEPS = 4
# Where the first start fails: this many more, each the nearest of a grid of about this many over the joints' ranges.
STARTS = 3
# A joint that moves more than this from one sample to the next, while the foot hardly moves, has jumped.
JUMP_RAD = 0.5


def solve_damped(build: Build, points: Array, aims: Array | None) -> Solution:
    """points (L, S, 3) mm and, where the foot's turn counts too, aims (L, S, 3, 3), in the mount's frame."""
    parts = []
    for i, keep in enumerate(build.keep.tolist()):
        aim = None if aims is None or keep == PLACE else Aim(aims[i], keep == LEVEL)
        parts.append(_each_once(build.only([i]), points[i], aim))
    joints, residual, short = (np.stack([p[k] for p in parts]) for k in (0, 1, 2))
    return Solution(joints, residual, miss(residual) <= REACHED_MM, short)


def _each_once(build: Build, target: Array, aim: Aim | None) -> tuple[Array, Array, Array]:
    """A standing foot asks the same of every sample: it is solved for once. A moving one asks as it comes."""
    same = np.abs(target - target[0]).max(initial=0.0) < 1e-12
    if not same or (aim is not None and np.abs(aim.turns - aim.turns[0]).max(initial=0.0) > 1e-12):
        return _solve_one(build, target, aim)
    found = _solve_one(build, target[:1], None if aim is None else aim[:1])
    q, gap, short = (np.repeat(part, len(target), axis=0) for part in found)
    return q, gap, short


def _solve_one(build: Build, target: Array, aim: Aim | None) -> tuple[Array, Array, Array]:
    asks = 3 if aim is None else 5 if aim.level else 6
    leg = sought(build, asks)
    turn = leg.chain.mount_turn[0]
    target = target @ turn.T
    beside = leg.beside(target)
    target = target - beside
    if aim is not None:
        aim = Aim(turn @ aim.turns, aim.level)
    spare = len(leg.low) > asks
    first = start_of(leg, aim) if spare or aim else rest_of(leg.low, leg.high)
    starts = np.tile(first, (len(target), 1))
    # What is further off than the chain is long is missed from wherever it starts: it starts where it misses least.
    far = np.linalg.norm(target, axis=-1) > leg.reach
    if far.any():
        starts[far] = nearest_of(leg, leg.spread, target[far], None if aim is None else aim[far], 1)
    best_q, best_gap = descend(leg, starts, target, aim)
    size = size_of(best_gap, leg.weighs)
    poor = np.flatnonzero(~far & (size > REACHED_MM / 10))
    if len(poor):
        # Where something is always missing the worst finds how to stand, and its neighbours follow.
        poor = poor if leg.weighs is USUAL else poor[[size[poor].argmax()]]
        starts = nearest_of(leg, leg.spread, target[poor], None if aim is None else aim[poor], STARTS)
        if spare:
            starts = np.concatenate([np.tile(rest_of(leg.low, leg.high), (len(poor), 1)), starts])
        rows = np.tile(poor, len(starts) // len(poor))
        _take(leg, best_q, best_gap, rows, starts, target, aim)
    for _ in range(SWEEPS):
        if not _reseed(leg, best_q, best_gap, target, aim):
            break
    if aim is None:
        best_gap[:, 3:] = 0.0
    elif aim.level:
        # Where it heads is told, and was not asked for.
        best_gap = gap_of(leg.chain, best_q, target, Aim(aim.turns, level=False))
    short = _short(leg, best_q, best_gap[:, :3])
    best_gap[:, :3] += beside
    # Back in the mount's frame.
    return best_q, (best_gap.reshape(-1, 2, 3) @ turn).reshape(-1, 6), short


def _short(leg: Sought, q: Array, gap: Array) -> Array:
    """(S,) mm of the miss (S, 3) that the leg is meant to meet. One that lacks joints is meant to stand as high as it
    is asked to, and to go as near as its joints could without their ends."""
    size: Array = np.linalg.norm(gap, axis=-1)
    if not leg.lacks or size.max() <= REACHED_MM:
        return size
    columns = jacobian(leg.chain, *forward(leg.chain, q[None]))[0, :, :3]
    along = (columns * gap[..., None]).sum(axis=1) / np.maximum(np.linalg.norm(columns, axis=1), REACHED_MM)
    ends = (q <= leg.low) | (q >= leg.high)
    found: Array = np.hypot(gap[:, 2], np.linalg.norm(np.where(ends, along, 0.0), axis=-1))
    return np.minimum(found, size)


def _take(
    leg: Sought,
    best_q: Array,
    best_gap: Array,
    rows: Indices,
    start: Array,
    target: Array,
    aim: Aim | None,
    prefer_near: bool = False,
) -> bool:
    """Try other starts for some rows; take what ends better (or as well, nearer to where it started)."""
    q, gap = descend(leg, start.copy(), target[rows], None if aim is None else aim[rows])
    new, old = size_of(gap, leg.weighs), size_of(best_gap[rows], leg.weighs)
    if len(set(rows.tolist())) < len(rows):
        # Several starts of one row: the best of them stands for all.
        order = np.argsort(new, kind="stable")
        _, first = np.unique(rows[order], return_index=True)
        pick = order[first]
        rows, q, start, new, old = rows[pick], q[pick], start[pick], new[pick], old[pick]
        gap = gap[pick]
    better = new < old * 0.999 - 1e-9
    if prefer_near:
        nearer = np.abs(q - start).max(axis=1) < np.abs(best_q[rows] - start).max(axis=1) - 1e-6
        better |= nearer & (new <= old + REACHED_MM / 10)
    best_q[rows[better]], best_gap[rows[better]] = q[better], gap[better]
    return bool(better.any())


def _apart(leg: Sought, target: Array, aim: Aim | None, by: int) -> Array:
    """(S,) mm: how much each target differs from the one `by` samples before it."""
    place = np.linalg.norm(target - np.roll(target, by, axis=0), axis=-1)
    if aim is None:
        return place
    apart: Array = np.hypot(place, leg.weighs.tilt_mm * aim.change(by))
    return apart


def _reseed(leg: Sought, q: Array, gap: Array, target: Array, aim: Aim | None) -> bool:
    """Start samples that jumped or fell behind again: what stands another way than most from the nearest that does not,
    then each from the sample before and from the one after."""
    if len(q) < 2 or not _unsteady(leg, q, gap, target, aim):
        return False
    moved = False
    for by in (0, 1, -1):
        apart, size = _apart(leg, target, aim, by or 1), size_of(gap, leg.weighs)
        close = apart < 0.25 * leg.reach
        jumped = close & (np.abs(q - np.roll(q, by or 1, axis=0)).max(axis=1) > JUMP_RAD)
        if by:
            behind = close & (size > np.roll(size, by) + apart + REACHED_MM)
            rows = np.flatnonzero(jumped | behind)
            start = np.roll(q, by, axis=0)[rows]
        else:
            rows, nearest = _another_way(jumped)
            start = q[nearest]
        if len(rows):
            moved |= _take(leg, q, gap, rows, start, target, aim, prefer_near=by != -1)
    return moved


def _unsteady(leg: Sought, q: Array, gap: Array, target: Array, aim: Aim | None) -> bool:
    """Whether any sample stands another way than the one before it, or either of two far worse than the other."""
    apart, size = _apart(leg, target, aim, 1), size_of(gap, leg.weighs)
    jumped = np.abs(q - q[np.arange(-1, len(q) - 1)]).max(axis=1) > JUMP_RAD
    behind = np.abs(size - size[np.arange(-1, len(q) - 1)]) > apart + REACHED_MM
    return bool(((jumped | behind) & (apart < 0.25 * leg.reach)).any())


def _another_way(jumped: Flags) -> tuple[Indices, Indices]:
    """Of samples that go round, all but the longest run without a jump; and the end of that run which each is nearest
    to. jumped (S,): whether each stands another way than the one before."""
    breaks, count = np.flatnonzero(jumped), len(jumped)
    if len(breaks) < 2:
        return np.arange(0), np.arange(0)
    lengths = np.diff(np.append(breaks, breaks[0] + count))
    longest = int(np.argmax(lengths))
    first, last = breaks[longest], breaks[longest] + lengths[longest] - 1
    rows = np.arange(last + 1, first + count)
    nearest = np.where(rows - last <= first + count - rows, last, first)
    return rows % count, nearest % count
