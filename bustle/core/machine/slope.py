"""How gravity pulls on a floor that slopes.

The floor stays the ground frame's z = 0: a slope σ whose rise lies at a heading β against the way the machine faces as
its motion begins tilts gravity instead,
    g = −g₀·(sin σ·cos β, sin σ·sin β, cos σ),
and a plumb line from a mass z above the floor meets it z·tan σ downhill of the foot of its upright.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.machine.masses import GRAVITY
from bustle.core.project.limits import Floor


def against_gravity(floor: Floor) -> Array:
    """(3,) m/s², in the ground frame: −g, what whatever rests on it is held up by, a kilogram."""
    slope, rises = np.radians(floor.slope_deg), np.radians(floor.uphill_deg)
    if not slope:
        return np.array([0.0, 0.0, GRAVITY])
    return GRAVITY * np.array([np.sin(slope) * np.cos(rises), np.sin(slope) * np.sin(rises), np.cos(slope)])


def downhill_of(floor: Floor) -> Array:
    """(2,): how far a plumb line goes along the floor for each mm that it comes down to it."""
    pull = against_gravity(floor)
    found: Array = -pull[:2] / pull[2]
    return found
