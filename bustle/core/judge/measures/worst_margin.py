"""How far the centre of mass is inside the feet that stand, and where it is the least."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.support_polygon import margins
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing

# Margins that differ by less are one to whoever looks for the worst.
ALIKE_MM = 1e-6


def worst_margin(r: Reading) -> tuple[float, int] | None:
    """The least margin over samples and both sides of events, mm, and its instant; None without any contact.

    Of instants that are as bad but for rounding, as those of a gait alike left and right, the earliest.
    """
    held = r.of(standing)
    if not held.supported.any():
        return None
    least = float(np.nanmin(held.margin_mm))
    alike = np.flatnonzero(held.margin_mm <= least + ALIKE_MM)
    return least, min(alike.tolist(), key=r.time_at)


def halted_margin(r: Reading) -> Array:
    """(N,) mm at the rows: the margin of where the mass would come to rest, halted there from its pace:
    x + v·√(h/g), the capture point of the linear inverted pendulum. NaN without any contact."""
    n, course = r.samples, r.course
    centre = course.com_ground_mm[:n]
    if n < 3:
        return r.of(standing).margin_mm[:n]
    speed = np.gradient(centre[:, :2], r.row_s, axis=0)
    rests = centre[:, :2] + speed * np.sqrt(np.maximum(centre[:, 2:], 0.0) / 1000 / GRAVITY)
    return margins(r.of(standing), rests)
