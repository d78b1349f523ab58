"""Two-servo biped leg: hip yaw and ankle roll. It cannot place its foot; it turns its toes and tips its sole.

Yaw turns about +z, ankle roll about +x. The heading of the target sets the yaw, its sideways tilt the ankle roll, and
the place is left over: such a walker is moved by tipping from sole to sole and turning on the one that carries.

    ψ = atan2(R₂₁, R₁₁),   n = Rz(−ψ)·R·ẑ,   ρ = atan2(−n_y, n_z)
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward, turns
from bustle.core.geometry.stacked_turns import left_over
from bustle.core.kinds.legs.family import (
    REACHED_MM,
    Build,
    Family,
    Flags,
    JointSpec,
    Layout,
    LinkSpec,
    Solution,
    miss,
    side,
)
from bustle.core.kinds.legs.upright_stack_solution import unmounted
from bustle.core.kinds.legs.working import Sheet, Step, Triangle, atan2

FIGURE = """
   from behind, left leg
      z
      o==offset==+   yaw at the hip
                 |
                 | leg
                 o  ankle roll
                 | foot
                ===  sole
"""


def layout(lengths: Array, hip: Array, mirrored: Flags) -> Layout:
    offsets = np.zeros((len(lengths), 3, 3))
    offsets[:, 0] = hip
    offsets[:, 0, 1] += side(lengths[:, 0], mirrored)
    offsets[:, 1:, 2] = -lengths[:, 1:]
    # Hip arm and leg are one stiff part, bent at a hinge that does not turn.
    coupling = np.array([[1.0, 0.0], [0.0, 0.0], [0.0, 1.0]])
    return Layout(np.array([[0.0, 0.0, 1.0], [1.0, 0.0, 0.0], [1.0, 0.0, 0.0]]), offsets, coupling)


def solve(build: Build, points: Array, aims: Array | None) -> Solution:
    limbs, samples, _ = points.shape
    if aims is None:
        aims = np.broadcast_to(np.eye(3), (limbs, samples, 3, 3))
    yaw = np.arctan2(aims[..., 1, 0], aims[..., 0, 0])
    normal = np.einsum("lsab,lsb->lsa", turns(np.array([0.0, 0.0, 1.0]), -yaw), aims[..., :, 2])
    joints = np.stack([yaw, np.arctan2(-normal[..., 1], normal[..., 2])], axis=-1)
    at, frames = forward(unmounted(build.chain, limbs), joints)
    residual = np.zeros((limbs, samples, 6))
    residual[..., :3] = points - at[:, :, -1]
    residual[..., 3:] = left_over(aims, frames[:, :, -1])
    return Solution(joints, residual, np.linalg.norm(residual, axis=-1) <= REACHED_MM, miss(residual))


def working(build: Build, target: Array, turn: Array, joints: Array) -> tuple[list[Step], list[Triangle]]:
    sheet = Sheet()
    sheet.given("p", float(turn[0, 0]), "", "forward part of the sole's own forward direction")
    sheet.given("q", float(turn[1, 0]), "", "left part of it")
    sheet.step("yaw", "atan2(q, p)", lambda: atan2(sheet["q"], sheet["p"]), "°")
    normal = turns(np.array([0.0, 0.0, 1.0]), -np.radians(sheet["yaw"])) @ turn[:, 2]
    sheet.given("m", float(normal[1]), "", "how far the sole's upward direction leans left, seen along the yawed leg")
    sheet.given("n", float(normal[2]), "", "how far it points up")
    sheet.step("ankle", "atan2(−m, n)", lambda: atan2(-sheet["m"], sheet["n"]), "°")
    return sheet.steps, []


BIPED_TWO_SERVO = Family(
    name="biped_2",
    label="biped, two servos",
    about="Hip yaw and ankle roll: tips onto one sole and turns on it.",
    figure=FIGURE,
    links=(
        LinkSpec("hip", "Hip offset", may_be_zero=True),
        LinkSpec("leg", "Leg"),
        LinkSpec("foot", "Foot height", may_be_zero=True),
    ),
    joints=(
        JointSpec("yaw", "Hip yaw", "turns the toes to the left"),
        JointSpec("ankle", "Ankle roll", "lifts the left edge of the sole"),
    ),
    branches=("hanging",),
    layout=layout,
    solve=solve,
    pose=True,
    working=working,
)
