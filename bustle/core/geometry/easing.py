"""Going from one value to another without a jerk: e(x) = 10x³ − 15x⁴ + 6x⁵.

The quintic has neither speed nor acceleration at either end; of all ways from rest to rest it has the least jerk
overall. Source: "The coordination of arm movements", Journal of Neuroscience 5 (1985).
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array


def quintic(x: Array) -> Array:
    """e(x) for x in 0 … 1."""
    # A power of three costs a library ten products.
    e: Array = x * x * x * (10 + x * (-15 + 6 * x))
    return e


def eased(t: Array, start: float, takes: float) -> Array:
    """0 before `start`, 1 from `start + takes` on, e in between."""
    x = np.clip((t - start) / takes, 0.0, 1.0) if takes > 0 else (t >= start).astype(float)
    return quintic(x)


def joining(start: Array, end: Array, takes: float) -> Array:
    """(6, K): coefficients, the constant first, of the quintics of time that have these places, speeds and
    accelerations (3, K) at 0 and at `takes`."""
    t = takes
    powers = np.array([
        [1, 0, 0, 0, 0, 0], [0, 1, 0, 0, 0, 0], [0, 0, 2, 0, 0, 0],
        [1, t, t**2, t**3, t**4, t**5], [0, 1, 2 * t, 3 * t**2, 4 * t**3, 5 * t**4],
        [0, 0, 2, 6 * t, 12 * t**2, 20 * t**3],
    ])  # fmt: skip
    found: Array = np.linalg.solve(powers, np.concatenate([start, end]))
    return found
