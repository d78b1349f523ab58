"""How far a machine may be tilted each way until it goes over what it stands on.

A mass h over the floor is over the border of its feet, d from its plumb point along a way u, once it is tilted by
    φ = atan(d/h),   d = min_i (p·n_i)/(−u·n_i) over the sides that lie that way,
p from the side to the plumb point, n_i its inward normal. Negative where the plumb point is outside already.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing

WAYS = ("forward", "backward", "to the left", "to the right")
# A side that lies along the way is never come to.
ALONG = 1e-9


def tip_angles(r: Reading) -> Array:
    """(4, S) rad at the rows, in the order of `WAYS`, as the machine faces then."""
    n, sides = r.samples, r.of(standing).sides.only(slice(r.samples))
    plumb, tall = r.of(over_floor)[:n], r.course.com_ground_mm[:n, 2]
    size = np.where(sides.length > 0, sides.length, 1.0)
    inward_x, inward_y = -sides.along_y / size, sides.along_x / size
    inside = (plumb[:, 0] - sides.x) * inward_x + (plumb[:, 1] - sides.y) * inward_y
    facing = r.course.body.travel[2][:n]
    found = []
    for turned in (0.0, np.pi, np.pi / 2, -np.pi / 2):
        nears = -(inward_x * np.cos(facing + turned) + inward_y * np.sin(facing + turned))
        ahead = sides.real & (nears > ALONG)
        off = np.where(ahead, inside / np.where(ahead, nears, 1.0), np.inf).min(axis=0, initial=np.inf)
        found.append(np.arctan2(np.where(np.isfinite(off), off, 0.0), tall))
    return np.stack(found)
