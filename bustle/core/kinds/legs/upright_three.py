"""Upright leg, three joints: hip roll with an offset, hip pitch, knee. The mammal-like leg.

The mount's x points forward, y left, z up. Roll turns about +x (positive: a hanging leg swings to the left). Pitch and
knee turn about −y: positive swings forward. The hip offset points left (+y), or right on a mirrored limb; a further
offset ahead or below is allowed.

With d the signed offset and h the leg's drop in its own plane,
    y = d·cos φ + h·sin φ,   z = d·sin φ − h·cos φ,   so h = √(y² + z² − d²) and φ = atan2(y, −z) − atan2(d, h);
hip pitch and knee are one triangle in (h, x) (law of cosines); see `hip_and_knee_solution`.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.legs.closed_forms_in_numbers import hip_and_knee_working
from bustle.core.kinds.legs.family import (
    Build,
    Family,
    Flags,
    JointSpec,
    Layout,
    LinkSpec,
    Solution,
    shortfall,
    side,
)
from bustle.core.kinds.legs.hip_and_knee_solution import HipAndKnee, solve_limbs

FIGURE = """
   from behind, left leg          from the left
      z                              z
      |  hip                         |
      o==offset==o  pitch            o  pitch
      roll       |                   |
                 | thigh             | thigh
                 o  knee             o  knee
                 | shank             | shank
                 v foot              v foot         x >
"""


def layout(lengths: Array, hip: Array, mirrored: Flags) -> Layout:
    offsets = np.zeros((len(lengths), 3, 3))
    offsets[:, 0] = hip
    offsets[:, 0, 1] += side(lengths[:, 0], mirrored)
    offsets[:, 1, 2] = -lengths[:, 1]
    offsets[:, 2, 2] = -lengths[:, 2]
    return Layout(np.array([[1.0, 0.0, 0.0], [0.0, -1.0, 0.0], [0.0, -1.0, 0.0]]), offsets)


def leg_of(build: Build, row: int) -> HipAndKnee:
    offset, thigh, shank = (float(v) for v in build.lengths[row])
    ahead, aside, above = (float(v) for v in build.hip[row])
    aside += -offset if build.mirrored[row] else offset
    return HipAndKnee(-above, aside, ahead, thigh, shank, -1.0 if build.branch[row] == 0 else 1.0, build.nearest)


def solve_upright(build: Build, points: Array, turns: Array | None = None) -> Solution:
    """Closed form, both knee branches: 0 knee forward (knee ≤ 0), 1 knee back (knee ≥ 0)."""
    return solve_limbs(build, leg_of, points, upright=True)


UPRIGHT = Family(
    name="upright_3",
    label="upright",
    about="Hip roll, hip pitch, knee: the mammal-like leg, under the body.",
    figure=FIGURE,
    links=(
        LinkSpec("hip", "Hip offset", may_be_zero=True),
        LinkSpec("thigh", "Thigh"),
        LinkSpec("shank", "Shank"),
    ),
    joints=(
        JointSpec("roll", "Hip roll", "swings the leg to the left"),
        JointSpec("pitch", "Hip pitch", "swings the leg forward"),
        JointSpec("knee", "Knee", "swings the shank forward"),
    ),
    branches=("knee_forward", "knee_back"),
    layout=layout,
    solve=solve_upright,
    straight_mm=lambda build, joints: shortfall(build.lengths[:, 1], build.lengths[:, 2], joints[..., 2]),
    knee=2,
    carries_aside=True,
    working=lambda build, target, turn, joints: hip_and_knee_working(
        leg_of(build, 0), target, joints, ("roll", "pitch", "knee"), upright=True
    ),
)
