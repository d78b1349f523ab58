"""Damped descent of a chain to its targets: the steps of `damped_least_squares`, each sample by itself."""

from __future__ import annotations

import math

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.compiled import (
    REAL,
    WHOLE,
    Vector,
    compiled,
    compiled_for,
    crossed,
    dot,
    factored,
    flags,
    floats,
    matrix,
    minus,
    solved,
    times,
    turn_between,
    vector,
)
from bustle.core.geometry.serial_chain import Chain, past_hinge
from bustle.core.kinds.legs.searched.foot_aim import LEVEL, PLACE, POSE, Aim
from bustle.core.kinds.legs.searched.sought import Sought, Weighs

ROUNDS = 90
GOOD_MM = 1e-10
# A step that gains next to nothing of what is missing is the last, and so is one that fails though it is this damped.
GAIN = 1e-11
LEAST_DAMPING, MOST_DAMPING = 1e-16, 1e4
# After so many rounds along the Jacobian, what is still missing counts how the path bends.
STRAIGHT_ROUNDS = 8
# What heights weigh on the way to what they weigh.
UP_BY = (1.0, 15.0)
# Two directions whose sine is below it are one, or opposite.
ONE_WAY = 1e-9

NOWHERE = np.zeros((1, 3, 3))


def descend(leg: Sought, q: Array, target: Array, aim: Aim | None) -> tuple[Array, Array]:
    """From starts q (S, J): a step is kept where it helps, and λ lowered; else λ is raised and it is tried shorter.
    Where that ends, and what is missing there, (S, 6)."""
    turns, asks = _told(aim)
    chain, weighs = leg.chain, leg.weighs
    gap = np.empty((len(q), 6))
    # Heights that weigh much leave a narrow way to go: it is gone to from where they weigh less.
    for up in [*(share for share in UP_BY if share < weighs.up), weighs.up]:
        q, gap = _descended(
            q, target, turns, asks, chain.axes[0], chain.offsets[0], chain.mount_at[0], chain.mount_turn[0],
            chain.sliding, _coupling(chain), leg.low, leg.high, leg.reach, up, weighs.tilt_mm,
        )  # fmt: skip
    return q, gap


def gap_of(chain: Chain, q: Array, target: Array, aim: Aim | None) -> Array:
    """What is missing (S, 6), mm and rad."""
    turns, asks = _told(aim)
    return _missed(
        q, target, turns, asks, chain.axes[0], chain.offsets[0], chain.mount_at[0], chain.mount_turn[0], chain.sliding,
        _coupling(chain),
    )  # fmt: skip


def size_of(gap: Array, weighs: Weighs) -> Array:
    """(S,) mm: how much is missing, as it weighs."""
    place = np.linalg.norm(gap[:, :3] * (1.0, 1.0, weighs.up), axis=-1)
    size: Array = np.hypot(place, weighs.tilt_mm * np.linalg.norm(gap[:, 3:], axis=-1))
    return size


def _told(aim: Aim | None) -> tuple[Array, int]:
    return (NOWHERE, PLACE) if aim is None else (aim.turns, aim.asks)


def _coupling(chain: Chain) -> Array:
    """(H, J): how hinges follow joints."""
    return np.eye(chain.axes.shape[1]) if chain.coupling is None else chain.coupling


@compiled
def _tilt_between(x: Vector, y: Vector, z: Vector, wanted: Array) -> Vector:
    """The shortest turn, a vector along its axis, that takes a frame's third axis, of rows x, y and z, to the one
    wanted."""
    normal, upright = (x[2], y[2], z[2]), (wanted[0, 2], wanted[1, 2], wanted[2, 2])
    axis, cosine = crossed(normal, upright), dot(normal, upright)
    sine = math.sqrt(dot(axis, axis))
    if sine > ONE_WAY:
        return times(axis, math.atan2(sine, cosine) / sine)
    # Upside down it may turn back about any axis that lies level.
    return axis if cosine > 0 else times((x[0], y[0], z[0]), math.pi)


@compiled
def _look(
    q: Array, target: Array, wanted: Array, asks: int, axes: Array, offsets: Array, mount_at: Array, mount_turn: Array,
    sliding: Flags, coupling: Array, gap: Array, moves: Array, columns: Array, up: float, tilt_mm: float,
) -> float:  # fmt: skip
    """Into gap (6,) what is missing, into columns (6, J) what the foot does per unit of each joint, both with height as
    it weighs; by the forward kinematics and the Jacobian of `serial_chain`. How much is missing, mm. moves (9, H) is
    for its own use."""
    hinges, joints = coupling.shape
    at, (x, y, z) = vector(mount_at), matrix(mount_turn)
    for h in range(hinges):
        value = 0.0
        for k in range(joints):
            value += coupling[h, k] * q[k]
        axis = vector(axes[h])
        moves[3, h], moves[4, h], moves[5, h] = dot(x, axis), dot(y, axis), dot(z, axis)
        moves[6, h], moves[7, h], moves[8, h] = at
        at, x, y, z = past_hinge(at, x, y, z, axis, vector(offsets[h]), sliding[h], value)
    for h in range(hinges):
        line, arm = (moves[3, h], moves[4, h], moves[5, h]), (moves[6, h], moves[7, h], moves[8, h])
        if sliding[h]:
            moves[0, h], moves[1, h], moves[2, h] = line
            moves[3, h], moves[4, h], moves[5, h] = 0.0, 0.0, 0.0
        else:
            moves[0, h], moves[1, h], moves[2, h] = crossed(line, minus(at, arm))
    gap[0], gap[1], gap[2] = minus(vector(target), at)
    gap[3], gap[4], gap[5] = 0.0, 0.0, 0.0
    if asks == POSE:
        gap[3], gap[4], gap[5] = turn_between((x, y, z), matrix(wanted))
    elif asks == LEVEL:
        gap[3], gap[4], gap[5] = _tilt_between(x, y, z, wanted)
    for k in range(joints):
        for a in range(6):
            columns[a, k] = 0.0
            for h in range(hinges):
                columns[a, k] += moves[a, h] * coupling[h, k]
        if asks == LEVEL:
            # What turns it about the normal it is to have does not count.
            spins = wanted[0, 2] * columns[3, k] + wanted[1, 2] * columns[4, k] + wanted[2, 2] * columns[5, k]
            for a in range(3):
                columns[3 + a, k] -= wanted[a, 2] * spins
        columns[2, k] *= up
    gap[2] *= up
    place = gap[0] * gap[0] + gap[1] * gap[1] + gap[2] * gap[2]
    return math.sqrt(place + tilt_mm * tilt_mm * (gap[3] * gap[3] + gap[4] * gap[4] + gap[5] * gap[5]))


@compiled
def _pressed(q: Array, step: Array, low: Array, high: Array, k: int) -> bool:
    """Whether a joint would go on against the stop that it is at."""
    return (step[k] < 0 and q[k] <= low[k]) or (step[k] > 0 and q[k] >= high[k])


@compiled
def _straight_step(
    q: Array, gap: Array, columns: Array, damped: float, low: Array, high: Array, rows: int, step: Array, tilt_mm: float
) -> bool:
    """Into step (J,) Δq of the joints that are free to move; false where it is damped too little to be told."""
    joints = len(q)
    free, square, e = np.ones(joints, np.bool_), np.empty((rows, rows)), np.empty(rows)
    for _ in range(joints):
        for a in range(rows):
            weighs = tilt_mm if a > 2 else 1.0
            e[a] = weighs * gap[a]
            for b in range(a + 1):
                square[a, b] = damped if a == b else 0.0
                for k in range(joints):
                    if free[k]:
                        square[a, b] += weighs * (tilt_mm if b > 2 else 1.0) * columns[a, k] * columns[b, k]
        if not factored(square):
            return False
        solved(square, e)
        against = False
        for k in range(joints):
            step[k] = 0.0
            if free[k]:
                for a in range(rows):
                    step[k] += (tilt_mm if a > 2 else 1.0) * columns[a, k] * e[a]
                free[k] = not _pressed(q, step, low, high, k)
                against = against or not free[k]
        if not against:
            break
    return True


@compiled
def _curved_step(
    q: Array, gap: Array, columns: Array, damped: float, low: Array, high: Array, least: float, step: Array, up: float
) -> None:
    """Newton's step for a place that stays missed: then it counts how the foot's path bends, which J does not tell.

    The Hessian of |e|²/2 is H = JᵀJ − S, S_ij = e·(ω_i × J_j) for i ≤ j (0 for a slide i): the derivative of a hinge's
    column by an earlier hinge is ω_i × J_j. Directions in which H bends down are taken as if they bent up as much. With
    heights that weigh w, e and J hold w times what they are, and S counts w²·e_z.
    """
    joints, e = len(q), vector(gap)
    pulls = e[0], e[1], e[2] * up
    curved, slope, free = np.zeros((joints, joints)), np.empty(joints), np.empty(joints, np.bool_)
    for k in range(joints):
        slope[k] = dot((columns[0, k], columns[1, k], columns[2, k]), e)
        free[k] = not _pressed(q, slope, low, high, k)
    for i in range(joints):
        one, turns = (columns[0, i], columns[1, i], columns[2, i]), (columns[3, i], columns[4, i], columns[5, i])
        for j in range(i, joints):
            if free[i] and free[j]:
                other = columns[0, j], columns[1, j], columns[2, j]
                plain = other[0], other[1], other[2] / up
                curved[i, j] = dot(one, other) - dot(crossed(pulls, turns), plain)
                curved[j, i] = curved[i, j]
    size, way = np.linalg.eigh(curved)
    step[:] = 0.0
    for i in range(joints):
        along = 0.0
        for k in range(joints):
            along += way[k, i] * slope[k] if free[k] else 0.0
        for k in range(joints):
            step[k] += way[k, i] * along / (max(abs(size[i]), least) + damped) if free[k] else 0.0


@compiled_for(
    floats(2), floats(2), floats(3), WHOLE, floats(2), floats(2), floats(1), floats(2), flags(1), floats(2), floats(1),
    floats(1), REAL, REAL, REAL,
)  # fmt: skip
def _descended(
    starts: Array, targets: Array, turns: Array, asks: int, axes: Array, offsets: Array, mount_at: Array,
    mount_turn: Array, sliding: Flags, coupling: Array, low: Array, high: Array, reach: float, up: float,
    tilt_mm: float,
) -> tuple[Array, Array]:  # fmt: skip
    samples, joints = starts.shape
    found, gaps = starts.copy(), np.empty((samples, 6))
    moves, columns, new_columns = np.empty((9, len(axes))), np.empty((6, joints)), np.empty((6, joints))
    new_gap, step, trial = np.empty(6), np.empty(joints), np.empty(joints)
    for s in range(samples):
        q, gap, target, wanted, damping = found[s], gaps[s], targets[s], turns[s if asks else 0], 0.01
        was = _look(
            q, target, wanted, asks, axes, offsets, mount_at, mount_turn, sliding, coupling, gap, moves, columns, up,
            tilt_mm,
        )  # fmt: skip
        for count in range(ROUNDS):
            if was <= GOOD_MM:
                break
            told, damped = True, damping * reach * reach
            if asks == PLACE and count >= STRAIGHT_ROUNDS:
                _curved_step(q, gap, columns, damped, low, high, 1e-9 * reach * reach, step, up)
            else:
                told = _straight_step(q, gap, columns, damped, low, high, 6 if asks else 3, step, tilt_mm)
            now = np.inf
            if told:
                for k in range(joints):
                    trial[k] = min(max(q[k] + step[k], low[k]), high[k])
                now = _look(
                    trial, target, wanted, asks, axes, offsets, mount_at, mount_turn, sliding, coupling, new_gap, moves,
                    new_columns, up, tilt_mm,
                )  # fmt: skip
            if now < was:
                last = was - now < GAIN * now
                q[:] = trial
                gap[:] = new_gap
                columns[:] = new_columns
                was = now
                damping = max(damping * 0.1, LEAST_DAMPING)
            else:
                damping *= 8
                last = damping > MOST_DAMPING
            if last:
                break
        gap[2] /= up
    return found, gaps


@compiled_for(
    floats(2), floats(2), floats(3), WHOLE, floats(2), floats(2), floats(1), floats(2), flags(1), floats(2)
)  # fmt: skip
def _missed(
    q: Array, targets: Array, turns: Array, asks: int, axes: Array, offsets: Array, mount_at: Array, mount_turn: Array,
    sliding: Flags, coupling: Array,
) -> Array:  # fmt: skip
    gaps, moves, columns = np.empty((len(q), 6)), np.empty((9, len(axes))), np.empty((6, q.shape[1]))
    for s in range(len(q)):
        _look(
            q[s], targets[s], turns[s if asks else 0], asks, axes, offsets, mount_at, mount_turn, sliding, coupling,
            gaps[s], moves, columns, 1.0, 1.0,
        )  # fmt: skip
    return gaps
