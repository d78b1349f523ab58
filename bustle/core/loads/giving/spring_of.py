"""One foot that stands, as a spring: how it presses the frame as its points move (see `standing_springs`).

    C = L·K⁻¹·Lᵀ + what its points give themselves,   f = −C⁻¹·(d + θ × p + L·K⁻¹·Q).
A tip that the floor does not hold sideways slides on: it is that much looser there. Every point adds a little give of
its own, so that soles with several have one answer.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
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
    indices,
    minus,
    solved,
    vector,
)  # fmt: skip

# The give of a point on the floor itself, m a newton; of a point that does not stand, so much that it carries nothing.
FIRM, NONE = 1e-8, 1e5
LEAST = 1e-12


@compiled
def _slides(compliance: Array, holds: float) -> float:
    """m a newton: how much looser along the floor a foot is than its leg, since it slides where the floor does not hold
    what its leg pushes it by as it gives: so that it gives upwards as in `foot_gives`, C_zz − µ·|C_xy,z|."""
    x, y = compliance[0, 2], compliance[1, 2]
    pushed = np.sqrt(x * x + y * y)
    along = (x * x * compliance[0, 0] + 2 * x * y * compliance[0, 1] + y * y * compliance[1, 1]) / max(
        pushed, LEAST
    ) ** 2
    return max(pushed / holds - along, 0.0)


@compiled
def _by_frame(into: Array, off: Vector) -> None:
    """(3, 6): where a point goes as the frame does: shift, and turn × place."""
    into[:] = 0.0
    into[0, 0], into[1, 1], into[2, 2] = 1.0, 1.0, 1.0
    into[0, 4], into[0, 5] = off[2], -off[1]
    into[1, 3], into[1, 5] = -off[2], off[0]
    into[2, 3], into[2, 4] = off[1], -off[0]


@compiled_for(
    indices(1), indices(1), indices(2), floats(3), floats(2), floats(4), floats(4), flags(1), floats(4), floats(4),
    floats(4), floats(2), floats(1), flags(1), REAL, floats(2),
)  # fmt: skip
def springs_of(
    limbs: Indices, rows: Indices, own: Indices, points: Array, stands: Array, origins: Array, axes: Array,
    slides: Flags, forces: Array, moments: Array, by_servo: Array, stiff: Array, said: Array, rolls: Flags,
    holds: float, centre: Array,
) -> tuple[Array, Array, Array, Array]:  # fmt: skip
    """Of some of a group's limbs (L,), with P of all points each, own (L, P), at some rows (N,): pressing (L, N, 6, 3P)
    of those that stand, what they press the frame with as points move; moves (L, N, 3P, 6), where they go as the frame
    does; of all together stiffness (N, 6, 6), and pushes (N, 6), by their links' weight.

    points (…, 3) m and stands, 0 where they do not, at all rows; as are hinges' origins and axes, slides (H,), wrenches
    of the weight behind each, by_servo (…, K, H), how far each turns a radian of a servo, at all rows or one for all,
    and the centre of mass; by limb: stiff (…, K) N·m a radian, said, m a newton besides, and rolls: held sideways by
    nothing. holds: what the floor does, as a share of what presses it."""
    count, hinges, servos = own.shape[1], axes.shape[2], stiff.shape[1]
    pressing = np.zeros((len(limbs), len(rows), 6, 3 * count))
    moves = np.empty((len(limbs), len(rows), 3 * count, 6))
    stiffness, pushes = np.zeros((len(rows), 6, 6)), np.zeros((len(rows), 6))
    by_weight, pressed = np.empty(3 * count), np.empty(3 * count)
    reach, compliance = np.empty((3 * count, servos)), np.empty((3 * count, 3 * count))
    weighs = np.empty(servos)
    for n in range(len(limbs)):
        limb = limbs[n]
        for k in range(len(rows)):
            row, any_stands = rows[k], False
            for p in range(count):
                any_stands = any_stands or stands[own[n, p], row] > 0
                _by_frame(moves[n, k, 3 * p : 3 * p + 3], minus(vector(points[own[n, p], row]), vector(centre[row])))
            if not any_stands:
                continue
            levers = by_servo[limb, row if by_servo.shape[1] > 1 else 0]
            reach[:], compliance[:], weighs[:], by_weight[:] = 0.0, 0.0, 0.0, 0.0
            for h in range(hinges):
                axis, origin = vector(axes[limb, row, h]), vector(origins[limb, row, h])
                force, hangs = vector(forces[limb, row, h]), vector(forces[limb, row, h])
                if not slides[h]:
                    hangs = minus(vector(moments[limb, row, h]), crossed(origin, force))
                held = axis[0] * hangs[0] + axis[1] * hangs[1] + axis[2] * hangs[2]
                for p in range(count):
                    moved = axis if slides[h] else crossed(axis, minus(vector(points[own[n, p], row]), origin))
                    for s in range(servos):
                        for i in range(3):
                            reach[3 * p + i, s] += moved[i] * levers[s, h]
                for s in range(servos):
                    weighs[s] -= levers[s, h] * held
            for a in range(3 * count):
                for s in range(servos):
                    give = reach[a, s] / stiff[limb, s]
                    by_weight[a] += give * weighs[s]
                    for b in range(3 * count):
                        compliance[a, b] += give * reach[b, s]
            for p in range(count):
                loose = FIRM + said[limb] / count if stands[own[n, p], row] > 0 else NONE
                for i in range(3):
                    compliance[3 * p + i, 3 * p + i] += NONE if i < 2 and rolls[limb] else loose
            if count == 1:
                more = _slides(compliance, holds)
                compliance[0, 0] += more
                compliance[1, 1] += more
            factored(compliance)
            for i in range(6):
                for a in range(3 * count):
                    pressed[a] = moves[n, k, a, i]
                solved(compliance, pressed)
                for a in range(3 * count):
                    pressing[n, k, i, a] = pressed[a]
                    pushes[k, i] += pressed[a] * by_weight[a]
                    for j in range(6):
                        stiffness[k, i, j] += pressed[a] * moves[n, k, a, j]
    return pressing, moves, stiffness, pushes


@compiled
def _by_eigenvectors(square: Array, scale: Array, least: float, found: Array) -> None:
    whole = np.empty((6, 6))
    for a in range(6):
        for b in range(6):
            whole[a, b] = scale[a] * square[a, b] * scale[b]
    stiffness, ways = np.linalg.eigh(whole)
    for k in range(6):
        if stiffness[k] > least:
            for a in range(6):
                for b in range(6):
                    found[a, b] += scale[a] * ways[a, k] * ways[b, k] * scale[b] / stiffness[k]


@compiled_for(floats(3), floats(2), indices(1))
def far_from(points: Array, centre: Array, rows: Indices) -> Array:
    """(K,) m: how far points (P, N, 3) are from a centre (N, 3) at some rows, the root of their mean square."""
    found = np.empty(len(rows))
    for k in range(len(rows)):
        square = 0.0
        for p in range(len(points)):
            off = minus(vector(points[p, rows[k]]), vector(centre[rows[k]]))
            square += dot(off, off) / len(points)
        found[k] = np.sqrt(square)
    return found


@compiled
def _factor_of(square: Array, scale: Array, least: float, whole: Array) -> bool:
    """Whether every movement is held by more than the least; then whole (6, 6) becomes the factor of the stiffness,
    scaled."""
    for beyond in (least, 0.0):
        for a in range(6):
            for b in range(6):
                whole[a, b] = scale[a] * square[a, b] * scale[b] - (beyond if a == b else 0.0)
        # Held at all where there is a factor of what lies beyond the least.
        if not factored(whole):
            return False
    return True


@compiled_for(floats(3), floats(1), REAL)
def where_held(square: Array, far: Array, least: float) -> Array:
    """(N, 6, 6): how the frame goes by what presses it, of its stiffness (N, 6, 6), symmetric, with turns told by how
    far they move what is far (N,) m from it. Movements that are held by less than the least are left out."""
    found, whole, each = np.zeros(square.shape), np.empty((6, 6)), np.empty(6)
    scale = np.ones(6)
    for n in range(len(square)):
        scale[3:] = 1.0 / max(far[n], LEAST)
        if not _factor_of(square[n], scale, least, whole):
            _by_eigenvectors(square[n], scale, least, found[n])
            continue
        for k in range(6):
            each[:] = 0.0
            each[k] = scale[k]
            solved(whole, each)
            for a in range(6):
                found[n, a, k] = scale[a] * each[a]
    return found


@compiled_for(floats(3), floats(2), floats(1), REAL, floats(2), indices(1), WHOLE)
def settled(
    square: Array, pushes: Array, far: Array, least: float, off: Array, rows: Indices, samples: int
) -> tuple[Array, Array]:
    """How far the frame has gone, mm, at a point off its middle (K, 3) m, and turned, rad, (samples, 3) each, under
    pushes (K, 6) on its stiffness (K, 6, 6), as `where_held` has it, at some rows (K,), evenly between them."""
    count, scale, whole = len(rows), np.ones(6), np.empty((6, 6))
    goes, way, found = np.zeros((count, 6)), np.empty(6), np.zeros((6, 6))
    for n in range(count):
        scale[3:] = 1.0 / max(far[n], LEAST)
        if _factor_of(square[n], scale, least, whole):
            for a in range(6):
                way[a] = scale[a] * pushes[n, a]
            solved(whole, way)
            for a in range(6):
                goes[n, a] = -scale[a] * way[a]
        else:
            found[:] = 0.0
            _by_eigenvectors(square[n], scale, least, found)
            for a in range(6):
                for b in range(6):
                    goes[n, a] -= found[a, b] * pushes[n, b]
        lever = crossed((goes[n, 3], goes[n, 4], goes[n, 5]), vector(off[n]))
        for i in range(3):
            goes[n, i] = 1000 * (goes[n, i] + lever[i])
    shift, turn, k = np.empty((samples, 3)), np.empty((samples, 3)), 0
    for s in range(samples):
        while k < count - 2 and rows[k + 1] <= s:
            k += 1
        after = min(k + 1, count - 1)
        share = (s - rows[k]) / (rows[after] - rows[k]) if after > k else 0.0
        share = min(max(share, 0.0), 1.0)
        for i in range(3):
            shift[s, i] = goes[k, i] + share * (goes[after, i] - goes[k, i])
            turn[s, i] = goes[k, 3 + i] + share * (goes[after, 3 + i] - goes[k, 3 + i])
    return shift, turn
