"""Lift-and-swing rocker leg: a roll that lifts, a pitch that swings, one stiff link on a curved sole.

Lift turns about +x (positive: a hanging leg swings to the left), swing about −y (positive: forward). Height is kept,
and the stroke; sideways the foot goes where the arc takes it. On its curved sole the leg also rolls: the contact moves
along the sole as the leg leans (see `soles`). The formulae are those of `one_link_solution`, with W = x and X = −z.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.kinds.legs.closed_forms_in_numbers import stick_working
from bustle.core.kinds.legs.family import Build, Family, JointSpec, Keep, Layout, LinkSpec, Solution, side
from bustle.core.kinds.legs.one_link_solution import OneLink, solve_sticks

FIGURE = """
   from behind, left leg        from the left
      z                            z
      o==offset==o  swing          o  swing
      lift       |                 |
                 | leg             | leg
                 |                 |
                 ( sole            (_) sole     x >
"""

KEEPS = (
    Keep("stroke", "Stroke and height; slips sideways"),
    Keep("nearest", "Nearest point"),
)


def layout(lengths: Array, hip: Array, mirrored: Flags) -> Layout:
    offsets = np.zeros((len(lengths), 2, 3))
    offsets[:, 0] = hip
    offsets[:, 0, 1] += side(lengths[:, 0], mirrored)
    offsets[:, 1, 2] = -lengths[:, 1]
    return Layout(np.array([[1.0, 0.0, 0.0], [0.0, -1.0, 0.0]]), offsets)


def leg_of(build: Build, row: int) -> OneLink:
    offset, length = (float(v) for v in build.lengths[row])
    ahead, aside, above = (float(v) for v in build.hip[row])
    aside += -offset if build.mirrored[row] else offset
    return OneLink(-above, aside, ahead, length, 0.0 if KEEPS[build.keep[row]].name == "stroke" else None)


def solve(build: Build, points: Array, turns: Array | None = None) -> Solution:
    return solve_sticks([leg_of(build, i) for i in range(len(points))], points, upright=True)


ROCKER = Family(
    name="rocker_2",
    label="lift-and-swing rocker",
    about="Lift and swing on a stiff leg with a curved sole: tips from side to side to step.",
    figure=FIGURE,
    links=(LinkSpec("hip", "Hip offset", may_be_zero=True), LinkSpec("leg", "Leg")),
    joints=(
        JointSpec("lift", "Lift", "swings the leg to the left"),
        JointSpec("swing", "Swing", "swings the leg forward"),
    ),
    branches=("hanging",),
    layout=layout,
    solve=solve,
    keeps=KEEPS,
    working=lambda build, target, turn, joints: stick_working(
        leg_of(build, 0), target, ("lift", "swing"), upright=True
    ),
)
