"""How far inside the feet that stand a static walk pushes on the floor, at the pace it goes.

Frozen it stands where its mass is over its feet. Going, it pushes by h·c̈/g beside its mass, c̈ how its mass at height h
speeds up: the zero-moment point. A sway of A in a cycle of T pushes out by A·(1 + (h/g)·(2π/T)²).
"""

from __future__ import annotations

import numpy as np

from bustle.core.falling.pushing_point import room
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.rates import rates
from bustle.core.loads.moving import gone_on
from bustle.core.loads.told import not_pushed
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing

# What the legs do beside the mass as a whole may push so many times as far.
BESIDE = 1.5
# A leg that is asked further than it reaches jumps from row to row, and says nothing of pushes.
MISS_MM = 0.1


def room_at_its_pace(r: Reading) -> Array | None:
    """(N,) mm at the rows, as `room`; None where it goes so slowly that its margin says as much, or nothing is told."""
    held = r.of(standing)
    rows = slice(r.samples)
    if r.samples < 3 or not held.supported.all() or not_pushed(r) or r.course.solved.miss_mm.max() > MISS_MM:
        return None
    centre = r.course.com_ground_mm[rows]
    _, speeds_up = rates(gone_on(r, centre[:, :2]), r.row_s)
    beside = centre[:, 2] / 1000 / GRAVITY * np.hypot(speeds_up[:, 0], speeds_up[:, 1])
    if (held.margin_mm[rows] > BESIDE * beside).all():
        return None
    return r.of(room)
