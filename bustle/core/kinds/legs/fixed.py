"""A passive support: no joint, only a foot on the frame. A caster, a wheel, a skid."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.kinds.legs.family import Build, Family, Layout, Solution

FIGURE = """
   =====  frame
     |
     o    caster, wheel or skid, at the mount
"""


def layout(lengths: Array, hip: Array, mirrored: Flags) -> Layout:
    return Layout(np.zeros((0, 3)), np.zeros((len(lengths), 0, 3)))


def solve(build: Build, points: Array, turns: Array | None = None) -> Solution:
    """Nothing to solve: it is where the frame puts it, and asks for nothing."""
    limbs, samples, _ = points.shape
    return Solution(
        np.empty((limbs, samples, 0)),
        np.zeros((limbs, samples, 6)),
        np.ones((limbs, samples), dtype=bool),
        np.zeros((limbs, samples)),
    )


FIXED = Family(
    name="fixed",
    label="passive support",
    about="A caster, wheel or skid fixed to the frame.",
    figure=FIGURE,
    links=(),
    joints=(),
    branches=("fixed",),
    layout=layout,
    solve=solve,
    takes_hip_offset=False,
)
