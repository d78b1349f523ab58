"""Parallelogram leg: thigh and shank each driven from the hip by a rod, the foot kept level by a second parallelogram.

The servos hold the *absolute* angles of thigh and shank, both from hanging straight down, positive forward: with
thigh θ and shank σ the knee bends by σ − θ and the ankle by −σ, whatever the servos do. Hip roll and hip yaw may
come in front of it. The foot stays level with the hip (in the plane of the leg), so only its own roll is ever left
over.

    x = thigh·sin θ + shank·sin σ,   drop = thigh·cos θ + shank·cos σ + foot
"""

from __future__ import annotations

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.legs.closed_forms_in_numbers import stack_working
from bustle.core.kinds.legs.family import Build, Family, JointSpec, LinkSpec, shortfall
from bustle.core.kinds.legs.upright_stack_solution import Stack

FIGURE = """
      z   (yaw, roll)
      o o  thigh and rod, side by side
      | |
      | |            thigh = 0, shank = 0: hanging
      o=o  knee
      | |
      | |  shank and rod
      o=o  ankle
      |    foot, always level
     ===   sole      x >
"""

LINKS = (
    LinkSpec("hip", "Hip offset", may_be_zero=True),
    LinkSpec("thigh", "Thigh"),
    LinkSpec("shank", "Shank"),
    LinkSpec("foot", "Foot height", may_be_zero=True),
)
YAW = JointSpec("yaw", "Hip yaw", "turns the toes to the left")
ROLL = JointSpec("roll", "Hip roll", "swings the leg to the left")
THIGH = JointSpec("thigh", "Thigh, absolute", "swings the thigh forward")
SHANK = JointSpec("shank", "Shank, absolute", "swings the shank forward")


def _family(name: str, label: str, about: str, parts: Stack, front: tuple[JointSpec, ...]) -> Family:
    names = tuple(j.name for j in (*front, THIGH, SHANK))

    def straight_mm(build: Build, joints: Array) -> Array:
        bend = joints[..., -1] - joints[..., -2]
        return shortfall(build.lengths[:, 1], build.lengths[:, 2], bend)

    return Family(
        name=name,
        label=label,
        about=about,
        figure=FIGURE,
        links=LINKS,
        joints=(*front, THIGH, SHANK),
        branches=("knee_forward", "knee_back"),
        layout=parts.layout,
        solve=parts.solve,
        straight_mm=straight_mm,
        knee=len(front) + 1,
        pose=True,
        planar=not parts.yaw and not parts.roll,
        takes_hip_offset=not parts.yaw,
        working=lambda build, target, turn, joints: stack_working(parts, build, target, turn, names),
    )


PARALLELOGRAMS = (
    _family(
        "parallelogram_2",
        "parallelogram",
        "Thigh and shank by rods from the hip, the foot always level.",
        Stack(yaw=False, roll=False, ankle="rods"),
        (),
    ),
    _family(
        "parallelogram_3",
        "parallelogram with roll",
        "Hip roll in front of a parallelogram: the leg also swings out.",
        Stack(yaw=False, roll=True, ankle="rods"),
        (ROLL,),
    ),
    _family(
        "parallelogram_4",
        "parallelogram with yaw and roll",
        "Hip yaw and roll in front of a parallelogram: turns without scuffing.",
        Stack(yaw=True, roll=True, ankle="rods"),
        (YAW, ROLL),
    ),
)
