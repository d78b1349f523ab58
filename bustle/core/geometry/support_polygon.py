"""Contacts → support polygon → margin, for all samples at once.

Every ordered pair of contacts (i, j) is a candidate edge; it bounds the polygon when no other contact lies to its
right. With at most twelve feet that is fewer operations than a hull per sample, and it has no loop over samples.
Between contact events the polygon is the same, so it is looked for once per run of samples. Two contacts (or any in a
line) give the edges i→j and j→i, a polygon without area, so the segment needs no case of its own.
"""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices

# Contacts nearer to a line than this are on it.
ON_LINE_MM = 1e-6

# Feet that move less from one sample to the next stand still.
STILL_MM = 1e-7

# So many triples of contacts are worked on at a time: their arrays stay in cache, however many contacts there are.
TRIPLES = 100_000


@dataclass(frozen=True)
class Sides:
    """(L, S) each: where every side of the polygons begins, mm, what leads along it, and how long it is. real: whether
    it has a length; there: whether there is a corner at all."""

    x: Array
    y: Array
    along_x: Array
    along_y: Array
    length: Array
    real: Flags
    there: Flags

    def only(self, samples: slice) -> Sides:
        return Sides(*(getattr(self, f.name)[:, samples] for f in fields(self)))


@dataclass(frozen=True)
class Support:
    """corners: (S, L, 2) mm, counter-clockwise, the first count[s] of them valid (the rest repeat the first); sides:
    the same side by side.

    margin_mm: (S,), signed distance from the centre of mass to the polygon's edge, positive inside; with two
    contacts or one, minus the distance to the segment or point; with none, NaN in `margin_mm` and False in
    `supported`.
    """

    corners: Array
    count: Indices
    margin_mm: Array
    supported: Flags
    sides: Sides


def support(feet: Array, contact: Flags, centre: Array) -> Support:
    """feet: (L, S, 2) mm and centre: (S, 2) mm in one frame; contact: (L, S)."""
    corners, count = _polygons(feet, contact)
    sides = _sides(corners, count)
    return Support(corners, count, _margin(sides, centre), np.asarray(contact.any(axis=0)), sides)


def _polygons(feet: Array, contact: Flags) -> tuple[Array, Indices]:
    """Corners (S, L, 2), and how many of them are valid (S,)."""
    feet = np.moveaxis(feet, 0, 1)
    down = contact.T
    # Feet that stand keep the polygon as it is: one for every run of samples in which none lifts, lands or slips.
    first, run = _runs(feet, down)
    edge, _ = _edges(feet[first], down[first])
    corners, count = _corners(feet[first], down[first], edge)
    return corners[run], count[run]


def _runs(feet: Array, down: Flags) -> tuple[Indices, Indices]:
    """The first sample of every run, and the run of every sample."""
    way = np.abs(feet[1:] - feet[:-1]) > STILL_MM
    moved = (way[..., 0] | way[..., 1]) & down[1:]
    new = np.concatenate([[True], (moved | (down[1:] != down[:-1])).any(axis=1)])
    return np.flatnonzero(new), np.cumsum(new) - 1


def edges_inward(feet: Array, contact: Flags, centre: Array) -> tuple[Array, Array, Flags]:
    """For every candidate edge: distance of the centre to its inner side (S, P), its inward normal (S, P, 2),
    and whether it is an edge (S, P). Arguments as for `support`."""
    feet = np.moveaxis(feet, 0, 1)
    edge, (i, j) = _edges(feet, contact.T)
    along = feet[:, j] - feet[:, i]
    length = np.linalg.norm(along, axis=-1, keepdims=True)
    unit = along / np.where(length > 0, length, 1.0)
    normal = np.stack([-unit[..., 1], unit[..., 0]], axis=-1)
    return ((centre[:, None] - feet[:, i]) * normal).sum(axis=-1), normal, edge


def _edges(feet: Array, down: Flags) -> tuple[Flags, tuple[Indices, Indices]]:
    """Which ordered pairs (P,) are edges at each sample: (S, P), and the pairs' indices, by their first ones."""
    legs = feet.shape[1]
    i, j = (a.ravel() for a in np.nonzero(~np.eye(legs, dtype=bool)))
    if not len(i):
        return np.zeros((len(feet), 0), dtype=bool), (i, j)
    rows = max(1, TRIPLES // (len(i) * legs))
    blocks = (slice(k, k + rows) for k in range(0, len(feet), rows))
    found = [_bounding(feet[block], down[block], i, j) for block in blocks]
    return found[0] if len(found) == 1 else np.concatenate([np.zeros((0, len(i)), dtype=bool), *found]), (i, j)


def _bounding(feet: Array, down: Flags, i: Indices, j: Indices) -> Flags:
    """(S, P): whether no contact lies to the right of those pairs, and none beyond them in line."""
    x, y = feet[..., 0], feet[..., 1]
    from_x, from_y = x[:, i, None], y[:, i, None]
    ax, ay = x[:, j, None] - from_x, y[:, j, None] - from_y
    length = np.hypot(ax, ay)
    safe = np.where(length > 0, length, 1.0)
    to_x, to_y = x[:, None] - from_x, y[:, None] - from_y
    offset, ahead = (ax * to_y - ay * to_x) / safe, (ax * to_x + ay * to_y) / safe
    # On the line but beyond the pair's ends: a longer edge takes this one's place.
    beyond = (np.abs(offset) <= ON_LINE_MM) & ((ahead > length + ON_LINE_MM) | (ahead < -ON_LINE_MM))
    right: Flags = np.asarray((down[:, None] & ((offset < -ON_LINE_MM) | beyond)).any(axis=2), dtype=bool)
    return down[:, i] & down[:, j] & (length[..., 0] > ON_LINE_MM) & ~right


def margins(held: Support, centre: Array) -> Array:
    """(K,) mm: the margins of other centres (K, 2) in the polygons of the first K samples; as `Support` has them."""
    return _margin(held.sides.only(slice(len(centre))), centre)


def margin_in(held: Support, sample: int, centre: Array) -> Array:
    """(K,) mm: the margins of centres (K, 2) in the polygon of one sample."""
    return _margin(held.sides.only(slice(sample, sample + 1)), centre)


def _sides(corners: Array, count: Indices) -> Sides:
    """From each corner to the next. Two feet at one place are two corners, with no side between them."""
    place = np.arange(corners.shape[1])[:, None]
    x, y = np.ascontiguousarray(corners[..., 0].T), np.ascontiguousarray(corners[..., 1].T)
    following = np.where(place + 1 < count, place + 1, 0)
    sample = np.arange(len(corners))
    ax, ay = x[following, sample] - x, y[following, sample] - y
    length, there = np.hypot(ax, ay), place < count
    return Sides(x, y, ax, ay, length, there & (length > ON_LINE_MM), there)


def _margin(sides: Sides, centre: Array) -> Array:
    """(K,) mm of centres (K, 2), each in the polygon of its sample, or all in that of the only one."""
    to_x, to_y = centre[:, 0] - sides.x, centre[:, 1] - sides.y
    safe = np.where(sides.length > 0, sides.length, 1.0)
    inward = (sides.along_x * to_y - sides.along_y * to_x) / safe
    share = np.clip((to_x * sides.along_x + to_y * sides.along_y) / safe**2, 0.0, 1.0)
    outside = np.hypot(to_x - share * sides.along_x, to_y - share * sides.along_y)
    inner = np.where(sides.real, inward, np.inf).min(axis=0, initial=np.inf)
    outer = np.where(sides.there, outside, np.inf).min(axis=0, initial=np.inf)
    margin = np.where(np.isfinite(inner) & (inner > 0), inner, -outer)
    return np.where(np.isfinite(outer), margin + 0.0, np.nan)


def _corners(feet: Array, down: Flags, edge: Flags) -> tuple[Array, Indices]:
    samples, legs, _ = feet.shape
    corner: Flags = np.asarray(edge.reshape(samples, legs, max(legs - 1, 0)).any(axis=2), dtype=bool)
    # A lone contact, or several at one place, has no edge: its first foot is the polygon.
    lone = ~corner.any(axis=1) & down.any(axis=1)
    corner[lone, np.argmax(down[lone], axis=1)] = True
    count = corner.sum(axis=1)
    middle = (feet * corner[..., None]).sum(axis=1) / np.maximum(count, 1)[:, None]
    around = np.arctan2(feet[..., 1] - middle[:, None, 1], feet[..., 0] - middle[:, None, 0])
    order = np.argsort(np.where(corner, around, np.inf), axis=1, kind="stable")
    order = np.where(np.arange(legs) < count[:, None], order, order[:, :1])
    return np.take_along_axis(feet, order[..., None], axis=1), count
