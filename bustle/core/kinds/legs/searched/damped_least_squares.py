"""Inverse kinematics of any serial chain: damped least squares within the joints' limits.

Each round takes the step Δq = Jᵀ(J·Jᵀ + λ²·I)⁻¹·e for the joints that are free to move, e being what is missing at the
foot; a joint pressed against its limit is left out and the rest solved again. λ shrinks while steps help and grows
where they do not (Levenberg–Marquardt), so that the end of the search is Newton's; a sample is done with once it gains
next to nothing by a step. Where that misses a target no further off than the chain is
long, they start again from several places of a fixed grid at once; samples that stand another way than most, or worse
than they need (the least miss changes by no more than the target does), are started again from their neighbours. A
chain with more joints than it needs starts a little bent, where it can go every way; one whose foot is told how to lie
starts as it stands, its knees ahead. Of a foot that is to lie level, whatever its heading, J leaves out what turns it
about the normal n* that it is to have, and of e counts the turn from its normal n to n*, along n × n*. Source: damped
least-squares inverse kinematics, any text on redundant arms; the grid and the neighbour rule are ours.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.serial_chain import Chain
from bustle.core.kinds.legs.family import REACHED_MM, Build, Solution, miss
from bustle.core.kinds.legs.searched.chain_starts import nearest_of, rest_of, spread_of, start_of
from bustle.core.kinds.legs.searched.damped_descent import TILT_MM, descend, gap_of, size_of
from bustle.core.kinds.legs.searched.foot_aim import LEVEL, PLACE, Aim

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
    joints, residual = (np.stack([p[k] for p in parts]) for k in (0, 1))
    return Solution(joints, residual, miss(residual) <= REACHED_MM, miss(residual))


def _each_once(build: Build, target: Array, aim: Aim | None) -> tuple[Array, Array]:
    """A standing foot asks the same of every sample: it is solved for once. A moving one asks as it comes."""
    same = np.abs(target - target[0]).max(initial=0.0) < 1e-12
    if not same or (aim is not None and np.abs(aim.turns - aim.turns[0]).max(initial=0.0) > 1e-12):
        return _solve_one(build, target, aim)
    q, gap = _solve_one(build, target[:1], None if aim is None else aim[:1])
    return np.repeat(q, len(target), axis=0), np.repeat(gap, len(target), axis=0)


def _solve_one(build: Build, target: Array, aim: Aim | None) -> tuple[Array, Array]:
    c = build.chain
    chain = Chain(c.axes, c.offsets, np.zeros((1, 3)), np.eye(3)[None], c.slides, c.coupling)
    low, high = build.low[0], build.high[0]
    reach = float(np.linalg.norm(c.offsets[0], axis=-1).sum()) or 1.0
    spread = spread_of(low, high)
    spare = len(low) > (3 if aim is None else 5 if aim.level else 6)
    first = start_of(chain, low, high, aim) if spare or aim else rest_of(low, high)
    starts = np.tile(first, (len(target), 1))
    # What is further off than the chain is long is missed from wherever it starts: it starts where it misses least.
    far = np.linalg.norm(target, axis=-1) > reach
    if far.any():
        starts[far] = nearest_of(chain, spread, target[far], None if aim is None else aim[far], 1)
    best_q, best_gap = descend(chain, low, high, starts, target, aim, reach)
    poor = np.flatnonzero(~far & (size_of(best_gap) > REACHED_MM / 10))
    if len(poor):
        starts = nearest_of(chain, spread, target[poor], None if aim is None else aim[poor], STARTS)
        if spare:
            starts = np.concatenate([np.tile(rest_of(low, high), (len(poor), 1)), starts])
        rows = np.tile(poor, len(starts) // len(poor))
        _take(best_q, best_gap, rows, chain, low, high, starts, target, aim, reach)
    for _ in range(SWEEPS):
        if not _reseed(chain, low, high, best_q, best_gap, target, aim, reach):
            break
    if aim is None:
        best_gap[:, 3:] = 0.0
    elif aim.level:
        # Where it heads is told, and was not asked for.
        best_gap = gap_of(chain, best_q, target, Aim(aim.turns, level=False))
    return best_q, best_gap


def _take(
    best_q: Array,
    best_gap: Array,
    rows: Indices,
    chain: Chain,
    low: Array,
    high: Array,
    start: Array,
    target: Array,
    aim: Aim | None,
    reach: float,
    prefer_near: bool = False,
) -> bool:
    """Try other starts for some rows; take what ends better (or as well, nearer to where it started)."""
    q, gap = descend(chain, low, high, start.copy(), target[rows], None if aim is None else aim[rows], reach)
    new, old = size_of(gap), size_of(best_gap[rows])
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


def _apart(target: Array, aim: Aim | None, by: int) -> Array:
    """(S,) mm: how much each target differs from the one `by` samples before it."""
    place = np.linalg.norm(target - np.roll(target, by, axis=0), axis=-1)
    if aim is None:
        return place
    apart: Array = np.hypot(place, TILT_MM * aim.change(by))
    return apart


def _reseed(
    chain: Chain, low: Array, high: Array, q: Array, gap: Array, target: Array, aim: Aim | None, reach: float
) -> bool:
    """Start samples that jumped or fell behind again: what stands another way than most from the nearest that does not,
    then each from the sample before and from the one after."""
    if len(q) < 2:
        return False
    moved = False
    for by in (0, 1, -1):
        apart = _apart(target, aim, by or 1)
        close = apart < 0.25 * reach
        jumped = close & (np.abs(q - np.roll(q, by or 1, axis=0)).max(axis=1) > JUMP_RAD)
        if by:
            behind = close & (size_of(gap) > np.roll(size_of(gap), by) + apart + REACHED_MM)
            rows = np.flatnonzero(jumped | behind)
            start = np.roll(q, by, axis=0)[rows]
        else:
            rows, nearest = _another_way(jumped)
            start = q[nearest]
        if len(rows):
            moved |= _take(q, gap, rows, chain, low, high, start, target, aim, reach, prefer_near=by != -1)
    return moved


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
