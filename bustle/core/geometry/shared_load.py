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

from bustle.core.geometry.arrays import Array, Flags, Indices

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
    x, y = points[..., 0].T, points[..., 1].T
    rows = np.stack([np.ones_like(x), y, -x], axis=1)
    give, hang = stiffness.T.copy(), np.zeros_like(stiffness.T) if gaps is None else gaps.T
    forces = np.zeros_like(give)
    open_, hopeless = np.ones(len(give), dtype=bool), np.zeros(len(give), dtype=bool)
    if gaps is None and (plain := _past_them_all(x, y, give > 0, load)).any():
        _nearest(rows, stiffness.T, load, forces, np.flatnonzero(plain))
        open_, hopeless = ~plain, plain
    for turn in range(4 * len(points) + 1):
        if turn == SOON:
            # Whatever has an answer has mostly found it: the rest is asked whether it has one at all.
            hopeless[open_] = _nearest(rows, stiffness.T, load, forces, np.flatnonzero(open_))
            open_ &= ~hopeless
        if not open_.any():
            break
        a, k, b, hangs = rows[open_], give[open_], load[open_], hang[open_]
        weighed = a * k[:, None]
        if gaps is not None:
            b = b + (weighed @ hangs[..., None])[..., 0]
        gives = (_solved(weighed @ np.swapaxes(a, 1, 2), b)[:, None] @ a)[:, 0] - hangs
        found = k * gives
        forces[open_] = found
        pulls = found < -1e-12 * np.maximum(1.0, np.abs(found).max(axis=1, keepdims=True))
        if turn > len(points):
            # One at a time, where letting go of several at once goes round in a circle.
            pulls &= found == found.min(axis=1, keepdims=True)
        kept = np.where(pulls, 0.0, k)
        # What was let go of and would be pressed after all, the most pressed first.
        whole = stiffness.T[open_]
        back = (whole > 0) & (k == 0) & (gives > NONE * np.abs(gives).max(axis=1, keepdims=True))
        back &= ~pulls.any(axis=1, keepdims=True) & (gives == np.where(back, gives, -np.inf).max(axis=1, keepdims=True))
        give[open_] = np.where(back, whole, kept)
        again = np.zeros_like(open_)
        again[open_] = (pulls | back).any(axis=1)
        open_ = again
    forces = np.maximum(forces, 0.0)
    left = np.flatnonzero(_unbalanced(rows, load, forces) & ~hopeless)
    if len(left):
        for n in left[~_nearest(rows, stiffness.T, load, forces, left)].tolist():
            forces[n], _ = nnls(rows[n] * (stiffness.T[n] > 0), load[n])
    return forces.T, load - (rows @ forces[..., None])[..., 0]


def _past_them_all(x: Array, y: Array, presses: Flags, load: Array) -> Flags:
    """(N,): where the load's middle lies further out than every point that presses, or where no more than two do: what
    comes nearest is all that can be said, and of two it is the one answer."""
    found = presses.sum(axis=1) <= FEW
    up = np.maximum(load[:, 0], 1e-12)
    for values, middle in ((x, -load[:, 2] / up), (y, load[:, 1] / up)):
        out = values - middle[:, None]
        found |= (np.where(presses, out, -1.0).max(axis=1) < -CLEAR_M) | (
            np.where(presses, out, 1.0).min(axis=1) > CLEAR_M
        )
    return np.asarray(found & (load[:, 0] > 0), dtype=bool)


def _unbalanced(rows: Array, load: Array, forces: Array) -> Flags:
    """(N,): where forces leave something over."""
    left = load - (rows @ forces[..., None])[..., 0]
    return np.asarray((np.abs(left) > BALANCED * np.maximum(np.abs(load[:, :1]), 1.0)).any(axis=1), dtype=bool)


def _nearest(rows: Array, stiffness: Array, load: Array, forces: Array, which: Indices) -> Flags:
    """Puts in, for some of the N, the forces of two points that press and come nearest to the load; and of each whether
    none come nearer: whether it is one that nothing balances.

    What nothing balances lies outside the cone of all that points can carry together; the nearest of it lies on the
    cone's border, and two points at most carry that. So each two that press are asked for their own nearest, both where
    both do of themselves, else the one that comes nearer alone, and the two that come nearest are taken. Of two in one
    place each takes its share of the stiffness. Nothing comes nearer where what is left over, r, has aᵢ·r ≤ 0 of every
    point.
    """
    forces[which] = 0.0
    own, i, j = _pairs(stiffness[which] > 0)
    row = which[own]
    k, m = stiffness[row, i], stiffness[row, j]
    one, other = np.sqrt(k / np.maximum(k, m)), np.sqrt(m / np.maximum(k, m))
    a, c, b = rows[row, :, i] * one[:, None], rows[row, :, j] * other[:, None], load[row]
    g, h, q = (a * a).sum(axis=1), (a * c).sum(axis=1), (c * c).sum(axis=1)
    first, second = (a * b).sum(axis=1), (c * b).sum(axis=1)
    room = g * q - h * h
    apart = room > FULL_RANK * g * q
    both = np.stack([q * first - h * second, g * second - h * first]) / np.where(apart, room, 1.0)
    together = np.maximum(np.stack([first, second]), 0.0) / (g + q)
    alone = np.maximum(np.stack([first / g, second / q]), 0.0)
    alone *= np.stack([alone[0] * first >= alone[1] * second, alone[0] * first < alone[1] * second])
    found = np.where(apart, np.where((both >= 0).all(axis=0), both, alone), together)
    # How much of the load they take up: |b|² − |b − A·z|².
    better = found[0] * first + found[1] * second
    order = np.lexsort((better, row))
    best = order[np.flatnonzero(np.diff(row[order], append=-1))]
    forces[row[best], i[best]] += found[0, best] * one[best]
    forces[row[best], j[best]] += found[1, best] * other[best]
    a, b = rows[which], load[which]
    left = b - (a @ forces[which][..., None])[..., 0]
    more = (left[:, None] @ a)[:, 0]
    size = np.sqrt((a * a).sum(axis=1)) * np.sqrt((b * b).sum(axis=1, keepdims=True))
    return np.asarray((((more <= BALANCED * size) | (stiffness[which] == 0)).all(axis=1)), dtype=bool)


def _pairs(presses: Flags) -> tuple[Indices, Indices, Indices]:
    """Of each row of (N, P) every two that press, and the one of a row in which no other does, with itself: (M,) each,
    row and the two."""
    i, j = np.triu_indices(presses.shape[1])
    single = presses.sum(axis=1, keepdims=True) == 1
    row, pair = np.nonzero(presses[:, i] & presses[:, j] & ((i != j) | single))
    return row, i[pair], j[pair]


def _solved(square: Array, right: Array) -> Array:
    """The least-norm solutions of many small symmetric systems (N, 3, 3), some of them without full rank: by cofactors,
    put right once, and by eigenvectors where the rank is short."""
    rows = square.transpose(1, 2, 0)
    first, second, third = rows
    one, two, three = _across(second, third), _across(third, first), _across(first, second)
    determinant = _along(first, one)
    sound = determinant > FULL_RANK * ((first[0] + second[1] + third[2]) / 3) ** 3
    whole = np.where(sound, determinant, 1.0)
    b = right.T

    def by_cofactors(b: Array) -> Array:
        found: Array = (one * b[0] + two * b[1] + three * b[2]) / whole
        return found

    found = by_cofactors(b)
    found += by_cofactors(b - np.stack([_along(first, found), _along(second, found), _along(third, found)]))
    solution = found.T.copy()
    if not sound.all():
        short = ~sound
        values, ways = np.linalg.eigh(square[short])
        held = np.abs(values) > 1e-12 * np.abs(values).max(axis=1, keepdims=True)
        along = (right[short, None] @ ways)[:, 0] * held / np.where(held, values, 1.0)
        solution[short] = (ways @ along[..., None])[..., 0]
    return solution


def _across(a: Array, b: Array) -> Array:
    """a × b, (3, N) each."""
    return np.stack([a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]])


def _along(a: Array, b: Array) -> Array:
    """a · b, (3, N) each."""
    found: Array = a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
    return found


def pushed(points: Array, weight: Array, load: Array, only: Array | None = None) -> Array:
    """Forces along the floor (P, N, 2) in N that together come to load (N, 3): along x and y, and the moment about the
    upright through the origin. weight (P, N): of all that do, those with the least Σ h²/weight. only (P, N, 2): the one
    direction in which a point may push, of length 1; 0 where it may in any.

    With A_i what a force at a point i comes to, and W_i = w_i·1, or w_i·c·cᵀ along c alone: h_i = W_i·A_iᵀ·λ,
    (Σ A_i·W_i·A_iᵀ)·λ = load.
    """
    if not load.any():
        return np.zeros((*points.shape[:2], 2))
    x, y, w = points[..., 0].T, points[..., 1].T, weight.T
    one, none = np.ones_like(x), np.zeros_like(x)
    a = np.concatenate([np.stack([one, none, -y], axis=1), np.stack([none, one, x], axis=1)], axis=2)
    count = x.shape[1]
    if only is None or not only.any():
        k = np.concatenate([w, w], axis=1)
        found = k * (_solved((a * k[:, None]) @ np.swapaxes(a, 1, 2), load)[:, None] @ a)[:, 0]
    else:
        cx, cy = only[..., 0].T, only[..., 1].T
        free = (cx == 0) & (cy == 0)
        xx, xy, yy = np.where(free, w, w * cx * cx), w * cx * cy, np.where(free, w, w * cy * cy)
        ax, ay = a[:, :, :count], a[:, :, count:]
        weighed = np.concatenate([ax * xx[:, None] + ay * xy[:, None], ax * xy[:, None] + ay * yy[:, None]], axis=2)
        found = (_solved(weighed @ np.swapaxes(a, 1, 2), load)[:, None] @ weighed)[:, 0]
    return np.stack([found[:, :count].T, found[:, count:].T], axis=-1)
