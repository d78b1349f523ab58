"""How near links come to each other and to the frame: capsules, boxes and rounds, over the whole cycle.

A link is a capsule, its line from joint to joint with a radius; a section of the frame is a box or a round. What begins
within the section that it hangs on comes out of an opening that nobody described, and is told apart.

Pairs whose bounding boxes over the cycle stay apart are left out; nothing loops over samples. Coordinates come first
in the arrays here, (3, R, S): long rows are quick rows.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.capsule_distance import between_segments
from bustle.core.geometry.compiled import REAL, compiled_for, floats, indices
from bustle.core.loads.held_against_sag import carried_points
from bustle.core.loads.told import not_carried_moving
from bustle.core.machine.links_as_rods import Rod
from bustle.core.machine.section_shape import segment_to_section
from bustle.core.machine.sections import Swung
from bustle.core.project.walker import Section
from bustle.core.walk.reading import Reading

# Beyond this two links are not worth measuring, mm.
FAR_MM = 40.0
# By no more than this parts that are planned clear come nearer as servos give.
GIVES_MM = 10.0


@dataclass(frozen=True)
class Gap:
    """The least distance between two parts, at which sample; below 0 they overlap by as much. inside: the first begins
    within the second all along, and the distance is how deep, at least."""

    first: str
    second: str
    limbs: tuple[str, str]
    distance_mm: float
    sample: int
    inside: bool = False


def gaps(r: Reading) -> list[Gap]:
    """The least gaps between links of different limbs, and between links and the frame's sections, smallest first.

    Pairs further apart than FAR_MM are left out. The first link of a limb belongs to the section it hangs on and is not
    measured against it, nor is what begins within it.
    """
    return [gap for gap in r.of(_planned) if not gap.inside]


def begin_inside(r: Reading) -> list[Gap]:
    """Links that begin within the section they hang on, wherever they are, the deepest first."""
    return [gap for gap in r.of(_planned) if gap.inside]


def _planned(r: Reading) -> list[Gap]:
    solved = r.course.solved
    swung = {name: own.only(slice(r.samples)) for name, own in solved.swung.items()}
    return _all(r, [points[: r.samples] for points in solved.points], swung)


def carried_gaps(r: Reading) -> list[Gap] | None:
    """The same as its servos give under the load; None where parts are planned so far apart that it does not matter, or
    nothing is told of what they hold."""
    if not near_enough_to_give(r) or not_carried_moving(r):
        return None
    return gaps_of(r, r.of(carried_points))


def near_enough_to_give(r: Reading) -> bool:
    """Whether parts are planned so near that what servos give may matter."""
    found, near = r.of(gaps), r.project.limits.clearance_mm + GIVES_MM
    return bool(found) and found[0].distance_mm <= near and not r.course.solved.swung


def gaps_of(r: Reading, points: Sequence[Array], swung: Mapping[str, Swung] | None = None) -> list[Gap]:
    """The same of this machine with its limbs' points elsewhere: (S, P, 3) mm of each limb, body frame. swung: the
    sections that move."""
    return [gap for gap in _all(r, points, swung) if not gap.inside]


def _all(r: Reading, points: Sequence[Array], swung: Mapping[str, Swung] | None) -> list[Gap]:
    links = r.kit.rods
    if not links:
        return []
    ends = np.concatenate([_ends(points[member], own) for member, own in r.kit.hinges_of_rods], axis=2)
    bounds = _bounds(ends)
    found = _between_links(links, ends, bounds)
    for section in r.project.walker.sections:
        place = r.assembled.sections[section.name]
        here, (low, high) = ends, bounds
        if swung and section.name in swung:
            here = np.moveaxis(swung[section.name].back(np.moveaxis(here, 1, -1)), -1, 1)
            low, high = _bounds(here)
        # In the body's axes a section lies within this box, however it is turned.
        half = (np.abs(place.turn) @ np.array(section.size_mm) / 2)[:, None]
        apart = _apart(low, high, place.at[:, None] - half, place.at[:, None] + half).tolist()
        near = [
            n
            for n, rod in enumerate(links)
            if apart[n] - rod.radius < FAR_MM and not (rod.first and rod.section == section.name)
        ]
        if near:
            local = _seen(here, np.array(near, dtype=np.intp), place.at, place.turn)
            found += _to_section(section, [links[n] for n in near], local)
    return sorted(found, key=lambda gap: round(gap.distance_mm, 6))


@compiled_for(floats(3), indices(1))
def _ends(points: Array, hinges: Indices) -> Array:
    """(2, 3, R, S): from which of points (S, P, 3) to the next one each of a limb's rods goes."""
    found = np.empty((2, 3, len(hinges), len(points)))
    for n in range(len(hinges)):
        for end in range(2):
            for axis in range(3):
                for s in range(len(points)):
                    found[end, axis, n, s] = points[s, hinges[n] + end, axis]
    return found


@compiled_for(floats(4), indices(1), floats(1), floats(2))
def _seen(ends: Array, rods: Indices, at: Array, turn: Array) -> Array:
    """Some of the rods (2, 3, R, S), seen from what is at (3,), turned by (3, 3)."""
    samples = ends.shape[3]
    found = np.empty((2, 3, len(rods), samples))
    for end in range(2):
        for n in range(len(rods)):
            x, y, z = ends[end, 0, rods[n]], ends[end, 1, rods[n]], ends[end, 2, rods[n]]
            for axis in range(3):
                a, b, c = turn[0, axis], turn[1, axis], turn[2, axis]
                for s in range(samples):
                    found[end, axis, n, s] = a * (x[s] - at[0]) + b * (y[s] - at[1]) + c * (z[s] - at[2])
    return found


@compiled_for(floats(4))
def _bounds(ends: Array) -> tuple[Array, Array]:
    """What rods (2, 3, R, S) keep within over the samples: lowest and highest (3, R)."""
    _, _, rods, samples = ends.shape
    low, high = np.empty((3, rods)), np.empty((3, rods))
    for axis in range(3):
        for r in range(rods):
            # Numbers of their own cost less to hold on to than parts of an array.
            least, most = np.inf, -np.inf
            for end in range(2):
                along = ends[end, axis, r]
                for s in range(samples):
                    at = along[s]
                    if at < least:
                        least = at
                    if at > most:
                        most = at
            low[axis, r], high[axis, r] = least, most
    return low, high


def _to_section(section: Section, links: Sequence[Rod], ends: Array) -> list[Gap]:
    """Rods (2, 3, R, S) against one section, as seen from it."""
    distance = segment_to_section(ends[0], ends[1], section) - np.array([[r.radius] for r in links])
    at = distance.argmin(axis=1)
    least = distance[np.arange(len(links)), at]
    inside = np.zeros(len(links), dtype=bool)
    for n in [n for n, rod in enumerate(links) if least[n] < 0 and rod.section == section.name]:
        deep = segment_to_section(ends[0, :, n : n + 1], ends[0, :, n : n + 1], section)[0]
        if deep.max() < 0:
            inside[n], at[n], least[n] = True, deep.argmax(), deep.max()
    return [
        Gap(f"{rod.limb} {rod.name}", section.name, (rod.limb, rod.limb), float(least[n]), int(at[n]), bool(inside[n]))
        for n, rod in enumerate(links)
        if least[n] < FAR_MM
    ]


def _between_links(links: Sequence[Rod], ends: Array, bounds: tuple[Array, Array]) -> list[Gap]:
    pairs = _close_pairs(links, *bounds)
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


def _close_pairs(links: Sequence[Rod], low: Array, high: Array) -> list[tuple[int, int]]:
    """Pairs of different limbs whose bounding boxes over the cycle come within FAR_MM."""
    near = _near(low, high, np.array([r.radius for r in links]), np.array([r.member for r in links]), FAR_MM)
    return [(a, b) for a, b in np.argwhere(near).tolist()]


@compiled_for(floats(2), floats(2), floats(1), indices(1), REAL)
def _near(low: Array, high: Array, radius: Array, member: Indices, far_mm: float) -> Flags:
    """(R, R): which of two boxes along the axes (3, R), of different limbs, come so near; the first of two by row."""
    rods = len(radius)
    found = np.zeros((rods, rods), dtype=np.bool_)
    for a in range(rods):
        for b in range(a + 1, rods):
            apart = 0.0
            for axis in range(3):
                along = max(low[axis, a] - high[axis, b], low[axis, b] - high[axis, a], 0.0)
                apart += along * along
            found[a, b] = member[a] != member[b] and np.sqrt(apart) - radius[a] - radius[b] < far_mm
    return found


def _apart(low: Array, high: Array, low_other: Array, high_other: Array) -> Array:
    """How far boxes (3, …) along the axes are apart; 0 where they meet."""
    along = np.maximum(np.maximum(low - high_other, low_other - high), 0.0)
    found: Array = np.sqrt((along * along).sum(axis=0))
    return found
