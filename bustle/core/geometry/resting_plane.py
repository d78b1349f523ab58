"""The plane that a rigid thing comes to rest on: lowered on to points, it stands on the three under its weight.

It goes down until three points touch, and the plane through them has every other point above it. That is the facet of
the points' lower hull under the weight c: of all λ ≥ 0 with Σλ = 1 and Σλ·(x, y) = c, the one with the least Σλ·z.
Source: the dual of a linear programme, in any text on it.
"""

from __future__ import annotations

from itertools import combinations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags

# A triple this flat carries nothing, mm².
LEAST_AREA = 1.0


def resting_plane(points: Array, usable: Flags, over: Array) -> tuple[Array, Flags]:
    """Args: points (P, S, 3) mm; usable (P, S); over (S, 2), where the weight is.

    Returns: (S, 3), a, b, c of the floor z = a + b·x + c·y as the thing sees it when it has come to rest; and (S,),
    whether it does: where the weight is over no triple the plane is z = 0.
    """
    samples = points.shape[1]
    best, found = np.full(samples, np.inf), np.zeros((samples, 3))
    for triple in combinations(range(len(points)), 3):
        corners = points[list(triple)]
        (ax, ay, az), (bx, by, bz), (cx, cy, cz) = np.moveaxis(corners, -1, 1)
        area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay)
        good = usable[list(triple)].all(axis=0) & (np.abs(area) > 2 * LEAST_AREA)
        safe = np.where(good, area, 1.0)
        px, py = over[:, 0] - ax, over[:, 1] - ay
        second = (px * (cy - ay) - (cx - ax) * py) / safe
        third = ((bx - ax) * py - px * (by - ay)) / safe
        first = 1.0 - second - third
        good &= np.minimum(np.minimum(first, second), third) >= -1e-9
        height = first * az + second * bz + third * cz
        take = good & (height < best)
        if take.any():
            along = ((bz - az) * (cy - ay) - (cz - az) * (by - ay)) / safe
            across = ((bx - ax) * (cz - az) - (cx - ax) * (bz - az)) / safe
            plane = np.stack([az - along * ax - across * ay, along, across], axis=-1)
            best, found = np.where(take, height, best), np.where(take[:, None], plane, found)
    return found, np.isfinite(best)


def above(plane: Array, points: Array) -> Array:
    """(P, S): how far points (P, S, 3) are above planes (S, 3), mm up."""
    height: Array = points[..., 2] - plane[:, 0] - plane[:, 1] * points[..., 0] - plane[:, 2] * points[..., 1]
    return height
