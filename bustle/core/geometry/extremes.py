"""Where values are greatest or least, so that rounding does not change who is told."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.compiled import REAL, compiled, compiled_for, floats

# What differs by less than this of the largest there is, is equal: one drag to the next must not change who is told.
ALIKE = 1e-7


def greatest(values: Array) -> int:
    """The first (flat) place among those where the values are greatest, equals to rounding counted as equal."""
    return int(_greatest(np.asarray(values, dtype=float).ravel(), 1.0))


def least(values: Array) -> int:
    """The first (flat) place among those where the values are least, likewise."""
    return int(_greatest(np.asarray(values, dtype=float).ravel(), -1.0))


@compiled
def _place(values: Array, way: float) -> int:
    """Of way·values."""
    top, size = -np.inf, 1.0
    for value in values:
        top = max(top, way * value)
        if np.isfinite(value):
            size = max(size, abs(value))
    for k in range(len(values)):
        if way * values[k] >= top - ALIKE * size:
            return k
    return 0


@compiled_for(floats(1), REAL)
def _greatest(values: Array, way: float) -> int:
    return _place(values, way)


@compiled_for(floats(2))
def greatest_of_each(values: Array) -> Indices:
    """(K,): the row at which each column (N, K) is greatest, likewise."""
    found = np.empty(values.shape[1], dtype=np.intp)
    for k in range(values.shape[1]):
        found[k] = _place(values[:, k], 1.0)
    return found
