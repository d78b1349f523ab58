"""Triangle: straight from lift-off to the top and straight down to the landing, at one speed along the way.

With the top at share a of the way: along = u; height = u/a up to u = a, then (1 − u)/(1 − a).
"""

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.foot_paths.foot_path import FootPath, Points


def _top(points: Points) -> tuple[float, float]:
    (along, height), *_ = points
    return min(max(along, 0.05), 0.95), height


def _height(u: Array, points: Points) -> Array:
    a, high = _top(points)
    height: Array = high * np.minimum(u / a, (1 - u) / (1 - a))
    return height


TRIANGLE = FootPath(
    name="triangle",
    label="Triangle",
    about="Three points: lift-off, top, landing. Lifts and lands at speed.",
    along=lambda u, _: u,
    height=_height,
    start=lambda points: (1.0, _top(points)[1] / _top(points)[0]),
    end=lambda points: (1.0, -_top(points)[1] / (1 - _top(points)[0])),
    points=((0.5, 1.0),),
    most_points=1,
)
