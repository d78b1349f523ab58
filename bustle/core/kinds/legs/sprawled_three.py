"""Sprawled leg, three joints: hip yaw, femur pitch, tibia pitch. The insect-like leg.

Yaw turns about +z (positive: to the left). Femur and tibia turn about −y: positive lifts. A standing leg has
femur above 0° and tibia below 0°. A hip offset sets the femur's axis aside, ahead or above the end of the coxa.

In the plane of the leg, with r = √(x² + y²) − coxa and femur α, tibia β:
    r = femur·cos α + tibia·cos(α + β),   z = femur·sin α + tibia·sin(α + β)
so yaw = atan2(y, x) and the rest is one triangle (law of cosines); with a hip offset see `hip_and_knee_solution`.
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
)
from bustle.core.kinds.legs.hip_and_knee_solution import HipAndKnee, solve_limbs

FIGURE = """
 z
 |   yaw       femur           tibia
 o====coxa======o=====femur======o=======tibia=======> foot    x
"""


def layout(lengths: Array, hip: Array, mirrored: Flags) -> Layout:
    offsets = np.zeros((len(lengths), 3, 3))
    offsets[:, :, 0] = lengths
    offsets[:, 0] += hip
    return Layout(np.array([[0.0, 0.0, 1.0], [0.0, -1.0, 0.0], [0.0, -1.0, 0.0]]), offsets)


def leg_of(build: Build, row: int) -> HipAndKnee:
    coxa, femur, tibia = (float(v) for v in build.lengths[row])
    ahead, aside, above = (float(v) for v in build.hip[row])
    return HipAndKnee(coxa + ahead, aside, above, femur, tibia, -1.0 if build.branch[row] == 0 else 1.0, build.nearest)


def solve_sprawled(build: Build, points: Array, turns: Array | None = None) -> Solution:
    """Closed form, both knee branches: 0 knee up (tibia ≤ 0), 1 knee down (tibia ≥ 0)."""
    return solve_limbs(build, leg_of, points)


SPRAWLED = Family(
    name="sprawled_3",
    label="sprawled",
    about="Hip yaw, femur pitch, tibia pitch: the insect-like leg, wide and low.",
    figure=FIGURE,
    links=(LinkSpec("coxa", "Coxa", may_be_zero=True), LinkSpec("femur", "Femur"), LinkSpec("tibia", "Tibia")),
    joints=(
        JointSpec("yaw", "Hip yaw", "turns the leg left, seen from above"),
        JointSpec("femur", "Femur pitch", "lifts the knee"),
        JointSpec("tibia", "Tibia pitch", "lifts the foot"),
    ),
    branches=("knee_up", "knee_down"),
    layout=layout,
    solve=solve_sprawled,
    straight_mm=lambda build, joints: shortfall(build.lengths[:, 1], build.lengths[:, 2], joints[..., 2]),
    knee=2,
    carries_aside=True,
    sole_follows=False,
    working=lambda build, target, turn, joints: hip_and_knee_working(
        leg_of(build, 0), target, joints, ("yaw", "femur", "tibia"), upright=False
    ),
)
