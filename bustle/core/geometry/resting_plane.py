"""The plane that a rigid thing comes to rest on: lowered on to points, it stands on the three under its weight.

It goes down until three points touch, and the plane through them has every other point above it. That is the facet of
the points' lower hull under the weight c: of all λ ≥ 0 with Σλ = 1 and Σλ·(x, y) = c, the one with the least Σλ·z.
Of few points every three are tried. Of many, the simplex method goes from one three under the weight to the next: the
point furthest below their plane comes in for the one whose share λ runs out first. Source: the dual of a linear
programme, in any text on it.
"""

from __future__ import annotations

from itertools import combinations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices

# A triple this flat carries nothing, mm².
LEAST_AREA = 1.0
# More points than this are not tried three by three.
FEW = 14
# A point so far below the plane of three is one the thing stands on, mm; a share below this is none.
BELOW_MM, LEAST_SHARE = 1e-9, 1e-9
TURNS = 60


def resting_plane(points: Array, usable: Flags, over: Array) -> tuple[Array, Flags]:
    """Args: points (P, S, 3) mm; usable (P, S); over (S, 2), where the weight is.

    Returns: (S, 3), a, b, c of the floor z = a + b·x + c·y as the thing sees it when it has come to rest; and (S,),
    whether it does: where the weight is over no triple the plane is z = 0.
    """
    if len(points) <= FEW:
        return _by_trying_all(points, usable, over)
    planes, stands, sure = _by_pivoting(points, usable, over)
    rest = np.flatnonzero(~sure)
    if len(rest):
        planes[rest], stands[rest] = _by_trying_all(points[:, rest], usable[:, rest], over[rest])
    return planes, stands


def _by_trying_all(points: Array, usable: Flags, over: Array) -> tuple[Array, Flags]:
    samples = points.shape[1]
    triples = np.array(list(combinations(range(len(points)), 3)), dtype=np.intp).reshape(-1, 3).T
    if not triples.size:
        return np.zeros((samples, 3)), np.zeros(samples, dtype=bool)
    corners = points[triples]
    area, shares = _shares(corners, over)
    good = usable[triples].all(axis=0) & (np.abs(area) > 2 * LEAST_AREA) & (shares.min(axis=0) >= -LEAST_SHARE)
    height = np.where(good, (shares * corners[..., 2]).sum(axis=0), np.inf)
    best, rows = height.argmin(axis=0), np.arange(samples)
    stands = np.isfinite(height[best, rows])
    return np.where(stands[:, None], _plane(corners[:, best, rows]), 0.0), stands


def _by_pivoting(points: Array, usable: Flags, over: Array) -> tuple[Array, Flags, Flags]:
    """As `resting_plane`, and (S,) whether that is certain: not where three points lie nearly in a line, or the weight
    nearly over the border of them all."""
    rows = np.arange(points.shape[1])
    triple, inside = _first_three(points, usable, over)
    done = np.zeros(len(rows), dtype=bool)
    for _ in range(TURNS):
        corners = points[triple, rows]
        height = np.where(usable, above(_plane(corners), points), np.inf)
        comes = height.argmin(axis=0)
        done = height[comes, rows] >= -BELOW_MM
        moves = np.flatnonzero(inside & ~done)
        if not len(moves):
            break
        shares, goes = _shares(corners, over)[1], _shares(corners, points[comes, rows, :2])[1]
        lasts = np.where(goes > LEAST_SHARE, shares / np.where(goes > LEAST_SHARE, goes, 1.0), np.inf)
        leaves = lasts.argmin(axis=0)
        triple[leaves[moves], moves] = comes[moves]
    triple.sort(axis=0)
    corners = points[triple, rows]
    area, shares = _shares(corners, over)
    stands = inside & done & (np.abs(area) > 2 * LEAST_AREA) & (shares.min(axis=0) >= -LEAST_SHARE)
    return np.where(stands[:, None], _plane(corners), 0.0), stands, stands | ~_near(points, usable, over)


def _turns_about(points: Array, usable: Flags, over: Array) -> Array:
    """(P, S) rad: which way each usable point lies from the weight, −π … π; NaN of others."""
    away = points[..., :2] - over
    return np.where(usable, np.arctan2(away[..., 1], away[..., 0]), np.nan)


def _first_three(points: Array, usable: Flags, over: Array) -> tuple[Indices, Flags]:
    """(3, S): three points with the weight between them, and (S,) whether there are: the lowest, the last within half a
    turn from it, and the first beyond that."""
    turns = _turns_about(points, usable, over)
    rows = np.arange(points.shape[1])
    first = np.where(usable, points[..., 2], np.inf).argmin(axis=0)
    on = np.mod(turns - turns[first, rows], 2 * np.pi)
    on[first, rows] = np.nan
    before = np.where(on <= np.pi, on, -np.inf)
    beyond = np.where(on > np.pi, on, np.inf)
    last, next_one = before.argmax(axis=0), beyond.argmin(axis=0)
    inside = np.isfinite(before[last, rows]) & np.isfinite(beyond[next_one, rows])
    inside &= beyond[next_one, rows] - before[last, rows] <= np.pi
    return np.stack([first, last, next_one]), inside


def _near(points: Array, usable: Flags, over: Array) -> Flags:
    """(S,) whether the weight is over the points, or so near beside them that it may be: no gap much over half a turn
    is seen from it between one and the next."""
    turns = np.sort(_turns_about(points, usable, over), axis=0)
    count = usable.sum(axis=0)
    rows = np.flatnonzero(count)
    near = np.zeros(len(count), dtype=bool)
    gaps = np.diff(turns[:, rows], axis=0, append=np.nan)
    gaps[count[rows] - 1, np.arange(len(rows))] = turns[0, rows] + 2 * np.pi - turns[count[rows] - 1, rows]
    near[rows] = np.nanmax(gaps, axis=0) < np.pi + 1e-3
    return near


def _shares(corners: Array, over: Array) -> tuple[Array, Array]:
    """Of three corners (3, …, S, 3): twice their area (…, S) mm², and which share (3, …, S) each carries of a weight
    over (S, 2)."""
    (ax, ay, _), (bx, by, _), (cx, cy, _) = np.moveaxis(corners, -1, 1)
    area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
    safe = np.where(np.abs(area) > 2 * LEAST_AREA, area, 1.0)
    px, py = over[:, 0] - ax, over[:, 1] - ay
    second = (px * (cy - ay) - (cx - ax) * py) / safe
    third = ((bx - ax) * py - px * (by - ay)) / safe
    return area, np.stack([1.0 - second - third, second, third])


def _plane(corners: Array) -> Array:
    """(S, 3): a, b, c of z = a + b·x + c·y through three corners (3, S, 3)."""
    (ax, ay, az), (bx, by, bz), (cx, cy, cz) = np.moveaxis(corners, -1, 1)
    area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
    safe = np.where(np.abs(area) > 2 * LEAST_AREA, area, 1.0)
    along = ((bz - az) * (cy - ay) - (cz - az) * (by - ay)) / safe
    across = ((bx - ax) * (cz - az) - (cx - ax) * (bz - az)) / safe
    return np.stack([az - along * ax - across * ay, along, across], axis=-1)


def above(plane: Array, points: Array) -> Array:
    """(P, S): how far points (P, S, 3) are above planes (S, 3), mm up."""
    height: Array = points[..., 2] - plane[:, 0] - plane[:, 1] * points[..., 0] - plane[:, 2] * points[..., 1]
    return height
