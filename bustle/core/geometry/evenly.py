"""Some of many rows, for what changes little from one to the next."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from bustle.core.geometry.arrays import Indices, kept


@lru_cache(256)
def evenly(count: int, most: int) -> Indices:
    """Which of so many, evenly apart, the first and the last among them; no more than `most`."""
    return kept(np.linspace(0, count - 1, min(count, most)).round().astype(np.intp))
