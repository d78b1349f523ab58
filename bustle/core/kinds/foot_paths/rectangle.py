"""Rectangle with rounded corners: up, across, down, each eased by the quintic s(x) = 10x³ − 15x⁴ + 6x⁵.

height = s(u/b) up to u = b, 1 until 1 − b, then down alike; along = s((u − a)/(1 − 2a)) between a and 1 − a. With a < b
the foot moves across before it is all the way up, which rounds the corners.
"""

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.easing import quintic
from bustle.core.kinds.foot_paths.foot_path import FootPath, Points, still

# Shares of the swing: nothing goes across before A, and B takes it up.
A, B = 0.16, 0.34


def _eased(x: Array) -> Array:
    return quintic(np.clip(x, 0.0, 1.0))


def _height(u: Array, points: Points) -> Array:
    return _eased(np.minimum(u, 1 - u) / B)


RECTANGLE = FootPath(
    name="rectangle",
    label="Rounded rectangle",
    about="Straight up, across at full lift, straight down: for obstacles.",
    along=lambda u, _: _eased((u - A) / (1 - 2 * A)),
    height=_height,
    start=still,
    end=still,
    smooth=True,
)
