"""How near links come to each other and to the frame: capsules and boxes, over the whole cycle.

A link is a capsule, its line from joint to joint with a radius; a section of the frame is a box.

Pairs whose bounding spheres over the cycle stay apart are left out; nothing loops over samples. Coordinates come first
in the arrays here, (3, R, S): long rows are quick rows.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.capsule_distance import between_segments, segment_to_box
from bustle.core.machine.limb_groups import Solved
from bustle.core.project.walker import Walker

# Beyond this two links are not worth measuring, mm.
FAR_MM = 40.0
SHORT_MM = 1.0


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
    distance = segment_to_box(ends[0], ends[1], half) - radius[near, None]
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
    distance = between_segments(*ends[:, :, i], *ends[:, :, j]) - (radius[i] + radius[j])[:, None]
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
