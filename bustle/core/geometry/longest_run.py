"""The longest stretch of rows at which something holds."""

from __future__ import annotations

from bustle.core.geometry.arrays import Flags
from bustle.core.geometry.compiled import FLAG, compiled_for, flags


@compiled_for(flags(1), FLAG)
def longest_run(holds: Flags, repeats: bool) -> tuple[int, int]:
    """holds: (N,). The first row of its longest run of True, and of how many rows it is; (0, 0) where there is none.
    repeats: whether the last row leads on to the first, so that a run may go over the end."""
    rows, first = len(holds), 0
    while repeats and first < rows and holds[first]:
        first += 1
    begins, longest, run = 0, 0, 0
    for n in range(rows):
        row = (first + n) % rows
        run = run + 1 if holds[row] else 0
        if run > longest:
            begins, longest = (row - run + 1) % rows, run
    return begins, longest
