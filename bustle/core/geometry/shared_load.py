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
    x, y = (np.ascontiguousarray(points[..., k]) for k in (0, 1))
    give, hangs = stiffness.copy(), 0.0 if gaps is None else gaps
    forces, asked = np.zeros_like(give), np.ascontiguousarray(load.T)
    open_, hopeless = np.ones(len(load), dtype=bool), np.zeros(len(load), dtype=bool)
    if gaps is None and (plain := _past_them_all(x, y, give > 0, load)).any():
        _nearest(x, y, stiffness, load, forces, np.flatnonzero(plain))
        open_, hopeless = ~plain, plain
    for turn in range(4 * len(points) + 1):
        if turn == SOON:
            # Whatever has an answer has mostly found it: the rest is asked whether it has one at all.
            hopeless[open_] = _nearest(x, y, stiffness, load, forces, np.flatnonzero(open_))
            open_ &= ~hopeless
        if not open_.any():
            break
        own = slice(None) if open_.all() else np.flatnonzero(open_)
        u, v, k, b, whole = x[:, own], y[:, own], give[:, own], asked[:, own], stiffness[:, own]
        hang = hangs if gaps is None else gaps[:, own]
        if gaps is not None:
            b = b + _up(u, v, k * hang)
        ku, kv = k * u, k * v
        square = _symmetric(k.sum(axis=0), kv.sum(axis=0), -ku.sum(axis=0), (kv * v).sum(axis=0), -(ku * v).sum(axis=0),
                            (ku * u).sum(axis=0))  # fmt: skip
        one, two, three = _solved(square, b)
        gives = one + v * two - u * three - hang
        found = k * gives
        forces[:, own] = found
        pulls = found < -1e-12 * np.maximum(1.0, np.abs(found).max(axis=0))
        if turn > len(points):
            # One at a time, where letting go of several at once goes round in a circle.
            pulls &= found == found.min(axis=0)
        kept = np.where(pulls, 0.0, k)
        # What was let go of and would be pressed after all, the most pressed first.
        back = (whole > 0) & (k == 0) & (gives > NONE * np.abs(gives).max(axis=0)) & ~pulls.any(axis=0)
        back &= gives == np.where(back, gives, -np.inf).max(axis=0)
        give[:, own] = np.where(back, whole, kept)
        again = np.zeros_like(open_)
        again[own] = (pulls | back).any(axis=0)
        open_ = again
    np.maximum(forces, 0.0, out=forces)
    over = asked - _up(x, y, forces)
    most = BALANCED * np.maximum(np.abs(asked[0]), 1.0)
    left = np.flatnonzero((np.abs(over) > most).any(axis=0) & ~hopeless)
    if len(left):
        for n in left[~_nearest(x, y, stiffness, load, forces, left)].tolist():
            rows = np.stack([np.ones(len(x)), y[:, n], -x[:, n]])
            forces[:, n], _ = nnls(rows * (stiffness[:, n] > 0), load[n])
        over = asked - _up(x, y, forces)
    return forces, over.T


def _up(x: Array, y: Array, forces: Array) -> Array:
    """(3, N): what forces up (P, N) come to, and their moments about x and y."""
    return np.stack([forces.sum(axis=0), (y * forces).sum(axis=0), -(x * forces).sum(axis=0)])


def _past_them_all(x: Array, y: Array, presses: Flags, load: Array) -> Flags:
    """(N,): where the load's middle lies further out than every point that presses, or where no more than two do: what
    comes nearest is all that can be said, and of two it is the one answer."""
    found = presses.sum(axis=0) <= FEW
    up = np.maximum(load[:, 0], 1e-12)
    for values, middle in ((x, -load[:, 2] / up), (y, load[:, 1] / up)):
        out = values - middle
        found |= (np.where(presses, out, -1.0).max(axis=0) < -CLEAR_M) | (
            np.where(presses, out, 1.0).min(axis=0) > CLEAR_M
        )
    return np.asarray(found & (load[:, 0] > 0), dtype=bool)


def _nearest(x: Array, y: Array, stiffness: Array, load: Array, forces: Array, which: Indices) -> Flags:
    """x, y, stiffness, forces: (P, N). Puts in, for some of the N, the forces of two points that press and come nearest
    to the load; and of each whether none come nearer: whether it is one that nothing balances.

    What nothing balances lies outside the cone of all that points can carry together; the nearest of it lies on the
    cone's border, and two points at most carry that. So each two that press are asked for their own nearest, both where
    both do of themselves, else the one that comes nearer alone, and the two that come nearest are taken. Of two in one
    place each takes its share of the stiffness. Nothing comes nearer where what is left over, r, has aᵢ·r ≤ 0 of every
    point.
    """
    forces[:, which] = 0.0
    rows = np.stack([np.ones((len(which), len(x))), y[:, which].T, -x[:, which].T], axis=1)
    own, i, j = _pairs(stiffness[:, which].T > 0)
    row = which[own]
    k, m = stiffness[i, row], stiffness[j, row]
    one, other = np.sqrt(k / np.maximum(k, m)), np.sqrt(m / np.maximum(k, m))
    a, c, b = rows[own, :, i] * one[:, None], rows[own, :, j] * other[:, None], load[row]
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
    forces[i[best], row[best]] += found[0, best] * one[best]
    forces[j[best], row[best]] += found[1, best] * other[best]
    b = load[which]
    left = b - (rows @ forces[:, which].T[..., None])[..., 0]
    more = (left[:, None] @ rows)[:, 0]
    size = np.sqrt((rows * rows).sum(axis=1)) * np.sqrt((b * b).sum(axis=1, keepdims=True))
    return np.asarray((((more <= BALANCED * size) | (stiffness[:, which].T == 0)).all(axis=1)), dtype=bool)


def _pairs(presses: Flags) -> tuple[Indices, Indices, Indices]:
    """Of each row of (N, P) every two that press, and the one of a row in which no other does, with itself: (M,) each,
    row and the two."""
    i, j = np.triu_indices(presses.shape[1])
    single = presses.sum(axis=1, keepdims=True) == 1
    row, pair = np.nonzero(presses[:, i] & presses[:, j] & ((i != j) | single))
    return row, i[pair], j[pair]


def _symmetric(xx: Array, xy: Array, xz: Array, yy: Array, yz: Array, zz: Array) -> Array:
    """(3, 3, N)"""
    return np.stack([xx, xy, xz, xy, yy, yz, xz, yz, zz]).reshape(3, 3, -1)


def _solved(square: Array, right: Array) -> Array:
    """The least-norm solutions (3, N) of many small symmetric systems (3, 3, N), right (3, N), some of them without
    full rank: by cofactors, put right once, and by eigenvectors where the rank is short."""
    first, second, third = square
    one, two, three = _across(second, third), _across(third, first), _across(first, second)
    determinant = _along(first, one)
    sound = determinant > FULL_RANK * ((first[0] + second[1] + third[2]) / 3) ** 3
    whole = np.where(sound, determinant, 1.0)

    def by_cofactors(b: Array) -> Array:
        found: Array = (one * b[0] + two * b[1] + three * b[2]) / whole
        return found

    solution = by_cofactors(right)
    missing = right - np.stack([_along(first, solution), _along(second, solution), _along(third, solution)])
    solution += by_cofactors(missing)
    if not sound.all():
        short = ~sound
        values, ways = np.linalg.eigh(square[..., short].transpose(2, 0, 1))
        held = np.abs(values) > 1e-12 * np.abs(values).max(axis=1, keepdims=True)
        along = (right.T[short, None] @ ways)[:, 0] * held / np.where(held, values, 1.0)
        solution[:, short] = (ways @ along[..., None])[..., 0].T
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
    x, y = (np.ascontiguousarray(points[..., k]) for k in (0, 1))
    xx, xy, yy = weight, np.zeros_like(weight), weight
    if only is not None and only.any():
        cx, cy = only[..., 0], only[..., 1]
        free = (cx == 0) & (cy == 0)
        xx, xy, yy = (
            np.where(free, weight, weight * cx * cx),
            weight * cx * cy,
            np.where(free, weight, weight * cy * cy),
        )
    # What a turn about the upright does along x and y, as a push at the point resists it.
    round_x, round_y = x * xy - y * xx, x * yy - y * xy
    square = _symmetric(xx.sum(axis=0), xy.sum(axis=0), round_x.sum(axis=0), yy.sum(axis=0), round_y.sum(axis=0),
                        (x * round_y - y * round_x).sum(axis=0))  # fmt: skip
    ahead, aside, turn = _solved(square, load.T)
    goes_x, goes_y = ahead - y * turn, aside + x * turn
    return np.stack([xx * goes_x + xy * goes_y, xy * goes_x + yy * goes_y], axis=-1)
