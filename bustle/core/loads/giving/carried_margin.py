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
    """(N,) mm at the rows; NaN where no foot is down."""
    return margins(r.of(standing), r.of(carried_over))


def carried_over(r: Reading) -> Array:
    """(N, 2) mm at the rows, ground frame: where a plumb line from the mass meets the floor then."""
    n, course, gives = r.samples, r.course, r.of(sag)
    centre = course.com_ground_mm[:n]
    moved = centre + gives.shift_mm + cross(gives.turn, centre - course.body.at[:n])
    found: Array = moved[:, :2] + moved[:, 2:] * r.of(downhill)
    return found
