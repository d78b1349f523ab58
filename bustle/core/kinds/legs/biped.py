"""Biped legs: the planar one of three pitches, the full one of six joints, and its shortenings.

Order from the hip: yaw, roll, pitch, knee, ankle pitch, ankle roll. Yaw turns about +z, rolls about +x, pitches about
−y (positive: forward; at the ankle: toes up). The target is the sole's place, tilt and heading; a leg without yaw
cannot choose its heading, one without ankle roll cannot lay its sole level when the leg leans, and so on: what is left
over is reported in degrees. The formulae are in `upright_stack_solution`.
"""

from __future__ import annotations

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.legs.closed_forms_in_numbers import stack_working
from bustle.core.kinds.legs.family import Build, Family, JointSpec, LinkSpec, shortfall
from bustle.core.kinds.legs.upright_stack_solution import Stack

FIGURE = """
   from behind, left leg          from the left
      z  yaw, roll                   z
      o==offset==o  pitch            o  pitch
                 | thigh             | thigh
                 o  knee             o  knee
                 | shank             | shank
                 o  ankle            o  ankle pitch, roll
                 | foot              | foot
                ===                 =====  sole     x >
"""

SPECS = {
    "yaw": JointSpec("yaw", "Hip yaw", "turns the toes to the left"),
    "roll": JointSpec("roll", "Hip roll", "swings the leg to the left"),
    "pitch": JointSpec("pitch", "Hip pitch", "swings the leg forward"),
    "knee": JointSpec("knee", "Knee", "swings the shank forward"),
    "ankle": JointSpec("ankle", "Ankle pitch", "lifts the toes"),
    "ankle_roll": JointSpec("ankle_roll", "Ankle roll", "lifts the left edge of the sole"),
}


def _family(name: str, label: str, about: str, parts: Stack) -> Family:
    front = [n for n, has in (("yaw", parts.yaw), ("roll", parts.roll)) if has]
    ankle = {"none": [], "pitch": ["ankle"], "both": ["ankle", "ankle_roll"]}[parts.ankle]
    names = (*front, "pitch", "knee", *ankle)
    knee = len(front) + 1
    links = [
        LinkSpec("hip", "Hip offset", may_be_zero=True),
        LinkSpec("thigh", "Thigh"),
        LinkSpec("shank", "Shank"),
        *([LinkSpec("foot", "Foot height", may_be_zero=True)] if ankle else []),
    ]

    def straight_mm(build: Build, joints: Array) -> Array:
        return shortfall(build.lengths[:, 1], build.lengths[:, 2], joints[..., knee])

    return Family(
        name=name,
        label=label,
        about=about,
        figure=FIGURE,
        links=tuple(links),
        joints=tuple(SPECS[n] for n in names),
        branches=("knee_forward", "knee_back"),
        layout=parts.layout,
        solve=parts.solve,
        straight_mm=straight_mm,
        knee=knee,
        pose=True,
        planar=not parts.yaw and not parts.roll,
        takes_hip_offset=not parts.yaw,
        working=lambda build, target, turn, joints: stack_working(parts, build, target, turn, names),
    )


BIPEDS = (
    _family(
        "biped_planar_3",
        "biped, planar",
        "Hip, knee and ankle pitch: walks in a plane, held sideways by a boom or by broad soles.",
        Stack(yaw=False, roll=False, ankle="pitch"),
    ),
    _family(
        "biped_6",
        "biped, full",
        "Hip yaw, roll, pitch, knee, ankle pitch and roll: the sole goes wherever it is asked to, as it is asked to.",
        Stack(yaw=True, roll=True, ankle="both"),
    ),
    _family(
        "biped_5_no_yaw",
        "biped without yaw",
        "Hip roll and pitch, knee, ankle pitch and roll: every step but a turned one.",
        Stack(yaw=False, roll=True, ankle="both"),
    ),
    _family(
        "biped_5_no_ankle_roll",
        "biped without ankle roll",
        "Hip yaw, roll, pitch, knee and ankle pitch: the sole tips sideways with the leg.",
        Stack(yaw=True, roll=True, ankle="pitch"),
    ),
    _family(
        "biped_4_roll",
        "biped with hip roll and ankle pitch",
        "Hip roll and pitch, knee and ankle pitch: no yaw and no ankle roll.",
        Stack(yaw=False, roll=True, ankle="pitch"),
    ),
    _family(
        "biped_4_yaw",
        "biped without ankle",
        "Hip yaw, roll, pitch and knee on a small foot.",
        Stack(yaw=True, roll=True, ankle="none"),
    ),
)
