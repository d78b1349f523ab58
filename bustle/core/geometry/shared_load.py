"""How points that only press share a load: the stiffer carry more, and none pulls.

Of all forces z ≥ 0 at points (x, y) of stiffness k that balance a force F and its moments, those with the least
strain Σ z²/k: z = K·Aᵀ·(A·K·Aᵀ)⁺·b over the points that press, A the rows 1, y, −x. Three points that do not lie in
line have one answer whatever they are made of. A point that hangs a gap g above the plane of the others presses only
when they have given so far: the least of Σ z²/2k + z·g, z = K·(Aᵀ·λ − g) with A·K·Aᵀ·λ = b + A·K·g. Where no forces
that press balance the load, those that come nearest are given (non-negative least squares), and what is left over.
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
    for turn in range(4 * len(points) + 1):
        if turn == SOON:
            # Whatever has an answer has mostly found it: the rest is asked whether it has one at all.
            _nearest(rows, stiffness.T, load, forces, np.flatnonzero(open_))
            hopeless[open_] = _unbalanced(rows, load, forces)[open_]
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
    _nearest(rows, stiffness.T, load, forces, np.flatnonzero(_unbalanced(rows, load, forces) & ~hopeless))
    return forces.T, load - (rows @ forces[..., None])[..., 0]


def _unbalanced(rows: Array, load: Array, forces: Array) -> Flags:
    """(N,): where forces leave something over."""
    left = load - (rows @ forces[..., None])[..., 0]
    return np.asarray((np.abs(left) > BALANCED * np.maximum(np.abs(load[:, :1]), 1.0)).any(axis=1), dtype=bool)


def _nearest(rows: Array, stiffness: Array, load: Array, forces: Array, which: Indices) -> None:
    """Puts in, for some of the N, the forces that press and come nearest to the load."""
    some = stiffness[which] > 0
    forces[which] = 0.0
    pairs: Flags = some.sum(axis=1) == 2
    if pairs.any():
        _nearest_of_two(rows, stiffness, load, forces, which[pairs], some[pairs])
    for n, own in zip(which[~pairs].tolist(), some[~pairs], strict=True):
        if own.any():
            scale = np.sqrt(stiffness[n, own] / stiffness[n, own].max())
            forces[n, own] = nnls(rows[n][:, own] * scale, load[n])[0] * scale


def _nearest_of_two(rows: Array, stiffness: Array, load: Array, forces: Array, which: Indices, two: Flags) -> None:
    """The same where two points press: both, where both do of themselves, else the one that comes nearer alone. Of two
    in one place each takes its share of the stiffness."""
    points = np.nonzero(two)[1].reshape(-1, 2)
    own = which[:, None], points
    scale = np.sqrt(stiffness[own] / stiffness[own].max(axis=1, keepdims=True))
    a = rows[which[:, None], :, points] * scale[..., None]
    (g, h), (_, k) = np.moveaxis(a @ a.swapaxes(1, 2), 0, -1)
    p, q = np.moveaxis((a @ load[which][..., None])[..., 0], 0, -1)
    room = g * k - h * h
    apart = room > FULL_RANK * g * k
    both = np.stack([k * p - h * q, g * q - h * p], axis=-1) / np.where(apart, room, 1.0)[:, None]
    together = np.maximum(np.stack([p, q], axis=-1), 0.0) / (g + k)[:, None]
    alone = np.stack([np.maximum(p, 0.0) / g, np.maximum(q, 0.0) / k], axis=-1)
    better = np.stack([alone[:, 0] * p >= alone[:, 1] * q, alone[:, 0] * p < alone[:, 1] * q], axis=-1)
    found = np.where((both >= 0).all(axis=1, keepdims=True), both, alone * better)
    forces[own] = np.where(apart[:, None], found, together) * scale


def _solved(square: Array, right: Array) -> Array:
    """The least-norm solutions of many small symmetric systems, some of them without full rank."""
    size = np.trace(square, axis1=1, axis2=2) / 3
    sound = np.linalg.det(square) > FULL_RANK * size**3
    solution = np.zeros_like(right)
    if sound.any():
        solution[sound] = np.linalg.solve(square[sound], right[sound][..., None])[..., 0]
    if not sound.all():
        inverse = np.linalg.pinv(square[~sound], rcond=1e-12, hermitian=True)
        solution[~sound] = (inverse @ right[~sound][..., None])[..., 0]
    return solution


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
