"""A walker from the builder's own numbers: how many legs, of which family, along the sides of a body or round it.

Feet stand where legs of such links stand well: a sprawled leg with its femur raised by 20° and its tibia hanging at
−85° to it, a stiff one lowered by 32°, an upright one bent so far that 0.82 of its length is left, under its hip.
Upright legs swing fore and aft wherever they sit: behind the middle of a round body, or of legs set round one, their
knees point back, as forward they would run into it; at its ends they sit just clear of it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan2, copysign, cos, degrees, radians, sin
from typing import Literal

from bustle.core.kinds.legs import FAMILIES
from bustle.core.starting.building_blocks import (
    FOUR,
    SIX,
    SLOWLY,
    TROTS,
    Built,
    crawls_held,
    limb,
    mm,
    thickness_mm,
)
from bustle.core.starting.servo_types import SERVO_TYPES
from bustle.core.words.problems import InputRefused, Problem

LEGS = (3, 12)
FAMILIES_TAKEN = ("sprawled_3", "sprawled_2", "upright_3", "upright_2")
# A thigh is put so far from a body's end, beyond its own thickness.
BESIDE_MM = 5.0
LINK_MM, BODY_MM, FRAME_G = (1.0, 1000.0), (10.0, 1500.0), (10.0, 50_000.0)

ENDS: dict[str, dict[str, tuple[float, float]]] = {
    "sprawled_3": {"yaw": (-60.0, 60.0), "femur": (-60.0, 100.0), "tibia": (-165.0, -10.0)},
    "sprawled_2": {"yaw": (-60.0, 60.0), "lift": (-80.0, 60.0)},
    "upright_3": {"roll": (-45.0, 45.0), "pitch": (-60.0, 95.0), "knee": (-150.0, -8.0)},
    "upright_2": {"pitch": (-60.0, 95.0), "knee": (-150.0, -8.0)},
}
CENTRES: dict[str, dict[str, float]] = {
    "sprawled_3": {"femur": 20.0, "tibia": -85.0},
    "sprawled_2": {"lift": -32.0},
    "upright_3": {"pitch": 30.0, "knee": -75.0},
    "upright_2": {"pitch": 30.0, "knee": -75.0},
}

SERVOS = {servo.name: servo for servo in SERVO_TYPES}


@dataclass(frozen=True)
class OwnNumbers:
    """body_mm: long, wide, high. links_mm: in the family's order. placed: along the two sides, or evenly round. servo:
    the name of one of the servo types to begin with, frame_g: the frame with its boards, pack and all it carries; None:
    as is usual for its size."""

    family: str
    legs: int
    placed: Literal["sides", "round"]
    body_mm: tuple[float, float, float]
    body: Literal["box", "round"]
    links_mm: tuple[float, ...]
    servo: str | None = None
    frame_g: float | None = None

    @property
    def leg_length_mm(self) -> float:
        aside = 1 if self.family.startswith("upright") else 0
        return sum(self.links_mm[aside:])


def refusals(own: OwnNumbers) -> list[Problem]:
    found = []

    def refuse(field: str, sentence: str) -> None:
        found.append(Problem(field, sentence))

    if own.family not in FAMILIES_TAKEN:
        refuse("own.family", f"must be one of {', '.join(FAMILIES_TAKEN)}, got {own.family[:40]!r}")
        return found
    low, high = LEGS
    if not low <= own.legs <= high:
        refuse("own.legs", f"must be from {low} to {high}, got {own.legs}")
    elif own.placed == "sides" and own.legs % 2:
        refuse("own.legs", f"along two sides there are as many legs on each, got {own.legs}")
    specs = FAMILIES[own.family].links
    if len(own.links_mm) != len(specs):
        names = ", ".join(k.label.lower() for k in specs)
        refuse("own.links_mm", f"must be {len(specs)} lengths: {names}; got {len(own.links_mm)}")
    for spec, length in zip(specs, own.links_mm, strict=False):
        least = 0.0 if spec.may_be_zero else LINK_MM[0]
        if not least <= length <= LINK_MM[1]:
            refuse("own.links_mm", f"{spec.label.lower()} must be from {least:g} to {LINK_MM[1]:g} mm, got {length:g}")
    for name, size in zip(("long", "wide", "high"), own.body_mm, strict=True):
        if not BODY_MM[0] <= size <= BODY_MM[1]:
            refuse("own.body_mm", f"{name} must be from {BODY_MM[0]:g} to {BODY_MM[1]:g} mm, got {size:g}")
    if own.servo is not None and own.servo not in SERVOS:
        refuse("own.servo", f"must be one of {', '.join(SERVOS)}, got {own.servo[:40]!r}")
    if own.frame_g is not None and not FRAME_G[0] <= own.frame_g <= FRAME_G[1]:
        refuse("own.frame_g", f"must be from {FRAME_G[0]:g} to {FRAME_G[1]:g} g, got {own.frame_g:g}")
    return found


def built_from(own: OwnNumbers) -> Built:
    """Raises InputRefused naming each number that is out of its range."""
    found = refusals(own)
    if found:
        raise InputRefused(found)
    out, ride = _stance(own)
    upright = own.family.startswith("upright")
    limbs, centres = [], dict(CENTRES[own.family])
    for name, x, y, yaw in _places(own):
        side = 1.0 if y >= 0 else -1.0
        if upright:
            x = _clear_of_the_body(own, x, y + side * own.links_mm[0])
        away = radians(90.0 * side if upright else yaw)
        neutral = [x + out * cos(away), y + out * sin(away)]
        back = upright and x < -1e-6 and "round" in (own.body, own.placed)
        ends = {j: (-high, -low) if back else (low, high) for j, (low, high) in ENDS[own.family].items()}
        if back:
            centres.update({f"{name}/{joint}": -centre for joint, centre in CENTRES[own.family].items()})
        limbs.append(
            limb(
                name, [x, y, 0.0], 0.0 if upright else yaw, own.family, own.links_mm, ends, neutral,
                mirrored=upright and y < 0, branch=FAMILIES[own.family].branches[1 if back else 0],
            )
        )  # fmt: skip
    length = own.leg_length_mm
    two = own.family == "sprawled_2"
    size = [own.body_mm[0], own.body_mm[0] if own.body == "round" else own.body_mm[1], own.body_mm[2]]
    one_way = own.family == "upright_2" or (two and own.placed == "sides")
    walks = ("Forward", "Back") if one_way else ("Forward", "Back", "Turn left", "Turn right")
    if len(ENDS[own.family]) == 3:
        walks = (*walks, "Sideways left", "Sideways right")
    if own.legs == 6:
        walks = (*walks, SLOWLY)
    return Built(
        limbs, size, mm(ride), centres, length * (0.14 if two else 0.22), mm(length * 0.11), walks,
        travel="implied" if two and own.placed == "round" else "asked", body=own.body,
        timed=(TROTS[own.family],) if own.legs == 4 else (),
        against_sag=crawls_held(own.family, own.legs, own.placed == "sides"),
        servo=SERVOS[own.servo] if own.servo else None, frame_g=own.frame_g,
    )  # fmt: skip


def _stance(own: OwnNumbers) -> tuple[float, float]:
    """How far out from its mount a foot stands, and how far below it."""
    if own.family == "sprawled_3":
        coxa, femur, tibia = own.links_mm
        a, b = radians(20.0), radians(20.0 - 85.0)
        return coxa + femur * cos(a) + tibia * cos(b), max(own.body_mm[2] / 2 + 5.0, -femur * sin(a) - tibia * sin(b))
    if own.family == "sprawled_2":
        coxa, leg = own.links_mm
        return coxa + leg * cos(radians(32.0)), leg * sin(radians(32.0))
    return own.links_mm[0], 0.82 * own.leg_length_mm


def _clear_of_the_body(own: OwnNumbers, x: float, hip_y: float) -> float:
    """Where an upright leg sits along the body: one whose hip would lie against its end, a little beyond it."""
    long, wide = own.body_mm[0] / 2, own.body_mm[1] / 2
    beside = thickness_mm(own.links_mm) + BESIDE_MM
    if own.body == "round":
        least = max(0.0, (long + beside) ** 2 - hip_y**2) ** 0.5
    else:
        at_an_end = own.placed == "round" and abs(x) > long - 1e-6 and abs(hip_y) < wide + beside
        least = long + beside if at_an_end else 0.0
    return copysign(max(abs(x), least), x) if abs(x) > 1e-6 else x


def _places(own: OwnNumbers) -> Sequence[tuple[str, float, float, float]]:
    """Name, forward, left and heading of each leg, on the edge of the body."""
    long, wide = own.body_mm[0], own.body_mm[0] if own.body == "round" else own.body_mm[1]
    if own.placed == "round":
        return _round(own, long, wide)
    rows = own.legs // 2
    names = SIX if own.legs == 6 else FOUR if own.legs == 4 else [f"{s}{r + 1}" for s in "LR" for r in range(rows)]
    found = []
    for n, name in enumerate(names):
        left = "L" in name
        row = n // 2 if own.legs == 4 else n % rows
        along = 1 - 2 * row / (rows - 1) if rows > 1 else 0.0
        side = 1.0 if left else -1.0
        x = long / 2 * along
        # Corner legs of a round sit on its rim.
        y = side * (wide / 2 if own.body == "box" else ((long / 2) ** 2 - (0.85 * x) ** 2) ** 0.5)
        x = x if own.body == "box" else 0.85 * x
        yaw = side * (90.0 - 35.0 * along) if own.family == "sprawled_3" else side * 90.0
        found.append((name, x, y, yaw))
    return found


def _round(own: OwnNumbers, long: float, wide: float) -> Sequence[tuple[str, float, float, float]]:
    """Evenly round, left ones first where they are even; each on the rim, or where its line leaves the box."""
    turns = [(k + 0.5) * 360 / own.legs for k in range(own.legs)]
    if own.legs % 2 == 0:
        left = [t for t in turns if t < 180]
        order = [*left, *(-t for t in left)]
        names = SIX if own.legs == 6 else [f"{s}{k + 1}" for s in "LR" for k in range(own.legs // 2)]
    else:
        order, names = [k * 360 / own.legs for k in range(own.legs)], list("ABCDEFGHIJKL"[: own.legs])
    found = []
    for name, turn in zip(names, order, strict=True):
        c, s = cos(radians(turn)), sin(radians(turn))
        reach = long / 2
        if own.body == "box":
            reach = min(long / 2 / abs(c) if abs(c) > 1e-9 else 1e9, wide / 2 / abs(s) if abs(s) > 1e-9 else 1e9)
        yaw = degrees(atan2(s, c))
        found.append((name, reach * c, reach * s, round(yaw, 3) + 0.0))
    return found
