"""A leg of one joint: a stiff leg that swings fore and aft about the hip.

Swing turns about −y: positive swings forward. The foot lives on a circle; either its stroke is met and the height is
left over, or it goes to the circle's nearest point.

    stroke: swing = asin(x/leg)        nearest: swing = atan2(x, −z)
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.legs.family import (
    REACHED_MM,
    Build,
    Family,
    Flags,
    JointSpec,
    Keep,
    Layout,
    LinkSpec,
    Solution,
    miss,
    side,
)
from bustle.core.kinds.legs.working import Sheet, Step, Triangle, asin, atan2, corner

FIGURE = """
      from the left
      z
      o  swing
      |
      | leg
      v foot     x >
"""

KEEPS = (Keep("stroke", "Stroke; rises and falls"), Keep("nearest", "Nearest point"))


def layout(lengths: Array, hip: Array, mirrored: Flags) -> Layout:
    offsets = np.zeros((len(lengths), 2, 3))
    offsets[:, 0] = hip
    offsets[:, 0, 1] += side(lengths[:, 0], mirrored)
    offsets[:, 1, 2] = -lengths[:, 1]
    # The hip offset is a stiff part before the joint.
    return Layout(np.array([[1.0, 0.0, 0.0], [0.0, -1.0, 0.0]]), offsets, np.array([[0.0], [1.0]]))


def solve(build: Build, points: Array, turns: Array | None = None) -> Solution:
    leg = build.lengths[:, 1, None]
    ahead, _, above = build.hip[:, :, None].transpose(1, 0, 2)
    x, z = points[..., 0] - ahead, points[..., 2] - above
    nearest = (build.keep == 1)[:, None]
    swing = np.where(nearest, np.arctan2(x, -z), np.arcsin(np.clip(x / leg, -1.0, 1.0)))
    residual = np.zeros((*points.shape[:2], 6))
    aside = build.hip[:, 1] + side(build.lengths[:, 0], build.mirrored)
    foot = np.stack(
        [ahead + leg * np.sin(swing), np.broadcast_to(aside[:, None], swing.shape), above - leg * np.cos(swing)],
        axis=-1,
    )
    residual[..., :3] = points - foot
    kept = np.where(nearest, 0.0, np.abs(residual[..., 0]))
    return Solution(swing[..., None], residual, miss(residual) <= REACHED_MM, kept)


def working(build: Build, target: Array, turn: Array, joints: Array) -> tuple[list[Step], list[Triangle]]:
    sheet = Sheet()
    ahead, _, above = build.hip[0]
    sheet.given("x", target[0] - ahead, "mm", "foot ahead of the hip")
    sheet.given("leg", build.lengths[0, 1], "mm", "leg")
    if build.keep[0] == 1:
        sheet.given("h", above - target[2], "mm", "foot below the hip")
        sheet.step("swing", "atan2(x, h)", lambda: atan2(sheet["x"], sheet["h"]), "°")
    else:
        sheet.step("swing", "asin(x / leg)", lambda: asin(sheet["x"] / sheet["leg"]), "°")
    foot = (ahead + sheet["leg"] * np.sin(joints[0]), target[1], above - sheet["leg"] * np.cos(joints[0]))
    corners = (corner((ahead, target[1], above)), corner(foot), corner((ahead, target[1], foot[2])))
    return sheet.steps, [Triangle(corners, (sheet.label("leg"), sheet.label("x"), ""), (sheet.label("swing"), "", ""))]


ONE_JOINT = Family(
    name="one_joint",
    label="one joint",
    about="A stiff leg that swings: one servo.",
    figure=FIGURE,
    links=(LinkSpec("hip", "Hip offset", may_be_zero=True), LinkSpec("leg", "Leg")),
    joints=(JointSpec("swing", "Swing", "swings the leg forward"),),
    branches=("hanging",),
    layout=layout,
    solve=solve,
    keeps=KEEPS,
    planar=True,
    carries_aside=True,
    working=working,
)
