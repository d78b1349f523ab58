"""How wide a set of points is."""

from __future__ import annotations

import numpy as np
from scipy.spatial.distance import pdist

from bustle.core.geometry.arrays import Array

# More points than this say nothing more about it.
MOST = 400
# Points that all lie this near to the first are one, mm.
ONE_MM = 1e-6


def width(points: Array) -> float:
    """The widest distance between two of the points (N, D); 0 of none, or of one."""
    if len(points) < 2 or np.abs(points - points[0]).max() < ONE_MM:
        return 0.0
    points = points[:: max(1, len(points) // MOST)]
    return float(pdist(points).max())
