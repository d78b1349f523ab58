"""How near flat soles come to each other: rectangles on the floor, over the whole cycle.

Of two rectangles seen from above the gap is the largest, over the four ways square to their sides, by which one lies
beyond the other; below 0 they overlap by as much (the separating axes of convex outlines). A sole over another keeps
clear of it where it is more than a plate's thickness higher.
"""

from __future__ import annotations

from itertools import combinations

import numpy as np

from bustle.core.falling.sole_middles import flat_soles
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.extremes import least
from bustle.core.judge.measures.gaps import Gap
from bustle.core.walk.reading import Reading

# What a sole is taken to be thick, mm.
THICK_MM = 5.0


def soles_that_overlap(r: Reading) -> list[Gap]:
    """Of different legs, the deepest first."""
    return [gap for gap in r.of(sole_gaps) if gap.distance_mm < 0]


def sole_gaps(r: Reading) -> list[Gap]:
    """The least between flat soles of different legs, smallest first."""
    found, gaps = r.of(flat_soles), []
    for one, other in combinations(found, 2):
        apart = _apart(*found[one], *found[other])
        at = least(apart)
        names = r.project.walker.limbs[one].name, r.project.walker.limbs[other].name
        gaps.append(Gap(f"{names[0]} sole", f"{names[1]} sole", names, float(apart[at]), at))
    return sorted(gaps, key=lambda gap: round(gap.distance_mm, 6))


def _apart(one: Array, one_turn: Array, other: Array, other_turn: Array) -> Array:
    """(N,) mm, of corners (4, N, 3) and the turns (N, 3, 3)."""
    high = np.abs(one[..., 2].mean(axis=0) - other[..., 2].mean(axis=0)) - THICK_MM
    beyond = np.full(len(high), -np.inf)
    for turn in (one_turn, other_turn):
        for side in range(2):
            way = turn[:, :2, side] / np.maximum(np.linalg.norm(turn[:, :2, side], axis=1), 1e-9)[:, None]
            a, b = ((corners[..., :2] * way).sum(axis=-1) for corners in (one, other))
            gap = np.maximum(a.min(axis=0) - b.max(axis=0), b.min(axis=0) - a.max(axis=0))
            beyond = np.maximum(beyond, gap)
    found: Array = np.where(high < 0, beyond, np.maximum(beyond, high))
    return found
