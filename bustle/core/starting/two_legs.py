"""Walkers on two legs, standing on their soles. Their walks are made with motions that two legs need."""

from __future__ import annotations

from math import cos, floor, radians
from typing import Any

from bustle.core.starting.building_blocks import (
    KEPT_LEVEL,
    ON_A_BOOM,
    ROLLING,
    THROWN,
    TIPPING_YAW_DEG,
    Built,
    Values,
    limb,
    mm,
    rocking,
    side_of,
    tipping,
)

SIDES = ("L", "R")


def _body(length: float) -> list[float]:
    return [mm(length * 0.35), mm(length * 0.36), mm(length * 0.5)]


def _sole(length: float, share: float = 0.45) -> Values:
    return {
        "kind": "rectangle",
        "length_mm": mm(length * share),
        "width_mm": mm(length * 0.24),
        "ahead_mm": mm(length * 0.04),
    }


def _standing(length: float, family: str, joints: dict[str, tuple[float, float]], ankle: bool, **more: Any) -> Built:
    """Thigh and shank 0.42 of the leg each; feet under the hips, knees a little bent."""
    size = _body(length)
    foot = [length * 0.1] if ankle else []
    limbs = []
    for name in SIDES:
        hip = [0.0, side_of(name) * length * 0.14, -size[2] / 2 - length * 0.06]
        lengths = [length * 0.08, length * 0.42, length * 0.42, *foot]
        neutral = [0.0, hip[1] + side_of(name) * mm(length * 0.08)]
        feet = [{"sole": _sole(length)}]
        limbs.append(limb(name, hip, 0.0, family, lengths, joints, neutral, mirrored=name == "R", feet=feet))
    ride = size[2] / 2 + length * 0.06 + length * 0.84 * 0.95 + sum(foot)
    return Built(
        limbs,
        size,
        mm(ride),
        {"pitch": 20.0, "knee": -40.0, "ankle": 20.0, "thigh": 20.0, "shank": -20.0},
        lift_mm=mm(length * 0.1),
        against_sag="static",
        **more,
    )


PITCHES = {"pitch": (-70.0, 80.0), "knee": (-130.0, -4.0), "ankle": (-60.0, 60.0)}
ROLLS = {"yaw": (-45.0, 45.0), "roll": (-35.0, 35.0), "ankle_roll": (-35.0, 35.0)}
LEVELLED = {"thigh": (-60.0, 70.0), "shank": (-80.0, 50.0)}


def planar(length: float) -> Built:
    """Three pitches a leg; a boom holds it sideways."""
    return _standing(length, "biped_planar_3", PITCHES, ankle=True, held="boom", timed=(ON_A_BOOM,))


def parallelogram(length: float) -> Built:
    """Yaw and roll in front of a parallelogram that keeps the feet level."""
    return _standing(length, "parallelogram_4", {**ROLLS, **LEVELLED}, ankle=True, timed=(KEPT_LEVEL,))


def full(length: float) -> Built:
    """Six joints a leg."""
    return _standing(length, "biped_6", {**PITCHES, **ROLLS}, ankle=True, timed=(ROLLING,))


def two_servo(length: float) -> Built:
    """Hip yaw and ankle roll; it tips and turns."""
    size = [mm(length * 0.5), mm(length * 0.7), mm(length * 0.35)]
    limbs = []
    for name in SIDES:
        hip = [0.0, side_of(name) * length * 0.15, -size[2] / 2 - length * 0.06]
        lengths = [length * 0.08, length * 0.75, length * 0.1]
        neutral = [0.0, mm(hip[1]) + side_of(name) * mm(length * 0.08)]
        joints = {"yaw": (-45.0, 45.0), "ankle": (-40.0, 40.0)}
        # Broad enough to stand on alone, with their inner edges next to each other, and clear as both turn together.
        out = abs(mm(hip[1]))
        apart = out * cos(radians(TIPPING_YAW_DEG)) + abs(neutral[1]) - out
        sole = {**_sole(length, 0.6), "width_mm": floor(10 * min(length * 0.43, 2 * apart)) / 10, "ahead_mm": 0.0}
        limbs.append(
            limb(name, hip, 0.0, "biped_2", lengths, joints, neutral, mirrored=name == "R", feet=[{"sole": sole}])
        )
    ride = -limbs[0]["mount"]["at_mm"][2] + limbs[0]["links"][1]["length_mm"] + limbs[0]["links"][2]["length_mm"]
    return Built(limbs, size, mm(ride), swings=tipping(*SIDES), against_sag="static")


def rocker(length: float) -> Built:
    """Lift and swing on curved soles: it lives by its rocking."""
    size = _body(length)
    limbs = []
    for name in SIDES:
        hip = [0.0, side_of(name) * length * 0.14, -size[2] / 2 - length * 0.06]
        lengths = [length * 0.08, length * 0.9]
        neutral = [0.0, mm(hip[1]) + side_of(name) * mm(length * 0.08)]
        joints = {"lift": (-30.0, 30.0), "swing": (-45.0, 45.0)}
        feet = [{"sole": {"kind": "curved", "radius_fore_mm": mm(length * 1.7), "radius_side_mm": mm(length * 0.8)}}]
        limbs.append(limb(name, hip, 0.0, "rocker_2", lengths, joints, neutral, mirrored=name == "R", feet=feet))
    ride = -limbs[0]["mount"]["at_mm"][2] + limbs[0]["links"][1]["length_mm"]
    return Built(limbs, size, mm(ride), balance="dynamic", swings=rocking(*SIDES), against_sag="static")


def moving_mass(length: float) -> Built:
    """Planar legs on broad soles, and a mass on a swinging arm that is thrown from side to side."""
    built = _standing(length, "biped_planar_3", PITCHES, ankle=True)
    arm = {
        "name": "weight",
        "mount": {"at_mm": [0.0, 0.0, mm(built.size[2] / 2)]},
        "family": "serial",
        "branch": "as_near_as_it_gets",
        "joints": [{"name": "swing", "min_deg": -75.0, "max_deg": 75.0, "axis": [1.0, 0.0, 0.0]}],
        "links": [
            {"name": "arm", "length_mm": mm(length * 0.4), "offset_mm": [0.0, 0.0, mm(length * 0.4)], "mass_g": 12.0}
        ],
        "feet": [],
        "neutral_mm": None,
    }
    weight = {
        "name": "Swinging weight",
        "mass_g": float(round(length * 0.6)),
        "on": "weight/arm",
        "at_mm": [0.0, 0.0, mm(length * 0.4)],
    }
    return Built(
        [*built.limbs, arm], built.size, built.ride_mm, built.centres, lift_mm=built.lift_mm, masses=(weight,),
        timed=(THROWN,), against_sag=built.against_sag,
    )  # fmt: skip
