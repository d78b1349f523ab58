"""Where a plumb line from the mass meets a floor that may slope, and how gravity pulls there; see `machine/slope`."""

from __future__ import annotations

from bustle.core.geometry.arrays import Array
from bustle.core.machine.slope import against_gravity, downhill_of
from bustle.core.walk.reading import Reading


def upright(r: Reading) -> Array:
    """(3,) m/s², ground frame: −g."""
    return against_gravity(r.project.floor)


def downhill(r: Reading) -> Array:
    """(2,): how far a plumb line goes along the floor for each mm that it comes down to it."""
    return downhill_of(r.project.floor)


def over_floor(r: Reading) -> Array:
    """(S + 2E, 2) mm, ground frame: where a plumb line from the centre of mass meets the floor at every instant."""
    centre = r.course.com_ground_mm
    if not r.project.floor.slope_deg:
        return centre[:, :2]
    found: Array = centre[:, :2] + centre[:, 2:] * r.of(downhill)
    return found
