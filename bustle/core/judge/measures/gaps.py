"""How near links come to each other and to the frame: capsules and boxes, over the whole cycle.

A link is a capsule, its line from joint to joint with a radius; a section of the frame is a box. Two segments
p + s·u and q + t·v are nearest at the s, t ∈ [0, 1] that solve the 2×2 normal equations, clamped one after the other
(Ericson, Real-Time Collision Detection, 2005, section 5.1.9). For a segment and
a box see `_segment_to_box`.

Pairs whose bounding spheres over the cycle stay apart are left out; nothing loops over samples. Coordinates come first
in the arrays here, (3, R, S): long rows are quick rows.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.machine.limb_groups import Solved
from bustle.core.project.walker import Walker

# Beyond this two links are not worth measuring, mm.
FAR_MM = 40.0
SHORT_MM = 1.0
# A segment that comes this near to a box goes through it, as far as rounding can tell.
TOUCHES_MM = 1e-9
_GOLDEN = (5**0.5 - 1) / 2
_ROUNDS = 24


@dataclass(frozen=True)
class Rod:
    """A link as a capsule: between points `hinge` and `hinge` + 1 of a limb (by its place among the limbs)."""

    limb: str
    section: str
    name: str
    first: bool
    member: int
    hinge: int
    radius: float


@dataclass(frozen=True)
class Gap:
    """The least distance between two parts, at which sample; below 0 they overlap by as much."""

    first: str
    second: str
    limbs: tuple[str, str]
    distance_mm: float
    sample: int


def rods(walker: Walker, solved: Solved) -> list[Rod]:
    """Every link with a length, as drawn by the points of its limb."""
    found = []
    for i, (limb, points) in enumerate(zip(walker.limbs, solved.points, strict=True)):
        radii = [k.radius_mm for k in limb.links]
        fresh = True
        lengths = np.linalg.norm(np.diff(points[0], axis=0), axis=1)
        for h in np.flatnonzero(lengths >= SHORT_MM).tolist():
            # Stiff parts and ankles have no link of their own; they are as thick as the nearest.
            k = min(max(0, h - (points.shape[1] - 1 - len(radii))), len(radii) - 1) if radii else -1
            name = limb.links[k].name if radii else "arm"
            found.append(Rod(limb.name, limb.section, name, fresh, i, h, radii[k] if radii else 6.0))
            fresh = False
    return found


def nearest(walker: Walker, places: dict[str, tuple[Array, Array]], solved: Solved, samples: int) -> list[Gap]:
    """The least gaps between links of different limbs, and between links and the frame's boxes, smallest first.

    Pairs further apart than FAR_MM are left out.

    places: every section's origin (3,) and turn (3, 3) in the body frame. The first link of a limb belongs to the
    section it hangs on and is not measured against it.
    """
    links = rods(walker, solved)
    if not links:
        return []
    ends = np.empty((2, 3, len(links), samples))
    for n, rod in enumerate(links):
        ends[:, :, n] = solved.points[rod.member][:samples, rod.hinge : rod.hinge + 2].transpose(1, 2, 0)
    gaps = _between_links(links, ends)
    for section in walker.sections:
        at, turn = places[section.name]
        half = np.array(section.size_mm) / 2
        near = [n for n, rod in enumerate(links) if not (rod.first and rod.section == section.name)]
        local = (turn.T @ (ends[:, :, near] - at[:, None, None]).reshape(2, 3, -1)).reshape(2, 3, len(near), samples)
        gaps += _to_box(section.name, half, [links[n] for n in near], local)
    return sorted(gaps, key=lambda gap: gap.distance_mm)


def _bounds(ends: Array) -> tuple[Array, Array]:
    """What rods (2, 3, R, S) keep within over the samples: lowest and highest (3, R)."""
    return ends.min(axis=-1).min(axis=0), ends.max(axis=-1).max(axis=0)


def _to_box(name: str, half: Array, links: list[Rod], ends: Array) -> list[Gap]:
    """Rods (2, 3, R, S) against one box about the origin."""
    low, high = _bounds(ends)
    box, radius = half[:, None], np.array([r.radius for r in links])
    near = np.flatnonzero((np.maximum(low - box, -box - high) < FAR_MM + radius).all(axis=0))
    links, ends = [links[n] for n in near], ends[:, :, near]
    if not links:
        return []
    distance = _segment_to_box(ends[0], ends[1], half) - radius[near, None]
    at = distance.argmin(axis=1)
    return [
        Gap(f"{rod.limb} {rod.name}", name, (rod.limb, rod.limb), float(distance[n, k]), int(k))
        for n, (rod, k) in enumerate(zip(links, at, strict=True))
        if distance[n, k] < FAR_MM
    ]


def _between_links(links: list[Rod], ends: Array) -> list[Gap]:
    pairs = _close_pairs(links, ends)
    if not pairs:
        return []
    i, j = (np.array(k) for k in zip(*pairs, strict=True))
    radius = np.array([r.radius for r in links])
    distance = _segments(*ends[:, :, i], *ends[:, :, j]) - (radius[i] + radius[j])[:, None]
    at = distance.argmin(axis=1)
    return [
        Gap(
            f"{links[a].limb} {links[a].name}",
            f"{links[b].limb} {links[b].name}",
            (links[a].limb, links[b].limb),
            float(distance[n, at[n]]),
            int(at[n]),
        )
        for n, (a, b) in enumerate(pairs)
        if distance[n, at[n]] < FAR_MM
    ]


def _close_pairs(links: list[Rod], ends: Array) -> list[tuple[int, int]]:
    """Pairs of different limbs whose bounding spheres over the cycle come within FAR_MM."""
    low, high = _bounds(ends)
    middle = (low + high) / 2
    reach = np.linalg.norm(high - low, axis=0) / 2 + np.array([r.radius for r in links])
    between = np.linalg.norm(middle[:, :, None] - middle[:, None], axis=0) - reach[:, None] - reach[None]
    close = np.argwhere(np.triu(between < FAR_MM, 1))
    return [(int(a), int(b)) for a, b in close if links[a].limb != links[b].limb]


def _segments(p: Array, p_end: Array, q: Array, q_end: Array) -> Array:
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


def _segment_to_box(start: Array, end: Array, half: Array) -> Array:
    """Distances (R, S) from segments (3, R, S) to a box about the origin; below 0 the depth of the deepest point.

    Half the squared distance is convex along the segment, and its slope Σ excess·direction is linear between the places
    where a coordinate enters or leaves the box: the slope at those eight places says where it is zero.
    """
    p = start.reshape(3, -1)
    way = end.reshape(3, -1) - p
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
    share = np.where(crosses, t0 - np.where(crosses, g0, 0.0) * (t1 - t0) / np.where(crosses, rise, 1.0), t1)
    place = p + share * way
    gap = place - np.clip(place, -box, box)
    distance: Array = np.sqrt((gap * gap).sum(axis=0))
    inside = distance < TOUCHES_MM
    if inside.any():
        distance[inside] = _depth(p.T[inside], way.T[inside], half)
    return distance.reshape(start.shape[1:])


def _depth(start: Array, way: Array, half: Array) -> Array:
    """Below 0: how deep the deepest point of segments (N, 3) lies in the box, by golden section."""

    def depth(share: Array) -> Array:
        deep: Array = (np.abs(start + share[:, None] * way) - half).max(axis=-1)
        return deep

    low, high = np.zeros(len(start)), np.ones(len(start))
    for _ in range(_ROUNDS):
        first, second = high - _GOLDEN * (high - low), low + _GOLDEN * (high - low)
        left = depth(first) <= depth(second)
        low, high = np.where(left, low, first), np.where(left, second, high)
    return np.minimum(depth((low + high) / 2), 0.0)
