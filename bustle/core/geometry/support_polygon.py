"""Contacts → support polygon → margin, for all samples at once.

Every ordered pair of contacts (i, j) is a candidate edge; it bounds the polygon when no other contact lies to its
right. Between contact events the polygon is the same, so it is looked for once per run of samples. Two contacts (or any
in a line) give the edges i→j and j→i, a polygon without area, so the segment needs no case of its own.
"""

from __future__ import annotations

from dataclasses import dataclass, fields
from math import sqrt

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.compiled import compiled, compiled_for, flags, floats, indices

# Contacts nearer to a line than this are on it.
ON_LINE_MM = 1e-6

# Feet that move less from one sample to the next stand still.
STILL_MM = 1e-7


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

    def only(self, samples: slice | Indices) -> Sides:
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
    left = _margin(sides, centre, np.arange(len(centre)))
    return Support(corners, count, left, np.asarray(contact.any(axis=0)), sides)


@compiled
def _bounds(x: Array, y: Array, down: Flags, i: int, j: int) -> bool:
    """Whether no contact lies to the right of a pair, and none beyond it in line."""
    ax, ay = x[j] - x[i], y[j] - y[i]
    length = np.hypot(ax, ay)
    if i == j or not (down[i] and down[j]) or length <= ON_LINE_MM:
        return False
    for k in range(len(x)):
        if down[k]:
            to_x, to_y = x[k] - x[i], y[k] - y[i]
            offset, ahead = (ax * to_y - ay * to_x) / length, (ax * to_x + ay * to_y) / length
            # On the line but beyond the pair's ends: a longer edge takes this one's place.
            beyond = abs(offset) <= ON_LINE_MM and (ahead > length + ON_LINE_MM or ahead < -ON_LINE_MM)
            if offset < -ON_LINE_MM or beyond:
                return False
    return True


@compiled_for(floats(3), flags(2))
def _edges(feet: Array, down: Flags) -> Flags:
    """Which ordered pairs of contacts (L, S, 2) are edges at each sample: (S, L, L)."""
    legs, samples, _ = feet.shape
    found = np.zeros((samples, legs, legs), dtype=np.bool_)
    for s in range(samples):
        for i in range(legs):
            for j in range(legs):
                found[s, i, j] = _bounds(feet[:, s, 0], feet[:, s, 1], down[:, s], i, j)
    return found


@compiled
def _goes_on(feet: Array, down: Flags, s: int) -> bool:
    """Whether no contact lifts, lands or slips from the sample before to this one: its polygon stays."""
    for k in range(len(feet)):
        if down[k, s] != down[k, s - 1]:
            return False
        for axis in range(2):
            if down[k, s] and abs(feet[k, s, axis] - feet[k, s - 1, axis]) > STILL_MM:
                return False
    return True


@compiled
def _corner(x: Array, y: Array, down: Flags, i: int) -> bool:
    """Whether an edge begins with a contact."""
    found = False
    for j in range(len(x)):
        found = found or _bounds(x, y, down, i, j)
    return found


@compiled_for(floats(3), flags(2))
def _polygons(feet: Array, down: Flags) -> tuple[Array, Indices]:
    """Corners (S, L, 2) of contacts (L, S, 2), and how many of them are valid (S,)."""
    legs, samples, _ = feet.shape
    corners, count = np.zeros((samples, legs, 2)), np.zeros(samples, dtype=np.intp)
    around, order = np.empty(legs), np.empty(legs, dtype=np.intp)
    for s in range(samples):
        # Feet that stand keep the polygon as it is.
        if s > 0 and _goes_on(feet, down, s):
            corners[s], count[s] = corners[s - 1], count[s - 1]
            continue
        x, y, own = feet[:, s, 0], feet[:, s, 1], down[:, s]
        found, first, middle_x, middle_y = 0, -1, 0.0, 0.0
        for i in range(legs):
            if own[i] and first < 0:
                first = i
            if _corner(x, y, own, i):
                order[found], found = i, found + 1
                middle_x, middle_y = middle_x + x[i], middle_y + y[i]
        if not found and first >= 0:
            # A lone contact, or several at one place, has no edge: its first foot is the polygon.
            order[0], found, middle_x, middle_y = first, 1, x[first], y[first]
        for n in range(found):
            corner = order[n]
            angle = np.arctan2(y[corner] - middle_y / found, x[corner] - middle_x / found)
            # In their order round the middle.
            k = n
            while k > 0 and around[k - 1] > angle:
                around[k], order[k] = around[k - 1], order[k - 1]
                k -= 1
            around[k], order[k] = angle, corner
        for n in range(legs):
            corner = order[n if n < found else 0]
            if found:
                corners[s, n, 0], corners[s, n, 1] = x[corner], y[corner]
        count[s] = found
    return corners, count


def edges_inward(feet: Array, contact: Flags, centre: Array) -> tuple[Array, Array, Flags]:
    """For every candidate edge: distance of the centre to its inner side (S, P), its inward normal (S, P, 2),
    and whether it is an edge (S, P). Arguments as for `support`."""
    i, j = np.nonzero(~np.eye(len(feet), dtype=bool))
    edge, feet = _edges(feet, contact)[:, i, j], np.moveaxis(feet, 0, 1)
    along = feet[:, j] - feet[:, i]
    length = np.linalg.norm(along, axis=-1, keepdims=True)
    unit = along / np.where(length > 0, length, 1.0)
    normal = np.stack([-unit[..., 1], unit[..., 0]], axis=-1)
    return ((centre[:, None] - feet[:, i]) * normal).sum(axis=-1), normal, edge


def margins(held: Support, centre: Array, samples: Indices | None = None) -> Array:
    """(K,) mm: the margins of other centres (K, 2) in the polygons of the first K samples, or of these; as `Support`
    has them."""
    return _margin(held.sides, centre, np.arange(len(centre)) if samples is None else samples)


def margin_in(held: Support, sample: int, centre: Array) -> Array:
    """(K,) mm: the margins of centres (K, 2) in the polygon of one sample."""
    return _margin(held.sides, centre, np.full(len(centre), sample))


def _sides(corners: Array, count: Indices) -> Sides:
    """From each corner to the next. Two feet at one place are two corners, with no side between them."""
    return Sides(*_from_corner_to_corner(corners, count))


@compiled_for(floats(3), indices(1))
def _from_corner_to_corner(corners: Array, count: Indices) -> tuple[Array, Array, Array, Array, Array, Flags, Flags]:
    """What `Sides` has, of corners (S, L, 2), so many of them valid (S,)."""
    samples, most, _ = corners.shape
    shape = most, samples
    x, y, along_x, along_y, length = np.empty(shape), np.empty(shape), np.empty(shape), np.empty(shape), np.empty(shape)
    real, there = np.empty(shape, np.bool_), np.empty(shape, np.bool_)
    for s in range(samples):
        for k in range(most):
            following = k + 1 if k + 1 < count[s] else 0
            x[k, s], y[k, s] = corners[s, k]
            ax, ay = corners[s, following, 0] - x[k, s], corners[s, following, 1] - y[k, s]
            along_x[k, s], along_y[k, s], length[k, s] = ax, ay, sqrt(ax * ax + ay * ay)
            there[k, s] = k < count[s]
            real[k, s] = there[k, s] and length[k, s] > ON_LINE_MM
    return x, y, along_x, along_y, length, real, there


def _margin(sides: Sides, centre: Array, samples: Indices) -> Array:
    """(K,) mm of centres (K, 2), each in the polygon of one of the samples (K,)."""
    each = sides.x, sides.y, sides.along_x, sides.along_y, sides.length, sides.real, sides.there
    return _margins(*each, centre, samples)


@compiled_for(floats(2), floats(2), floats(2), floats(2), floats(2), flags(2), flags(2), floats(2), indices(1))
def _margins(
    x: Array, y: Array, along_x: Array, along_y: Array, length: Array, real: Flags, there: Flags, centre: Array,
    samples: Indices,
) -> Array:  # fmt: skip
    found = np.empty(len(centre))
    for n in range(len(centre)):
        s, inner, outer = samples[n], np.inf, np.inf
        for k in range(len(x)):
            if not there[k, s]:
                continue
            to_x, to_y, ax, ay = centre[n, 0] - x[k, s], centre[n, 1] - y[k, s], along_x[k, s], along_y[k, s]
            long = length[k, s] if length[k, s] > 0 else 1.0
            share = min(max((to_x * ax + to_y * ay) / long**2, 0.0), 1.0)
            out_x, out_y = to_x - share * ax, to_y - share * ay
            outer = min(outer, out_x * out_x + out_y * out_y)
            if real[k, s]:
                inner = min(inner, (ax * to_y - ay * to_x) / long)
        found[n] = np.nan if outer == np.inf else inner if 0 < inner < np.inf else 0.0 - sqrt(outer)
    return found
