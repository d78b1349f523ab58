"""Which foot a limb read from URDF stands on: the ball, box or curve of plates of its last link,
or of what is fixed to that.

All in the root's frame with every joint at zero, mm, where the end links of Bustle's limbs are turned as the root is.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.formats.robot_files.shapes import OPEN_RAD, TIP_MM
from bustle.formats.robot_files.urdf_tree import Touch

# A ball no larger is a tip; a box no wider is an edge.
TIP, EDGE = 1.5 * TIP_MM, 1.5
# A foot's own frame lies so near to what it touches with.
NEAR_MM = 5.0
# A sole at zero pose is level, and straight ahead, to so many degrees.
LEVEL_DEG, AHEAD_DEG = 3.0, 3.0
# So many plates, leaning so far either way, rad, are a curve if they lie on it to a share of its radius.
LEAST_PLATES, LEAST_RAD, OFF = 9, 0.02, 0.002
# So thick a box is a body, and no sole: of its shorter side.
FLAT = 0.8
# So long a rod, of its radius, is a link where it lies level.
LINK = 6.0

Values = dict[str, Any]


@dataclass(frozen=True)
class Stands:
    """What a leg stands on: where it ends, its sole as the project has it, and how high its end is over the floor then.
    why: what could not be taken over."""

    end: Array
    sole: Values
    over_floor_mm: float = 0.0
    why: str = ""


POINT: Values = {"kind": "point"}


def stands_on(touches: Sequence[Touch], foot: Array | None) -> Stands:
    """By the balls and boxes that its last link touches with; foot: its foot's frame, where it has one."""
    curved = _curve(touches)
    if curved:
        return curved if foot is None else replace(curved, end=foot)
    near = [touch for touch in touches if foot is None or _holds(touch, foot)]
    if foot is not None and not near:
        return Stands(foot, POINT)
    return _standing(min(near, key=lambda touch: touch.lowest_mm), foot)


def may_be_stood_on(rod: Touch) -> bool:
    """Whether a rod is a foot's, and no link that lies level with all joints at zero."""
    radius, length = rod.size
    return rod.foots and (length < LINK * radius or abs(rod.turn[2, 2]) > np.cos(np.pi / 4))


def _curve(touches: Sequence[Touch]) -> Stands | None:
    """What flat plates make together that lie on one curve: a plate whose up is (−a, −l, w) touches at
    (x₀ + R_fore·a, y₀ + R_side·l, z₀ + m·(1 − w)), m the mean of both radii by a² and l² (`machine/soles`). By least
    squares; None where they do not lie so."""
    plates = [touch for touch in touches if touch.kind == "box"]
    if len(plates) < LEAST_PLATES:
        return None
    thin = [int(np.argmin(plate.size)) for plate in plates]
    ups = np.array([plate.turn[:, k] for plate, k in zip(plates, thin, strict=True)])
    ups *= np.where(ups[:, 2:] < 0, -1.0, 1.0)
    under = np.array([p.at for p in plates]) - ups * np.array(
        [[p.size[k] / 2] for p, k in zip(plates, thin, strict=True)]
    )
    ahead, left = -ups[:, 0], -ups[:, 1]
    if min(np.ptp(ahead), np.ptp(left)) < 2 * LEAST_RAD:
        return None
    fore, x = np.polyfit(ahead, under[:, 0], 1)
    side, y = np.polyfit(left, under[:, 1], 1)
    rises = (fore * ahead**2 + side * left**2) / np.maximum(ahead**2 + left**2, 1e-18) * (1.0 - ups[:, 2])
    z = float(np.mean(under[:, 2] - rises))
    missed = under - np.stack([x + fore * ahead, y + side * left, z + rises], axis=1)
    if min(fore, side) <= 0 or np.abs(missed).max() > OFF * max(fore, side):
        return None
    ends = {"length_mm": _end(ahead, fore), "width_mm": _end(left, side)}
    sole = {"kind": "curved", "radius_fore_mm": round(fore, 4), "radius_side_mm": round(side, 4)}
    return Stands(np.array([x, y, z]), sole | {k: v for k, v in ends.items() if v is not None})


def _end(sines: Array, radius_mm: float) -> float | None:
    """How long a curve is whose plates lie about its middle at such sines; None where it goes as far as any walk."""
    middles = np.unique(np.arcsin(sines).round(6))
    end = float(np.abs(middles).max() + np.diff(middles).mean() / 2)
    return None if end > OPEN_RAD - 1e-3 else round(2 * radius_mm * float(np.sin(end)), 3)


def _holds(touch: Touch, foot: Array) -> bool:
    """Whether a foot's frame lies in a ball, rod or box, or as good as."""
    local = np.abs((foot - touch.at) @ touch.turn)
    if touch.kind == "ball":
        return bool(np.linalg.norm(local) <= touch.size[0] + NEAR_MM)
    if touch.kind == "rod":
        radius, length = touch.size + NEAR_MM
        return bool(np.hypot(*local[:2]) <= radius and local[2] <= length / 2 + NEAR_MM)
    return bool((local <= touch.size / 2 + NEAR_MM).all())


def _standing(touch: Touch, foot: Array | None) -> Stands:
    if touch.kind == "ball":
        radius = float(touch.size[0])
        if radius <= TIP:
            return Stands(touch.at - [0.0, 0.0, radius] if foot is None else foot, POINT)
        return Stands(touch.at, {"kind": "ball", "radius_mm": round(radius, 6)}, radius)
    if touch.kind == "rod":
        return _on_a_rod(touch, foot)
    below = np.array([touch.at[0], touch.at[1], touch.lowest_mm])
    end = below if foot is None else np.array([foot[0], foot[1], touch.lowest_mm])
    upright = int(np.argmax(np.abs(touch.turn[2])))
    if np.abs(touch.turn[2, upright]) < np.cos(np.radians(LEVEL_DEG)):
        return Stands(end, POINT, why="its sole does not lie flat with all joints at zero; it is read as a point")
    flat = [k for k in range(3) if k != upright]
    sides = touch.size[flat]
    if touch.size[upright] > FLAT * sides.max():
        return Stands(end, POINT, why="its box is no flat sole; it is read as a point")
    long = flat[int(np.argmax(sides))]
    heading = float(np.degrees(np.arctan2(touch.turn[1, long], touch.turn[0, long])))
    heading = (heading + 90.0) % 180.0 - 90.0
    if sides.min() <= EDGE:
        edge = {"kind": "edge", "length_mm": round(float(sides.max()), 6), "heading_deg": round(heading, 6) + 0.0}
        return Stands(end, edge)
    across = abs(heading) > 45.0
    if min(abs(heading), abs(abs(heading) - 90.0)) > AHEAD_DEG:
        return Stands(end, POINT, why=f"its sole is turned by {heading:.0f}°; it is read as a point")
    length, width = (sides.min(), sides.max()) if across else (sides.max(), sides.min())
    ahead, left = below[:2] - end[:2]
    sole = {"kind": "rectangle", "length_mm": length, "width_mm": width, "ahead_mm": ahead, "left_mm": left}
    return Stands(end, {k: v if k == "kind" else round(float(v), 6) + 0.0 for k, v in sole.items()})


def _on_a_rod(touch: Touch, foot: Array | None) -> Stands:
    """A disc is the square in it, and what lies level a ball as thick."""
    radius, length = touch.size
    if abs(touch.turn[2, 2]) < np.sin(np.radians(LEVEL_DEG)):
        ball = Touch("ball", touch.at, touch.turn, touch.size[:1])
        return replace(_standing(ball, foot), why=f"its rod lies level; it is read as a ball of {radius:g} mm")
    disc = abs(touch.turn[2, 2]) > np.cos(np.radians(LEVEL_DEG)) and length < FLAT * 2 * radius
    if not disc:
        end = np.array([touch.at[0], touch.at[1], touch.lowest_mm]) if foot is None else foot
        return Stands(end, POINT, why="its rod is no flat sole; it is read as a point")
    side = np.sqrt(2.0) * radius
    square = Touch("box", touch.at, np.eye(3), np.array([side, side, length]))
    return replace(_standing(square, foot), why=f"its round sole; it is read as the square in it, {side:.1f} mm long")
