"""Walkers with their legs along the sides of a rectangle."""

from __future__ import annotations

from math import cos, radians, sin

from bustle.core.starting.building_blocks import FOUR, SIX, SLOWLY, TROTS, Built, crawls_held, limb, mm, side_of

AHEAD = ("Forward", "Back")
TURNING = (*AHEAD, "Turn left", "Turn right")
ALL = (*TURNING, "Sideways left", "Sideways right")


def _along(name: str, rows: int) -> float:
    """From the front, +1, to the back, −1."""
    row = int(name[1]) - 1 if rows == 3 else 0 if name[0] == "F" else 1
    return 1 - 2 * row / (rows - 1)


def sprawled(legs: int, length: float) -> Built:
    """Coxa, femur and tibia as 0.22 : 0.30 : 0.48 of the leg; legs fan out at the corners."""
    rows = legs // 2
    size = [mm(length * (0.95 if rows == 3 else 0.7)), mm(length * 0.5), mm(length * 0.2)]
    limbs = []
    for name in SIX if legs == 6 else FOUR:
        x, y = size[0] / 2 * _along(name, rows), side_of(name) * size[1] / 2
        yaw = side_of(name) * (90.0 - 35.0 * _along(name, rows))
        neutral = [x + length * 0.52 * cos(radians(yaw)), y + length * 0.52 * sin(radians(yaw))]
        lengths = [length * 0.22, length * 0.3, length * 0.48]
        ends = {"yaw": (-60.0, 60.0), "femur": (-60.0, 100.0), "tibia": (-165.0, -10.0)}
        limbs.append(limb(name, [x, y, 0.0], yaw, "sprawled_3", lengths, ends, neutral))
    return Built(
        limbs, size, mm(length * 0.36), {"femur": 20.0, "tibia": -85.0}, length * 0.26, mm(length * 0.12),
        ALL if legs == 4 else (*ALL, SLOWLY), timed=(TROTS["sprawled_3"],) if legs == 4 else (),
    )  # fmt: skip


def sprawled_two(legs: int, length: float) -> Built:
    """Coxa and leg as 0.25 : 0.75, square to the frame; short strokes, since the feet swing on arcs."""
    rows = legs // 2
    size = [mm(length * (1.1 if rows == 3 else 0.8)), mm(length * 0.5), mm(length * 0.2)]
    limbs = []
    for name in SIX if legs == 6 else FOUR:
        x, y = size[0] / 2 * _along(name, rows), side_of(name) * size[1] / 2
        yaw = side_of(name) * 90.0
        limbs.append(_lifting(name, x, y, yaw, length))
    return Built(
        limbs,
        size,
        mm(length * 0.4),
        {"lift": -32.0},
        length * 0.16,
        mm(length * 0.1),
        (*AHEAD, SLOWLY) if legs == 6 else AHEAD,
        duty=_duty(legs),
        against_sag=crawls_held("sprawled_2", legs, aside=True),
    )


def _lifting(name: str, x: float, y: float, yaw: float, length: float) -> dict:
    """A leg of yaw and lift with its foot at the ride height of 0.4 of its length."""
    out = length * 0.25 + length * (0.75**2 - 0.4**2) ** 0.5
    neutral = [x + out * cos(radians(yaw)), y + out * sin(radians(yaw))]
    ends = {"yaw": (-60.0, 60.0), "lift": (-80.0, 60.0)}
    return limb(name, [x, y, 0.0], yaw, "sprawled_2", [length * 0.25, length * 0.75], ends, neutral)


def _duty(legs: int) -> float:
    return 0.55 if legs == 6 else 0.88


def radial(legs: int, joints: int, length: float) -> Built:
    """Legs evenly round a circle, each pointing away from its middle."""
    radius = length * (0.45 if legs == 6 else 0.4)
    size = [mm(radius * 1.7), mm(radius * 1.7), mm(length * 0.2)]
    angles = {"L1": 30.0, "L2": 90.0, "L3": 150.0, "FL": 45.0, "BL": 135.0}
    limbs = []
    for name in SIX if legs == 6 else FOUR:
        yaw = angles[name.replace("R", "L")] * side_of(name)
        x, y = radius * cos(radians(yaw)), radius * sin(radians(yaw))
        if joints == 2:
            limbs.append(_lifting(name, x, y, yaw, length))
            continue
        neutral = [x + length * 0.52 * cos(radians(yaw)), y + length * 0.52 * sin(radians(yaw))]
        ends = {"yaw": (-60.0, 60.0), "femur": (-60.0, 100.0), "tibia": (-165.0, -10.0)}
        lengths = [length * 0.22, length * 0.3, length * 0.48]
        limbs.append(limb(name, [x, y, 0.0], yaw, "sprawled_3", lengths, ends, neutral))
    if joints == 2:
        stroke = length * (0.14 if legs == 6 else 0.1)
        return Built(
            limbs, size, mm(length * 0.4), {"lift": -32.0}, stroke, mm(length * 0.1),
            (*TURNING, SLOWLY) if legs == 6 else TURNING, duty=_duty(legs), travel="implied",
            timed=(TROTS["sprawled_2"],) if legs == 4 else (),
            against_sag=crawls_held("sprawled_2", legs, aside=False),
        )  # fmt: skip
    return Built(
        limbs,
        size,
        mm(length * 0.36),
        {"femur": 20.0, "tibia": -85.0},
        length * 0.24,
        mm(length * 0.12),
        (*ALL, SLOWLY),
    )


def upright(legs: int, length: float) -> Built:
    """Thigh and shank are half the leg each, the hip offset a sixth; feet stand under the thighs."""
    rows = legs // 2
    size = [mm(length * (1.15 if rows == 2 else 1.7)), mm(length * 0.5), mm(length * 0.22)]
    offset = mm(length * 0.18)
    limbs = []
    for name in SIX if legs == 6 else FOUR:
        x, y = size[0] / 2 * _along(name, rows), side_of(name) * size[1] / 2
        ends = {"roll": (-45.0, 45.0), "pitch": (-60.0, 95.0), "knee": (-150.0, -8.0)}
        lengths, neutral = [offset, length * 0.5, length * 0.5], [x, y + side_of(name) * offset]
        right = side_of(name) < 0
        limbs.append(limb(name, [x, y, 0.0], 0.0, "upright_3", lengths, ends, neutral, mirrored=right))
    return Built(
        limbs, size, mm(length * 0.82), {"pitch": 30.0, "knee": -75.0}, length * 0.22, mm(length * 0.12),
        ALL if legs == 4 else (*ALL, SLOWLY), timed=(TROTS["upright_3"],) if legs == 4 else (),
        against_sag="static",
    )  # fmt: skip


def upright_two(length: float) -> Built:
    """As upright, without the roll: it walks straight."""
    built = upright(4, length)
    limbs = [
        limb(
            part["name"], part["mount"]["at_mm"], 0.0, "upright_2", [k["length_mm"] for k in part["links"]],
            {"pitch": (-60.0, 95.0), "knee": (-150.0, -8.0)}, part["neutral_mm"], mirrored=part["mirrored"],
        )
        for part in built.limbs
    ]  # fmt: skip
    return Built(
        limbs,
        built.size,
        built.ride_mm,
        built.centres,
        length * 0.16,
        built.lift_mm,
        AHEAD,
        timed=(TROTS["upright_2"],),
    )
