"""Distances between line segments, and from segments to a box or a cylinder, for many at once.

Two segments p + s·u and q + t·v are nearest at the s, t ∈ [0, 1] that solve the 2×2 normal equations, clamped one after
the other (Ericson, Real-Time Collision Detection, 2005, section 5.1.9). Coordinates come first in the arrays here,
(3, R, S): long rows are quick rows.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.compiled import Vector, compiled, compiled_for, dot, floats, plus, times, vector

# A segment that comes this near to a box goes through it, as far as rounding can tell.
TOUCHES_MM = 1e-9
_GOLDEN = (5**0.5 - 1) / 2
_ROUNDS = 24
# So small a share of a segment tells whether the distance falls there.
_HARDLY = 1e-6


def between_segments(p: Array, p_end: Array, q: Array, q_end: Array) -> Array:
    """Distances (N, S) between segments (3, N, S)."""
    u, v, w = p_end - p, q_end - q, p - q

    def dot(x: Array, y: Array) -> Array:
        product: Array = x[0] * y[0] + x[1] * y[1] + x[2] * y[2]
        return product

    a, b, c, d, e = dot(u, u), dot(u, v), dot(v, v), dot(u, w), dot(v, w)
    determinant = a * c - b * b
    s = np.clip(np.where(determinant > 1e-9 * a * c, (b * e - c * d) / np.maximum(determinant, 1e-300), 0.0), 0.0, 1.0)
    t = (b * s + e) / c
    clamped = np.clip(t, 0.0, 1.0)
    s = np.where(t == clamped, s, np.clip((b * clamped - d) / a, 0.0, 1.0))
    gap = w + s * u - clamped * v
    return np.sqrt(dot(gap, gap))


@compiled
def _beyond(p: Vector, box: Vector) -> Vector:
    """From a box about the origin to a point."""
    return (
        p[0] - min(max(p[0], -box[0]), box[0]),
        p[1] - min(max(p[1], -box[1]), box[1]),
        p[2] - min(max(p[2], -box[2]), box[2]),
    )


@compiled
def _nearest_share(p: Vector, way: Vector, box: Vector) -> float:
    """How far along a segment it is nearest to the box."""
    # The slope never falls along the segment: it crosses 0 between the last place below it and the first that is not.
    t0, g0, t1, g1 = 0.0, -np.inf, 1.0, np.inf
    for k in range(8):
        share = float(k - 6)
        if k < 6:
            axis, side = k // 2, 2.0 * (k % 2) - 1.0
            # A segment along a face never crosses it.
            if way[axis] == 0:
                continue
            share = min(max((side * box[axis] - p[axis]) / way[axis], 0.0), 1.0)
        slope = dot(_beyond(plus(p, times(way, share)), box), way)
        if slope < 0:
            t0, g0 = max(t0, share), max(g0, slope)
        else:
            t1, g1 = min(t1, share), min(g1, slope)
    return t0 - g0 * (t1 - t0) / (g1 - g0) if -np.inf < g0 and g1 < np.inf else t1


@compiled
def _depth(start: Vector, way: Vector, box: Vector) -> float:
    """Below 0: how deep the deepest point of a segment lies in the box.

    At share t its depth is the greatest of the six lines ±(p_i + t·w_i) − half_i, which is convex: least at an end, or
    where two of the lines cross.
    """
    deepest = 0.0
    for a in range(6):
        for b in range(a, 6):
            share = 1.0 if a == b else 0.0
            i, j, one, other = a % 3, b % 3, 1.0 - 2.0 * (a // 3), 1.0 - 2.0 * (b // 3)
            steeper = one * way[i] - other * way[j]
            if steeper != 0:
                meets = (other * start[j] - box[j] - one * start[i] + box[i]) / steeper
                share = min(max(meets, 0.0), 1.0)
            x, y, z = plus(start, times(way, share))
            deepest = min(deepest, max(abs(x) - box[0], abs(y) - box[1], abs(z) - box[2]))
    return deepest


@compiled_for(floats(3), floats(3), floats(1))
def segment_to_box(start: Array, end: Array, half: Array) -> Array:
    """Distances (R, S) from segments (3, R, S) to a box about the origin; below 0 the depth of the deepest point.

    Half the squared distance is convex along the segment, and its slope Σ excess·direction is linear between the places
    where a coordinate enters or leaves the box: the slope at those eight places says where it is zero. Most segments
    are nearest with an end, which its slope there tells.
    """
    _, rods, samples = start.shape
    found, box = np.empty((rods, samples)), vector(half)
    for r in range(rods):
        for s in range(samples):
            p = start[0, r, s], start[1, r, s], start[2, r, s]
            way = end[0, r, s] - p[0], end[1, r, s] - p[1], end[2, r, s] - p[2]
            last = plus(p, way)
            falls, rises = dot(_beyond(p, box), way) < 0, dot(_beyond(last, box), way) > 0
            share = _nearest_share(p, way, box) if falls and rises else 1.0 if falls else 0.0
            gap = _beyond(last if share == 1.0 else plus(p, times(way, share)), box)
            distance = np.sqrt(dot(gap, gap))
            found[r, s] = distance if distance >= TOUCHES_MM else _depth(p, way, box)
    return found


def segment_to_cylinder(start: Array, end: Array, radius: float, half: float) -> Array:
    """Distances (R, S) from segments (3, R, S) to a cylinder about z through the origin; below 0 the depth of the
    deepest point.

    With a = √(x² + y²) − radius and b = |z| − half the signed distance is √(max(a, 0)² + max(b, 0)²) outside and
    max(a, b) inside. That of a convex body is convex along a segment: where it neither falls from the first end nor
    rises to the last its least value is at that end, else it is found by golden section.
    """
    p = start.reshape(3, -1)
    way = end.reshape(3, -1) - p

    def signed(share: Array | float, of: Indices | slice = slice(None)) -> Array:
        x, y, z = p[:, of] + share * way[:, of]
        a, b = np.hypot(x, y) - radius, np.abs(z) - half
        apart: Array = np.hypot(np.maximum(a, 0.0), np.maximum(b, 0.0)) + np.minimum(np.maximum(a, b), 0.0)
        return apart

    first, last = signed(0.0), signed(1.0)
    least = np.minimum(first, last)
    between = np.flatnonzero((signed(_HARDLY) < first) & (signed(1.0 - _HARDLY) < last))
    low, high = np.zeros(len(between)), np.ones(len(between))
    for _ in range(_ROUNDS if len(between) else 0):
        nearer, farther = high - _GOLDEN * (high - low), low + _GOLDEN * (high - low)
        left = signed(nearer, between) <= signed(farther, between)
        low, high = np.where(left, low, nearer), np.where(left, farther, high)
    least[between] = np.minimum(least[between], signed((low + high) / 2, between))
    return least.reshape(start.shape[1:])
