"""How far the centre of mass stays inside the feet once the machine has given under its weight.

The feet stay where they stand; the frame shifts by d and turns by θ, and the centre of mass with it:
    c' = c + d + θ × (c − o),   o the frame's origin,
seen along a plumb line.
"""

from __future__ import annotations

from bustle.core.geometry.arrays import Array, cross
from bustle.core.geometry.support_polygon import margins
from bustle.core.loads.giving.sag import sag
from bustle.core.walk.plumb import downhill
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing


def carried_margin(r: Reading) -> Array:
    """(S + 2E,) mm at every instant; NaN where no foot is down."""
    return margins(r.of(standing), r.of(carried_over))


def carried_over(r: Reading) -> Array:
    """(S + 2E, 2) mm at every instant, ground frame: where a plumb line from the mass meets the floor then. What it
    gives at an event is what it does at the row beside it."""
    course, gives = r.course, r.of(sag)
    centre = course.com_ground_mm
    moved = centre + r.as_beside(gives.shift_mm) + cross(r.as_beside(gives.turn), centre - course.body.at)
    found: Array = moved[:, :2] + moved[:, 2:] * r.of(downhill)
    return found
