"""Sprawled leg of two joints: hip yaw and lift, one stiff link. Its foot lives on a torus.

Yaw turns about +z, lift about −y (positive lifts). Height is always kept, and one level direction: across the leg's
own line, or forward along the body, or sideways across it; what the foot misses in the other is its slip.
See `one_link_solution`.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.kinds.legs.closed_forms_in_numbers import stick_working
from bustle.core.kinds.legs.family import Build, Family, JointSpec, Keep, Layout, LinkSpec, Solution
from bustle.core.kinds.legs.one_link_solution import OneLink, solve_sticks

FIGURE = """
 z
 |   yaw       lift
 o====coxa======o========leg=========> foot    x
"""

KEEPS = (
    Keep("across", "Across the leg and up; slips along it"),
    Keep("forward", "Forward and up; slips sideways"),
    Keep("sideways", "Sideways and up; slips fore and aft"),
    Keep("nearest", "Nearest point"),
)


def layout(lengths: Array, hip: Array, mirrored: Flags) -> Layout:
    offsets = np.zeros((len(lengths), 2, 3))
    offsets[:, :, 0] = lengths
    offsets[:, 0] += hip
    return Layout(np.array([[0.0, 0.0, 1.0], [0.0, -1.0, 0.0]]), offsets)


def leg_of(build: Build, row: int) -> OneLink:
    coxa, length = (float(v) for v in build.lengths[row])
    ahead, aside, above = (float(v) for v in build.hip[row])
    turn = build.chain.mount_turn[row]
    # The body's forward direction as the mount sees it.
    forward = float(np.arctan2(turn[0, 1], turn[0, 0]))
    keep = {"forward": forward, "sideways": forward + np.pi / 2, "across": np.pi / 2, "nearest": None}
    return OneLink(coxa + ahead, aside, above, length, keep[KEEPS[build.keep[row]].name])


def solve(build: Build, points: Array, turns: Array | None = None) -> Solution:
    return solve_sticks([leg_of(build, i) for i in range(len(points))], points)


SPRAWLED_TWO = Family(
    name="sprawled_2",
    label="sprawled, two joints",
    about="Hip yaw and lift, one stiff link: two servos a leg; the feet slip a little.",
    figure=FIGURE,
    links=(LinkSpec("coxa", "Coxa", may_be_zero=True), LinkSpec("leg", "Leg")),
    joints=(
        JointSpec("yaw", "Hip yaw", "turns the leg left, seen from above"),
        JointSpec("lift", "Lift", "lifts the foot"),
    ),
    branches=("outward",),
    layout=layout,
    solve=solve,
    keeps=KEEPS,
    sole_follows=False,
    carries_aside=True,
    working=lambda build, target, turn, joints: stick_working(leg_of(build, 0), target, ("yaw", "lift"), upright=False),
)
