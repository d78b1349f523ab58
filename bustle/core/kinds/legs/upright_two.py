"""Upright leg of two joints: hip pitch and knee in one plane. Straight strokes; turning scuffs the feet sideways.

Both turn about −y: positive swings forward. In the plane, with drop h = −z and x forward, the foot is one triangle
away (law of cosines); y is left over and is what the foot slips.
"""

from __future__ import annotations

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.legs.closed_forms_in_numbers import stack_working
from bustle.core.kinds.legs.family import REACHED_MM, Build, Family, JointSpec, LinkSpec, Solution, miss, shortfall
from bustle.core.kinds.legs.upright_stack_solution import Stack

FIGURE = """
   from behind, left leg          from the left
      z                              z
      o==offset==o  pitch            o  pitch
                 | thigh             | thigh
                 o  knee             o  knee
                 | shank             | shank
                 v foot              v foot         x >
"""

PARTS = Stack(yaw=False, roll=False, ankle="none")


def solve(build: Build, points: Array, turns: Array | None = None) -> Solution:
    found = PARTS.solve(build, points, None)
    residual = found.residual.copy()
    residual[..., 3:] = 0.0
    return Solution(found.joints, residual, miss(residual) <= REACHED_MM, found.short)


UPRIGHT_TWO = Family(
    name="upright_2",
    label="upright, two joints",
    about="Hip pitch and knee in one plane: straight strokes, but turning scuffs the feet.",
    figure=FIGURE,
    links=(LinkSpec("hip", "Hip offset", may_be_zero=True), LinkSpec("thigh", "Thigh"), LinkSpec("shank", "Shank")),
    joints=(
        JointSpec("pitch", "Hip pitch", "swings the leg forward"),
        JointSpec("knee", "Knee", "swings the shank forward"),
    ),
    branches=("knee_forward", "knee_back"),
    layout=PARTS.layout,
    solve=solve,
    straight_mm=lambda build, joints: shortfall(build.lengths[:, 1], build.lengths[:, 2], joints[..., 1]),
    knee=1,
    planar=True,
    carries_aside=True,
    working=lambda build, target, turn, joints: stack_working(PARTS, build, target, turn, ("pitch", "knee")),
)
