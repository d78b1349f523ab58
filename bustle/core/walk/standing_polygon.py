"""What the machine stands on at every instant, and its margins."""

from __future__ import annotations

from bustle.core.geometry.support_polygon import Support, support
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.reading import Reading


def standing(r: Reading) -> Support:
    """The support polygon and the margin at every instant, both sides of events included."""
    return support(r.course.stand_mm, r.course.stand, r.of(over_floor))
