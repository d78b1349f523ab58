"""What a swing's shape has to say about itself."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class FootPath:
    """A swing from footprint to footprint, in the ground frame.

    along(u) → share of the way, 0 … 1; height(u) → share of the lift, 0 … 1 … 0; u is the share of the swing.
    land_along, land_height: their slopes at u = 1, from which the landing speed follows.
    """

    name: str
    label: str
    about: str
    along: Callable[[Array], Array]
    height: Callable[[Array], Array]
    land_along: float
    land_height: float

    def landing_speed_mm_s(self, step_mm: float, lift_mm: float, swing_s: float) -> float:
        """Speed of the foot over the ground as it lands."""
        return float(np.hypot(self.land_along * step_mm, self.land_height * lift_mm) / swing_s)
