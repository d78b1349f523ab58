"""How far and how fast joints go from row to row."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.rates import to_next
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.walk.reading import Reading


def to_next_row(r: Reading, angles: Array, slides: Flags | None = None) -> Array:
    """(S, N): from each row to the next, the last one back to the first where the motion repeats; hinges the short way
    round, columns that slide (N,) as they are."""
    return to_next(angles, np.zeros(angles.shape[1], dtype=bool) if slides is None else slides, r.score.periodic)


def joint_steps(r: Reading) -> Array:
    """(S, J) rad, or mm where a joint slides, from each row of what is sent to the next."""
    return to_next_row(r, r.of(sent_joints), r.kit.slides)


def joint_rates(r: Reading) -> Array:
    """(S, J) rad/s, or mm/s, row to row."""
    return r.of(joint_steps) / r.row_s
