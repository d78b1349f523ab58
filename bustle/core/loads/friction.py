"""How much of what a foot carries it may push along the floor before it slips, along the machine and across it.

Sources of the ranges: handbooks of dry friction and tribology (static friction of elastomers, thermoplastics and metals
on wood, glass, stone and carpet). A range is what one is in for; what one's own soles hold is measured: a board tilted
by α until a foot starts to slip holds tan α, and a pull p on a scale that starts a weight w sliding holds p/w.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class SoleOnFloor:
    """What soles of a kind hold on a floor: from low to high, as handbooks and builders tell."""

    name: str
    sole: str
    floor: str
    low: float
    high: float


SOLES: tuple[SoleOnFloor, ...] = (
    SoleOnFloor("rubber_smooth", "soft rubber", "clean wood, stone or glass", 0.6, 1.0),
    SoleOnFloor("rubber_dusty", "soft rubber", "dusty or waxed floor", 0.3, 0.6),
    SoleOnFloor("rubber_carpet", "soft rubber", "short carpet", 0.6, 0.9),
    SoleOnFloor("silicone_smooth", "silicone or hot glue", "clean wood, stone or glass", 0.6, 1.1),
    SoleOnFloor("cork_smooth", "cork", "clean wood", 0.4, 0.7),
    SoleOnFloor("tape_smooth", "cloth tape", "clean wood or stone", 0.4, 0.6),
    SoleOnFloor("grit_smooth", "grit paper", "wood", 0.7, 1.0),
    SoleOnFloor("print_smooth", "bare print", "clean wood, stone or glass", 0.2, 0.4),
    SoleOnFloor("print_carpet", "bare print", "short carpet", 0.3, 0.5),
    SoleOnFloor("felt_smooth", "felt", "clean wood", 0.2, 0.35),
    SoleOnFloor("metal_smooth", "bare metal", "clean wood, stone or glass", 0.15, 0.4),
)


def held_along(r: Reading) -> float:
    """Ahead and back."""
    return r.project.floor.holds


def held_across(r: Reading) -> float:
    """To either side of the machine."""
    return r.project.floor.friction_across or held_along(r)


def against(r: Reading, way: Array) -> Array:
    """(L, N, 2): what the floor holds, as a share of what they carry, of feet that slide by ways (L, N, 2) of length 1
    in the ground frame: against them, so much along the machine and so much across it."""
    c, s = heading(r)
    ahead, aside = c * way[..., 0] + s * way[..., 1], c * way[..., 1] - s * way[..., 0]
    ahead, aside = -held_along(r) * ahead, -held_across(r) * aside
    return np.stack([c * ahead - s * aside, s * ahead + c * aside], axis=-1)


def ahead_and_aside(r: Reading, force: Array, first: int = 0) -> tuple[Array, Array]:
    """(…, K) each: what of pushes (…, K, 3) in the ground frame, from a row on, is along the machine and across it."""
    c, s = (v[first : first + force.shape[-2]] for v in heading(r))
    return c * force[..., 0] + s * force[..., 1], c * force[..., 1] - s * force[..., 0]


def heading(r: Reading) -> tuple[Array, Array]:
    """(N,) each: cosine and sine of the machine's heading."""
    return r.of(_heading)


def _heading(r: Reading) -> tuple[Array, Array]:
    ahead, aside = r.course.body.turn[: r.samples, :2, 0].T
    size = np.hypot(ahead, aside)
    # Of what stands upright on its nose it is ahead.
    return np.where(size > 0, ahead / np.where(size > 0, size, 1.0), 1.0), aside / np.where(size > 0, size, 1.0)
