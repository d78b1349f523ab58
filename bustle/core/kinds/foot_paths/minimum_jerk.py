"""Minimum jerk: along = 10u³ − 15u⁴ + 6u⁵, height = 64u³(1 − u)³.

The way from rest to rest with the least jerk (third derivative) overall; the height is its counterpart that returns.
The foot lifts and lands with neither speed nor acceleration over the ground.
"""

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.easing import quintic
from bustle.core.kinds.foot_paths.foot_path import FootPath, still


def _cubed(x: Array) -> Array:
    return x * x * x


MINIMUM_JERK = FootPath(
    name="minimum_jerk",
    label="Minimum jerk",
    about="Lifts and lands with neither speed nor acceleration.",
    along=lambda u, _: quintic(u),
    height=lambda u, _: _cubed(4 * u * (1 - u)),
    start=still,
    end=still,
    smooth=True,
)
