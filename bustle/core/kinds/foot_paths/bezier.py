"""Bézier: from (0, 0) to (1, 0) by way of the builder's control points Pᵢ = (share of the way, share of the lift).

B(u) = Σ C(n, i)·uⁱ·(1 − u)ⁿ⁻ⁱ·Pᵢ; it lifts off at n·(P₁ − P₀) and lands at n·(Pₙ − Pₙ₋₁) per swing. Bernstein's form,
in any text on curves.
"""

from math import comb

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.foot_paths.foot_path import FootPath, Points, Slopes


def _curve(u: Array, points: Points, axis: int) -> Array:
    way = [0.0, *(p[axis] for p in points), 1.0 - axis]
    n = len(way) - 1
    total: Array = np.sum([comb(n, i) * u**i * (1 - u) ** (n - i) * p for i, p in enumerate(way)], axis=0)
    return total


def _start(points: Points) -> Slopes:
    n = len(points) + 1
    return n * points[0][0], n * points[0][1]


def _end(points: Points) -> Slopes:
    n = len(points) + 1
    return n * (1 - points[-1][0]), -n * points[-1][1]


BEZIER = FootPath(
    name="bezier",
    label="Bézier",
    about="A curve through points you drag.",
    along=lambda u, points: _curve(u, points, 0),
    height=lambda u, points: _curve(u, points, 1),
    start=_start,
    end=_end,
    points=((-0.1, 4 / 3), (1.1, 4 / 3)),
    most_points=6,
)
