"""The longest stretch of rows at which something holds."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Flags


def longest_run(holds: Flags, repeats: bool) -> tuple[int, int]:
    """holds: (N,). The first row of its longest run of True, and of how many rows it is; (0, 0) where there is none.
    repeats: whether the last row leads on to the first, so that a run may go over the end."""
    if not holds.any():
        return 0, 0
    if holds.all():
        return 0, len(holds)
    first = int(np.flatnonzero(~holds)[0]) if repeats else 0
    edges = np.flatnonzero(np.diff(np.concatenate([[False], np.roll(holds, -first), [False]]).astype(int)))
    begins, counts = edges[::2], edges[1::2] - edges[::2]
    longest = int(np.argmax(counts))
    return (int(begins[longest]) + first) % len(holds), int(counts[longest])
