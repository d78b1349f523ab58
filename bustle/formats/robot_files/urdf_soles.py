"""Which foot a limb read from URDF stands on: the ball or box of its last link, or of what is fixed to that.

All in the root's frame with every joint at zero, mm, where the end links of Bustle's limbs are turned as the root is.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.formats.robot_files.shapes import TIP_MM
from bustle.formats.robot_files.urdf_tree import Touch

# A ball no larger is a tip; a box no wider is an edge.
TIP, EDGE = 1.5 * TIP_MM, 1.5
# A foot's own frame lies so near to what it touches with.
NEAR_MM = 5.0
# A sole at zero pose is level, and straight ahead, to so many degrees.
LEVEL_DEG, AHEAD_DEG = 3.0, 3.0
# So thick a box is a body, and no sole: of its shorter side.
FLAT = 0.8

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
    near = [touch for touch in touches if foot is None or _holds(touch, foot)]
    if foot is not None and not near:
        return Stands(foot, POINT)
    return _standing(min(near, key=lambda touch: touch.lowest_mm), foot)


def _holds(touch: Touch, foot: Array) -> bool:
    """Whether a foot's frame lies in a ball or box, or as good as."""
    local = np.abs((foot - touch.at) @ touch.turn)
    if touch.kind == "ball":
        return bool(np.linalg.norm(local) <= touch.size[0] + NEAR_MM)
    return bool((local <= touch.size / 2 + NEAR_MM).all())


def _standing(touch: Touch, foot: Array | None) -> Stands:
    if touch.kind == "ball":
        radius = float(touch.size[0])
        if radius <= TIP:
            return Stands(touch.at - [0.0, 0.0, radius] if foot is None else foot, POINT)
        return Stands(touch.at, {"kind": "ball", "radius_mm": round(radius, 6)}, radius)
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
