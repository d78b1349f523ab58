"""Where the whole machine pushes on the floor: where the floor's pressure would have to act alone.

x = −M_y/F_z, y = M_x/F_z of the wrench about the ground's origin that the planned motion takes, with full masses and
inertias. Source: the zero-moment point of any text on walking machines.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.loads.inertial_wrenches import Wrenches, wrenches
from bustle.core.walk.reading import Reading

# Less than this many newtons on the floor push nowhere.
NOTHING_N = 1e-9


def zero_moment_point(r: Reading) -> Array:
    """(N, 2) m in the ground frame, as the machine is planned to move."""
    return pushes_at(r.of(wrenches))


def pushes_at(taken: Wrenches) -> Array:
    """(N, 2) m"""
    lift = np.where(np.abs(taken.force[:, 2]) > NOTHING_N, taken.force[:, 2], 1.0)
    return np.stack([-taken.moment[:, 1], taken.moment[:, 0]], axis=1) / lift[:, None]
