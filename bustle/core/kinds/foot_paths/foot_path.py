"""What a swing's shape has to say about itself."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from bustle.core.geometry.arrays import Array

Points = tuple[tuple[float, float], ...]
Slopes = tuple[float, float]


@dataclass(frozen=True)
class FootPath:
    """A swing from footprint to footprint, in the ground frame.

    along(u, points) → share of the way, 0 … 1; height(u, points) → share of the lift, 0 … 1 … 0; u is the share of the
    swing. start, end(points): the slopes (along, height) at u = 0 and 1, from which the speed at which the
    foot lifts and lands follows. smooth: both are nought, so the foot has no speed over the ground there.
    points: what it takes when nobody has moved any, each (share of the way, share of the lift); () takes none.
    most_points: how many it may have.
    """

    name: str
    label: str
    about: str
    along: Callable[[Array, Points], Array]
    height: Callable[[Array, Points], Array]
    start: Callable[[Points], Slopes]
    end: Callable[[Points], Slopes]
    smooth: bool = False
    points: Points = ()
    most_points: int = 0


def still(points: Points) -> Slopes:
    """The slopes of a path that begins or ends without speed."""
    return 0.0, 0.0
