"""How far the centre of mass is inside the feet that stand, and where it is the least."""

from __future__ import annotations

import numpy as np

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
