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
from bustle.core.geometry.compiled import compiled, compiled_for, floats
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


@compiled
def _along(corners: Array, row: int, u: float, v: float) -> tuple[float, float]:
    """From where to where corners (4, N, 3) lie along a way over the floor."""
    low, high = np.inf, -np.inf
    for k in range(len(corners)):
        at = corners[k, row, 0] * u + corners[k, row, 1] * v
        low, high = min(low, at), max(high, at)
    return low, high


@compiled_for(floats(3), floats(3), floats(3), floats(3))
def _apart(one: Array, one_turn: Array, other: Array, other_turn: Array) -> Array:
    """(N,) mm, of corners (4, N, 3) and the turns (N, 3, 3)."""
    found = np.empty(one.shape[1])
    for row in range(len(found)):
        beyond, higher = -np.inf, 0.0
        for k in range(len(one)):
            higher += (one[k, row, 2] - other[k, row, 2]) / len(one)
        for turn in (one_turn, other_turn):
            for side in range(2):
                u, v = turn[row, 0, side], turn[row, 1, side]
                size = max(np.hypot(u, v), 1e-9)
                (a, b), (c, d) = _along(one, row, u / size, v / size), _along(other, row, u / size, v / size)
                beyond = max(beyond, a - d, c - b)
        above = abs(higher) - THICK_MM
        found[row] = beyond if above < 0 else max(beyond, above)
    return found
