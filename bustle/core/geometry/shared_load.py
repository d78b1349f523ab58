"""How points that only press share a load: the stiffer carry more, and none pulls.

Of all forces z ≥ 0 at points (x, y) of stiffness k that balance a force F and its moments, those with the least
strain Σ z²/k: z = K·Aᵀ·(A·K·Aᵀ)⁺·b over the points that press, A the rows 1, y, −x. Three points that do not lie in
line have one answer whatever they are made of. A point that hangs a gap g above the plane of the others presses only
when they have given so far: the least of Σ z²/2k + z·g, z = K·(Aᵀ·λ − g) with A·K·Aᵀ·λ = b + A·K·g. Where no forces
that press balance the load, those that come nearest are given, and what is left over.
"""

from __future__ import annotations

import numpy as np
from scipy.optimize import nnls

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.compiled import Vector, compiled, compiled_for, floats

# The upper half of a symmetric (3, 3), row by row.
Symmetric = tuple[float, float, float, float, float, float]

# Within this share of the whole a load counts as balanced.
BALANCED = 1e-9
# What would press by less than this share of the most presses nothing.
NONE = 1e-9
# Below this share of what its size would allow, a determinant is taken for nought.
FULL_RANK = 1e-10
# By so many turns nearly every load that points which press can balance is balanced.
SOON = 3
# So many points have one answer, or one nearest to it.
FEW = 2
# A load whose middle is so far beyond all points is balanced by none.
CLEAR_M = 1e-6


def pressed(points: Array, stiffness: Array, load: Array, gaps: Array | None = None) -> tuple[Array, Array]:
    """points (P, N, 2) m; stiffness (P, N), 0 where a point does not press; load (N, 3): the force up, N, and its
    moments about x and y through the origin, N·m; gaps (P, N): how high each hangs above the others' plane, in what
    the stiffness is told by; none where they all lie in it.

    Returns the forces (P, N) in N, and (N, 3) of what they leave over.
    """
    if not len(points):
        return np.zeros((0, len(load))), load.copy()
    forces, over, unsolved = _pressed(points, stiffness, load, np.zeros((0, 0)) if gaps is None else gaps)
    for n in np.flatnonzero(unsolved).tolist():
        rows = np.stack([np.ones(len(points)), points[:, n, 1], -points[:, n, 0]])
        forces[:, n], _ = nnls(rows * (stiffness[:, n] > 0), load[n])
        over[n] = load[n] - rows @ forces[:, n]
    return forces, over


@compiled
def _solved(square: Symmetric, right: Vector) -> Vector:
    """The least-norm solution of a small symmetric system, its upper half row by row, maybe without full rank: by
    cofactors, put right once, and by eigenvectors where the rank is short."""
    xx, xy, xz, yy, yz, zz = square
    a, b, c = yy * zz - yz * yz, xz * yz - xy * zz, xy * yz - xz * yy
    d, e, f = xx * zz - xz * xz, xy * xz - xx * yz, xx * yy - xy * xy
    determinant = xx * a + xy * b + xz * c
    if determinant <= FULL_RANK * ((xx + yy + zz) / 3) ** 3:
        return _of_short_rank(square, right)
    (u, v, w), x, y, z = right, 0.0, 0.0, 0.0
    for _ in range(2):
        x += (a * u + b * v + c * w) / determinant
        y += (b * u + d * v + e * w) / determinant
        z += (c * u + e * v + f * w) / determinant
        u = right[0] - xx * x - xy * y - xz * z
        v = right[1] - xy * x - yy * y - yz * z
        w = right[2] - xz * x - yz * y - zz * z
    return x, y, z


@compiled
def _of_short_rank(square: Symmetric, right: Vector) -> Vector:
    xx, xy, xz, yy, yz, zz = square
    values, ways = np.linalg.eigh(np.array(((xx, xy, xz), (xy, yy, yz), (xz, yz, zz))))
    most = max(abs(values[0]), abs(values[2]))
    x, y, z = 0.0, 0.0, 0.0
    for k in range(3):
        if abs(values[k]) > 1e-12 * most:
            by = (right[0] * ways[0, k] + right[1] * ways[1, k] + right[2] * ways[2, k]) / values[k]
            x, y, z = x + by * ways[0, k], y + by * ways[1, k], z + by * ways[2, k]
    return x, y, z


@compiled
def _past_them_all(x: Array, y: Array, stiffness: Array, load: Vector) -> bool:
    """Whether the load's middle lies further out than every point that presses, or no more than two do: what comes
    nearest is all that can be said, and of two it is the one answer."""
    ahead, aside = -load[2] / max(load[0], 1e-12), load[1] / max(load[0], 1e-12)
    pressing, before, behind, left, right = 0, True, True, True, True
    for p in range(len(x)):
        if stiffness[p] > 0:
            pressing += 1
            before, behind = before and x[p] - ahead > CLEAR_M, behind and x[p] - ahead < -CLEAR_M
            left, right = left and y[p] - aside > CLEAR_M, right and y[p] - aside < -CLEAR_M
    return load[0] > 0 and (pressing <= FEW or before or behind or left or right)


@compiled
def _nearest(x: Array, y: Array, stiffness: Array, load: Vector, forces: Array) -> bool:
    """Puts in the forces (P,) of two points that press and come nearest to the load; and whether none come nearer:
    whether it is one that nothing balances.

    What nothing balances lies outside the cone of all that points can carry together; the nearest of it lies on the
    cone's border, and two points at most carry that. So each two that press are asked for their own nearest, both where
    both do of themselves, else the one that comes nearer alone, and the two that come nearest are taken. Of two in one
    place each takes its share of the stiffness. Nothing comes nearer where what is left over, r, has aᵢ·r ≤ 0 of every
    point.
    """
    count, pressing = len(x), 0
    for p in range(count):
        pressing += stiffness[p] > 0
    best, taken, own = -1.0, (-1, -1), (0.0, 0.0)
    for i in range(count):
        for j in range(i if pressing == 1 else i + 1, count):
            if stiffness[i] <= 0 or stiffness[j] <= 0:
                continue
            stiffer = max(stiffness[i], stiffness[j])
            s, t = np.sqrt(stiffness[i] / stiffer), np.sqrt(stiffness[j] / stiffer)
            g = s * s * (1 + y[i] * y[i] + x[i] * x[i])
            h = s * t * (1 + y[i] * y[j] + x[i] * x[j])
            q = t * t * (1 + y[j] * y[j] + x[j] * x[j])
            first = s * (load[0] + y[i] * load[1] - x[i] * load[2])
            second = t * (load[0] + y[j] * load[1] - x[j] * load[2])
            room = g * q - h * h
            if room > FULL_RANK * g * q:
                one, other = (q * first - h * second) / room, (g * second - h * first) / room
                if one < 0 or other < 0:
                    one, other = max(first / g, 0.0), max(second / q, 0.0)
                    if one * first >= other * second:
                        other = 0.0
                    else:
                        one = 0.0
            else:
                one, other = max(first, 0.0) / (g + q), max(second, 0.0) / (g + q)
            # How much of the load they take up: |b|² − |b − A·z|².
            if one * first + other * second >= best:
                best, taken, own = one * first + other * second, (i, j), (one * s, other * t)
    for p in range(count):
        forces[p] = 0.0
    if taken[0] >= 0:
        forces[taken[0]] += own[0]
        forces[taken[1]] += own[1]
    left = _left_over(x, y, load, forces)
    size = np.sqrt(load[0] ** 2 + load[1] ** 2 + load[2] ** 2)
    for p in range(count):
        long = np.sqrt(1 + y[p] * y[p] + x[p] * x[p])
        if stiffness[p] > 0 and left[0] + y[p] * left[1] - x[p] * left[2] > BALANCED * long * size:
            return False
    return True


@compiled
def _left_over(x: Array, y: Array, load: Vector, forces: Array) -> Vector:
    """What forces up (P,) leave of a load."""
    up, about_x, about_y = load
    for p in range(len(x)):
        up -= forces[p]
        about_x -= y[p] * forces[p]
        about_y += x[p] * forces[p]
    return up, about_x, about_y


@compiled
def _turn(
    x: Array, y: Array, stiffness: Array, load: Vector, hangs: Array, give: Array, forces: Array, one_by_one: bool
) -> bool:
    """Forces of the points that press with give (P,); lets go of those that pull, or takes back the one that would be
    pressed most after all. Whether there is another turn."""
    count = len(x)
    up, about_x, about_y = load
    xx, xy, xz, yy, yz, zz = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
    for p in range(count):
        k, u, v = give[p], x[p], y[p]
        xx, xy, xz, yy, yz, zz = xx + k, xy + k * v, xz - k * u, yy + k * v * v, yz - k * u * v, zz + k * u * u
        hung = k * hangs[p]
        up, about_x, about_y = up + hung, about_x + v * hung, about_y - u * hung
    down, along_y, along_x = _solved((xx, xy, xz, yy, yz, zz), (up, about_x, about_y))
    least, most, furthest = 0.0, 1.0, 0.0
    for p in range(count):
        gives = down + y[p] * along_y - x[p] * along_x - hangs[p]
        forces[p] = give[p] * gives
        least, most, furthest = min(least, forces[p]), max(most, abs(forces[p])), max(furthest, abs(gives))
    pulls = False
    for p in range(count):
        if forces[p] < -1e-12 * most and (not one_by_one or forces[p] == least):
            give[p], pulls = 0.0, True
    if pulls:
        return True
    # What was let go of and would be pressed after all, the most pressed first.
    back, more = -1, NONE * furthest
    for p in range(count):
        gives = down + y[p] * along_y - x[p] * along_x - hangs[p]
        if stiffness[p] > 0 and give[p] == 0 and gives > more:
            back, more = p, gives
    if back >= 0:
        give[back] = stiffness[back]
    return back >= 0


@compiled_for(floats(3), floats(2), floats(2), floats(2))
def _pressed(points: Array, stiffness: Array, load: Array, gaps: Array) -> tuple[Array, Array, Flags]:
    """As `pressed`, gaps (0, 0) where there are none: and (N,), which loads are still not balanced, though there are
    forces that come nearer."""
    count, samples = stiffness.shape
    found, over, unsolved = np.zeros((count, samples)), np.zeros((samples, 3)), np.zeros(samples, dtype=np.bool_)
    x, y, own, give = np.zeros(count), np.zeros(count), np.zeros(count), np.zeros(count)
    hangs, forces = np.zeros(count), np.zeros(count)
    for n in range(samples):
        asked = load[n, 0], load[n, 1], load[n, 2]
        for p in range(count):
            x[p], y[p], own[p], give[p] = points[p, n, 0], points[p, n, 1], stiffness[p, n], stiffness[p, n]
            if len(gaps):
                hangs[p] = gaps[p, n]
        hopeless = not len(gaps) and _past_them_all(x, y, own, asked)
        if hopeless:
            _nearest(x, y, own, asked, forces)
        else:
            for turn in range(4 * count + 1):
                if turn == SOON:
                    # Whatever has an answer has mostly found it: the rest is asked whether it has one at all.
                    hopeless = _nearest(x, y, own, asked, forces)
                    if hopeless:
                        break
                # One at a time, where letting go of several at once goes round in a circle.
                if not _turn(x, y, own, asked, hangs, give, forces, turn > count):
                    break
        for p in range(count):
            forces[p] = max(forces[p], 0.0)
        left = _left_over(x, y, asked, forces)
        if not hopeless and max(abs(left[0]), abs(left[1]), abs(left[2])) > BALANCED * max(abs(asked[0]), 1.0):
            unsolved[n] = not _nearest(x, y, own, asked, forces)
            left = _left_over(x, y, asked, forces)
        for p in range(count):
            found[p, n] = forces[p]
        over[n, 0], over[n, 1], over[n, 2] = left
    return found, over, unsolved


def pushed(points: Array, weight: Array, load: Array, only: Array | None = None) -> Array:
    """Forces along the floor (P, N, 2) in N that together come to load (N, 3): along x and y, and the moment about the
    upright through the origin. weight (P, N): of all that do, those with the least Σ h²/weight. only (P, N, 2): the one
    direction in which a point may push, of length 1; 0 where it may in any.

    With A_i what a force at a point i comes to, and W_i = w_i·1, or w_i·c·cᵀ along c alone: h_i = W_i·A_iᵀ·λ,
    (Σ A_i·W_i·A_iᵀ)·λ = load.
    """
    if not load.any():
        return np.zeros((*points.shape[:2], 2))
    return _pushed(points, weight, load, np.zeros((*points.shape[:2], 2)) if only is None else only)


@compiled_for(floats(3), floats(2), floats(2), floats(3))
def _pushed(points: Array, weight: Array, load: Array, only: Array) -> Array:
    count, samples = weight.shape
    found, ways = np.zeros((count, samples, 2)), np.zeros((count, 3))
    for n in range(samples):
        a, b, c, d, e, f = 0.0, 0.0, 0.0, 0.0, 0.0, 0.0
        for p in range(count):
            x, y, w, along, aside = points[p, n, 0], points[p, n, 1], weight[p, n], only[p, n, 0], only[p, n, 1]
            xx, xy, yy = w, 0.0, w
            if along != 0 or aside != 0:
                xx, xy, yy = w * along * along, w * along * aside, w * aside * aside
            ways[p, 0], ways[p, 1], ways[p, 2] = xx, xy, yy
            # What a turn about the upright does along x and y, as a push at the point resists it.
            round_x, round_y = x * xy - y * xx, x * yy - y * xy
            a, b, c = a + xx, b + xy, c + round_x
            d, e, f = d + yy, e + round_y, f + x * round_y - y * round_x
        ahead, sideways, turn = _solved((a, b, c, d, e, f), (load[n, 0], load[n, 1], load[n, 2]))
        for p in range(count):
            goes_x, goes_y = ahead - points[p, n, 1] * turn, sideways + points[p, n, 0] * turn
            found[p, n, 0] = ways[p, 0] * goes_x + ways[p, 1] * goes_y
            found[p, n, 1] = ways[p, 1] * goes_x + ways[p, 2] * goes_y
    return found
