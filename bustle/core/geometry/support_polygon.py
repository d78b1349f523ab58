"""Contacts → support polygon → margin, for all samples at once.

Every ordered pair of contacts (i, j) is a candidate edge; it bounds the polygon when no other contact lies to its
right. With at most twelve feet that is fewer operations than a hull per sample, and it has no loop over samples.
Between contact events the polygon is the same, so it is looked for once per run of samples. Two contacts (or any in a
line) give the edges i→j and j→i, a polygon without area, so the segment needs no case of its own.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices

# Contacts nearer to a line than this are on it.
ON_LINE_MM = 1e-6

# Feet that move less from one sample to the next stand still.
STILL_MM = 1e-7

# Samples worked on at a time, so that the pairs' arrays stay in cache.
BLOCK = 512


@dataclass(frozen=True)
class Support:
    """corners: (S, L, 2) mm, counter-clockwise, the first count[s] of them valid (the rest repeat the first).

    margin_mm: (S,), signed distance from the centre of mass to the polygon's edge, positive inside; with two
    contacts or one, minus the distance to the segment or point; with none, NaN in `margin_mm` and False in
    `supported`.
    """

    corners: Array
    count: Indices
    margin_mm: Array
    supported: Flags


def support(feet: Array, contact: Flags, centre: Array) -> Support:
    """feet: (L, S, 2) mm and centre: (S, 2) mm in one frame; contact: (L, S)."""
    blocks = range(0, feet.shape[1], BLOCK)
    parts = [_support(feet[:, k : k + BLOCK], contact[:, k : k + BLOCK], centre[k : k + BLOCK]) for k in blocks]
    if len(parts) == 1:
        return parts[0]
    return Support(
        *(np.concatenate([getattr(p, name) for p in parts]) for name in ("corners", "count", "margin_mm", "supported"))
    )


def _support(feet: Array, contact: Flags, centre: Array) -> Support:
    feet = np.moveaxis(feet, 0, 1)
    down = contact.T
    # Feet that stand keep the polygon as it is: one for every run of samples in which none lifts, lands or slips.
    first, run = _runs(feet, down)
    edge, (i, _) = _edges(feet[first], down[first])
    corners, count = _corners(feet[first], down[first], edge, i)
    corners, count = corners[run], count[run]
    return Support(corners, count, _margin(corners, count, centre), np.asarray(down.any(axis=1)))


def _runs(feet: Array, down: Flags) -> tuple[Indices, Indices]:
    """The first sample of every run, and the run of every sample."""
    moved = (np.abs(np.diff(feet, axis=0)).max(axis=2, initial=0.0) > STILL_MM) & down[1:]
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
    """Which ordered pairs (P,) are edges at each sample: (S, P), and the pairs' indices."""
    legs = feet.shape[1]
    i, j = (a.ravel() for a in np.nonzero(~np.eye(legs, dtype=bool)))
    if not len(i):
        return np.zeros((len(feet), 0), dtype=bool), (i, j)
    along = feet[:, j] - feet[:, i]
    length = np.hypot(along[..., 0], along[..., 1])
    edge = down[:, i] & down[:, j] & (length > ON_LINE_MM)
    safe = np.where(length > 0, length, 1.0)
    for k in range(legs):
        to_k = feet[:, k, None] - feet[:, i]
        offset = (along[..., 0] * to_k[..., 1] - along[..., 1] * to_k[..., 0]) / safe
        ahead = (along[..., 0] * to_k[..., 0] + along[..., 1] * to_k[..., 1]) / safe
        # On the line but beyond the pair's ends: a longer edge takes this one's place.
        beyond = (np.abs(offset) <= ON_LINE_MM) & ((ahead > length + ON_LINE_MM) | (ahead < -ON_LINE_MM))
        edge &= ~(down[:, k, None] & ((offset < -ON_LINE_MM) | beyond))
    return edge, (i, j)


def margins(held: Support, centre: Array) -> Array:
    """(K,) mm: the margins of other centres (K, 2) in the polygons of the first K samples; as `Support` has them."""
    return _margin(held.corners[: len(centre)], held.count[: len(centre)], centre)


def margin_in(held: Support, sample: int, centre: Array) -> Array:
    """(K,) mm: the margins of centres (K, 2) in the polygon of one sample."""
    corners = np.repeat(held.corners[sample : sample + 1], len(centre), axis=0)
    return _margin(corners, np.repeat(held.count[sample : sample + 1], len(centre)), centre)


def _margin(corners: Array, count: Indices, centre: Array) -> Array:
    """(S,) mm from polygons' corners (S, L, 2) of which the first count[s] are valid."""
    legs = corners.shape[1]
    place = np.arange(legs)
    end = np.take_along_axis(corners, np.where(place + 1 < count[:, None], place + 1, 0)[..., None], axis=1)
    along, to_c = end - corners, centre[:, None] - corners
    length = np.hypot(along[..., 0], along[..., 1])
    # Two feet at one place are two corners, with no edge between them.
    edge = (place < count[:, None]) & (length > ON_LINE_MM)
    safe = np.where(length > 0, length, 1.0)
    inward = (along[..., 0] * to_c[..., 1] - along[..., 1] * to_c[..., 0]) / safe
    share = np.clip((along * to_c).sum(axis=-1) / safe**2, 0.0, 1.0)
    gap = to_c - share[..., None] * along
    outside = np.hypot(gap[..., 0], gap[..., 1])
    inner = np.min(np.where(edge, inward, np.inf), axis=1, initial=np.inf)
    outer = np.min(np.where(place < count[:, None], outside, np.inf), axis=1, initial=np.inf)
    margin = np.where(np.isfinite(inner) & (inner > 0), inner, -outer)
    return np.where(np.isfinite(outer), margin + 0.0, np.nan)


def _corners(feet: Array, down: Flags, edge: Flags, i: Indices) -> tuple[Array, Indices]:
    samples, legs, _ = feet.shape
    corner = np.zeros((samples, legs), dtype=bool)
    for leg in range(legs):
        corner[:, leg] = edge[:, i == leg].any(axis=1)
    # A lone contact, or several at one place, has no edge: its first foot is the polygon.
    lone = ~corner.any(axis=1) & down.any(axis=1)
    corner[lone, np.argmax(down[lone], axis=1)] = True
    count = corner.sum(axis=1)
    middle = (feet * corner[..., None]).sum(axis=1) / np.maximum(count, 1)[:, None]
    around = np.arctan2(feet[..., 1] - middle[:, None, 1], feet[..., 0] - middle[:, None, 0])
    order = np.argsort(np.where(corner, around, np.inf), axis=1, kind="stable")
    order = np.where(np.arange(legs) < count[:, None], order, order[:, :1])
    return np.take_along_axis(feet, order[..., None], axis=1), count
