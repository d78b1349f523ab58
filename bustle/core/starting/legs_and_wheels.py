"""Walkers that also roll: legs with casters under the frame, legs in front and wheels behind."""

from __future__ import annotations

from bustle.core.starting.building_blocks import Built, Values, limb, mm, side_of
from bustle.core.starting.rectangular import AHEAD, sprawled_two

AXLE, TRACK, BATTERY = 0.12, 0.55, 0.45
CASTER = {"contact": {"kind": "rolls", "any_way": True}}


def _support(name: str, x: float, y: float, z: float, foot: Values) -> Values:
    """A caster or wheel whose foot touches the floor at that place of the body frame."""
    return limb(name, [x, y, z], 0.0, "fixed", [], {}, None, feet=[foot])


def with_casters(length: float) -> Built:
    """Four legs of two joints push, two casters carry in the middle line."""
    built = sprawled_two(4, length)
    # Casters touch where the frame stands at ride height.
    casters = [
        _support(name, side * built.size[0] * 0.4, 0.0, -built.ride_mm, CASTER)
        for name, side in (("C1", 1), ("C2", -1))
    ]
    return Built(
        [*built.limbs, *casters], built.size, built.ride_mm, built.centres, built.stroke_mm, built.lift_mm,
        AHEAD, duty=0.6, cycle_s=1.6, gait="trot",
    )  # fmt: skip


def legs_and_wheels(length: float) -> Built:
    """Two upright legs in front, two wheels behind."""
    size = [mm(length * 1.2), mm(length * 0.5), mm(length * 0.22)]
    ride = mm(length * 0.82)
    limbs = []
    for name in ("L", "R"):
        x, y = size[0] / 2, side_of(name) * size[1] / 2
        offset = mm(length * 0.18)
        ends = {"roll": (-45.0, 45.0), "pitch": (-60.0, 95.0), "knee": (-150.0, -8.0)}
        lengths, neutral = [offset, length * 0.5, length * 0.5], [x, mm(y) + side_of(name) * offset]
        limbs.append(limb(name, [x, y, 0.0], 0.0, "upright_3", lengths, ends, neutral, mirrored=name == "R"))
    radius = mm(length * 0.3)
    wheel = {"sole": {"kind": "ball", "radius_mm": radius}, "contact": {"kind": "rolls"}}
    for name in ("WL", "WR"):
        limbs.append(_support(name, -size[0] * AXLE, side_of(name) * length * TRACK, radius - ride, wheel))
    # A foot and two wheels are three to stand on, and wheels cannot follow a body that leans sideways: so the mass lies
    # near the axle.
    return Built(
        limbs, size, ride, {"pitch": 30.0, "knee": -75.0}, length * 0.15, mm(length * 0.12),
        AHEAD, duty=0.8, cycle_s=2.4, gait="weight_shift", battery_ahead_mm=-size[0] * BATTERY,
        against_sag="static",
    )  # fmt: skip
