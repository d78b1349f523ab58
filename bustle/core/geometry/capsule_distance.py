"""Distances between line segments, and from segments to a box or a cylinder, for many at once.

Two segments p + s·u and q + t·v are nearest at the s, t ∈ [0, 1] that solve the 2×2 normal equations, clamped one after
the other (Ericson, Real-Time Collision Detection, 2005, section 5.1.9). Coordinates come first in the arrays here,
(3, R, S): long rows are quick rows.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Indices

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


def segment_to_box(start: Array, end: Array, half: Array) -> Array:
    """Distances (R, S) from segments (3, R, S) to a box about the origin; below 0 the depth of the deepest point.

    Half the squared distance is convex along the segment, and its slope Σ excess·direction is linear between the places
    where a coordinate enters or leaves the box: the slope at those eight places says where it is zero. Most segments
    are nearest with an end, which its slope there tells.
    """
    p, q = start.reshape(3, -1), end.reshape(3, -1)
    way, box = q - p, half[:, None]
    first, last = p - np.clip(p, -box, box), q - np.clip(q, -box, box)
    falls, rises = (first * way).sum(axis=0) < 0, (last * way).sum(axis=0) > 0
    gap = np.where(falls, last, first)
    distance: Array = np.sqrt((gap * gap).sum(axis=0))
    between = np.flatnonzero(falls & rises)
    if len(between):
        inner = p[:, between] + _nearest_share(p[:, between], way[:, between], half) * way[:, between]
        gap = inner - np.clip(inner, -box, box)
        distance[between] = np.sqrt((gap * gap).sum(axis=0))
    inside = distance < TOUCHES_MM
    if inside.any():
        distance[inside] = _depth(p[:, inside], way[:, inside], half)
    return distance.reshape(start.shape[1:])


def _nearest_share(p: Array, way: Array, half: Array) -> Array:
    """(N,): how far along segments (3, N) they are nearest to the box."""
    box = half[:, None]
    with np.errstate(divide="ignore", invalid="ignore"):
        crossings = np.concatenate([(-box - p) / way, (box - p) / way])
    # A segment along a face never crosses it: 0/0 is no crossing.
    ends = np.zeros((1, p.shape[1]))
    shares = np.concatenate([np.clip(np.nan_to_num(crossings, nan=0.0), 0.0, 1.0), ends, ends + 1.0])
    slope = np.zeros_like(shares)
    for axis in range(3):
        place = p[axis] + shares * way[axis]
        slope += (place - np.clip(place, -half[axis], half[axis])) * way[axis]
    # The slope never falls along the segment: it crosses 0 between the last place below it and the first that is not.
    falls = slope < 0
    t0, g0 = np.where(falls, shares, 0.0).max(axis=0), np.where(falls, slope, -np.inf).max(axis=0)
    t1, g1 = np.where(falls, 1.0, shares).min(axis=0), np.where(falls, np.inf, slope).min(axis=0)
    rise = g1 - g0
    crosses = np.isfinite(rise)
    found: Array = np.where(crosses, t0 - np.where(crosses, g0, 0.0) * (t1 - t0) / np.where(crosses, rise, 1.0), t1)
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


def _depth(start: Array, way: Array, half: Array) -> Array:
    """Below 0: how deep the deepest point of segments (3, N) lies in the box.

    At share t its depth is the greatest of the six lines ±(p_i + t·w_i) − half_i, which is convex: least at an end, or
    where two of the lines cross.
    """
    at = np.concatenate([start, -start]) - np.concatenate([half, half])[:, None]
    slope = np.concatenate([way, -way])
    one, other = np.triu_indices(6, 1)
    steeper = slope[one] - slope[other]
    meets = (at[other] - at[one]) / np.where(steeper == 0.0, np.inf, steeper)
    shares = np.concatenate([np.clip(meets, 0.0, 1.0), np.ones((1, start.shape[1]))])
    x, y, z = (np.abs(p + shares * w) - h for p, w, h in zip(start, way, half, strict=True))
    deepest: Array = np.maximum(np.maximum(x, y), z).min(axis=0)
    return np.minimum(deepest, 0.0)
