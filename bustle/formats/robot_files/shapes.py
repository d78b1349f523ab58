"""What an engine needs to let parts touch: boxes, rods and balls on the bodies. Lengths in m.

Links are drawn in a little at their joints, so that neighbours in one leg do not touch each other; the last one also at
its foot, so that the sole touches first.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Literal

import numpy as np
from scipy.spatial.transform import Rotation

from bustle.core.geometry.arrays import Array
from bustle.core.machine.soles import touching
from bustle.core.project.walker import CurvedSole, Foot, Limb, Section

# Of a sole or tip without a thickness of its own; of a wheel without a radius, mm.
THICK_MM, TIP_MM, WHEEL_MM, TREAD_MM = 3.0, 1.0, 10.0, 6.0
# A curve in plates: a plate for so much of it, rad, each a little over the next; so thick; no further to either side
# than a walk rolls, nor so near to the next sole, of half the way to it.
PLATE_RAD, OVER, PLATE_MM, OPEN_RAD, CLEAR = np.radians(4.0), 1.02, 1.0, np.radians(24.0), 0.9

Grip = Literal["frame", "link", "sole", "wheel", "caster", "skid"]


@dataclass(frozen=True)
class Shape:
    """size: a box's sides; a rod's radius and length, along its own z; a ball's radius; a dome's three half-axes."""

    kind: Literal["box", "rod", "ball", "dome"]
    grip: Grip
    at: Array
    turn: Array
    size: Array


def _shape(
    kind: Literal["box", "rod", "ball", "dome"], grip: Grip, at_mm: Array, turn: Array, *size_mm: float
) -> Shape:
    return Shape(kind, grip, np.asarray(at_mm, dtype=float) / 1000, turn, np.array(size_mm) / 1000)


def frame_shape(section: Section) -> Shape:
    if section.shape == "round":
        return _shape("rod", "frame", np.zeros(3), np.eye(3), section.size_mm[0] / 2, section.size_mm[2])
    return _shape("box", "frame", np.zeros(3), np.eye(3), *section.size_mm)


def link_shape(limb: Limb, offset_mm: Array, tip: bool) -> list[Shape]:
    """A rod along the link; none where too little of it is left."""
    length = float(np.linalg.norm(offset_mm))
    radius = max((link.radius_mm for link in limb.links), default=4.0)
    near = 1.5 * radius
    far = 2.0 * (radius + THICK_MM) if tip else near
    if radius < 0.1 or length - near - far < 2.0:
        return []
    way = offset_mm / length
    turn, _ = Rotation.align_vectors([way], [[0.0, 0.0, 1.0]])
    middle = way * (near + length - far) / 2
    return [_shape("rod", "link", middle, turn.as_matrix(), radius, length - near - far)]


def sole_shapes(foot: Foot, at_mm: Array, turn: Array, in_plates: bool) -> list[Shape]:
    """What stands on the floor, with the end of the leg at at_mm. A wheel is a body of its own. in_plates: a curve that
    goes on is so too, and no dome; one that ends always is."""
    sole, up = foot.sole, turn[:, 2]
    grip: Grip = "sole"
    if foot.contact.kind == "slides":
        grip = "skid"
    elif foot.contact.kind == "rolls":
        if not foot.contact.any_way:
            return []
        grip = "caster"
    if sole.kind == "rectangle":
        middle = at_mm + turn @ np.array([sole.ahead_mm, sole.left_mm, THICK_MM / 2])
        return [_shape("box", grip, middle, turn, sole.length_mm, sole.width_mm, THICK_MM)]
    if sole.kind == "edge":
        blade = turn @ Rotation.from_euler("z", sole.heading_deg, degrees=True).as_matrix()
        return [_shape("box", grip, at_mm + up * THICK_MM / 2, blade, sole.length_mm, 1.0, THICK_MM)]
    if sole.kind == "curved" and (in_plates or sole.length_mm or sole.width_mm):
        return plates(foot, sole, grip, at_mm, turn)
    if sole.kind == "curved":
        # The ellipsoid whose section fore and aft is the sole's own circle and whose curvature sideways is the sole's.
        fore, across = sole.radius_fore_mm, float(np.sqrt(sole.radius_side_mm * sole.radius_fore_mm))
        return [_shape("dome", grip, at_mm + up * fore, turn, fore, across, fore)]
    if sole.kind == "ball":
        return [_shape("ball", grip, at_mm, turn, sole.radius_mm)]
    return [_shape("ball", grip, at_mm + up * TIP_MM, turn, TIP_MM)]


def ended(limb: Limb, legs: Sequence[Limb]) -> Limb:
    """The limb with what of a curve would go on into the next leg's left out."""
    if limb.neutral_mm is None or not any(foot.sole.kind == "curved" for foot in limb.feet):
        return limb
    ways = [np.subtract(leg.neutral_mm, limb.neutral_mm) for leg in legs if leg.neutral_mm and leg.name != limb.name]
    ahead = min((CLEAR * abs(x) for x, y in ways if abs(x) > abs(y)), default=np.inf)
    aside = min((CLEAR * abs(y) for x, y in ways if abs(x) <= abs(y)), default=np.inf)

    def fits(foot: Foot) -> Foot:
        sole = foot.sole
        if not isinstance(sole, CurvedSole):
            return foot
        ends = {}
        for end, radius, room in (("length_mm", sole.radius_fore_mm, ahead), ("width_mm", sole.radius_side_mm, aside)):
            # Of feet in one place, one plate.
            left = max(room, radius * PLATE_RAD)
            if left < min(getattr(sole, end) or np.inf, 2 * radius * np.sin(OPEN_RAD)):
                ends[end] = float(left)
        return foot.model_copy(update={"sole": sole.model_copy(update=ends)})

    return limb.model_copy(update={"feet": tuple(fits(foot) for foot in limb.feet)})


def plates(foot: Foot, sole: CurvedSole, grip: Grip, at_mm: Array, turn: Array) -> list[Shape]:
    """A curve as flat plates that touch it in their middles: what rolls on them rises and falls by R·(1 − cos 2°),
    0.06 % of its radius. It rests on the plate in the middle."""
    ways = [
        np.linspace(-end, end, 2 * int(np.ceil(end / PLATE_RAD)) + 2)
        for end in (curve_end(sole.radius_fore_mm, sole.length_mm), curve_end(sole.radius_side_mm, sole.width_mm))
    ]
    found = []
    for (u, more_u), (v, more_v) in ((a, b) for a in pairwise(ways[0]) for b in pairwise(ways[1])):
        ahead, left = np.sin([(u + more_u) / 2, (v + more_v) / 2])
        up = np.array([-ahead, -left, np.sqrt(1.0 - ahead**2 - left**2)])
        along = np.eye(3)[0] - up[0] * up
        along = along / np.linalg.norm(along)
        lying = np.stack([along, np.cross(up, along), up], axis=1)
        # Where it touches the floor once this plate lies on it.
        on = lying @ touching(foot, np.zeros((1, 3)), lying.T[None])[0]
        middle = at_mm + turn @ (on + PLATE_MM / 2 * up)
        sides = (OVER * sole.radius_fore_mm * (more_u - u), OVER * sole.radius_side_mm * (more_v - v))
        found.append(_shape("box", grip, middle, turn @ lying, *sides, PLATE_MM))
    return found


def curve_end(radius_mm: float, across_mm: float | None) -> float:
    """How far a curve goes to either side, rad: to where it ends, or as far as any walk rolls."""
    if across_mm is None:
        return float(OPEN_RAD)
    return float(min(np.arcsin(min(1.0, across_mm / 2 / radius_mm)), OPEN_RAD))


def wheel_shape(foot: Foot) -> tuple[Shape, Array, Array] | None:
    """A wheel's shape, where its axle is from the end of the leg (mm) and which way: across its heading. None where the
    foot does not roll one way."""
    if foot.contact.kind != "rolls" or foot.contact.any_way:
        return None
    heading = np.radians(foot.contact.heading_deg)
    axle = np.array([-np.sin(heading), np.cos(heading), 0.0])
    radius = foot.sole.radius_mm if foot.sole.kind == "ball" else WHEEL_MM
    centre = np.array([0.0, 0.0, 0.0 if foot.sole.kind == "ball" else radius])
    lying, _ = Rotation.align_vectors([axle], [[0.0, 0.0, 1.0]])
    return _shape("rod", "wheel", np.zeros(3), lying.as_matrix(), radius, TREAD_MM), centre, axle


def ball_shape(foot: Foot) -> tuple[Shape, Array] | None:
    """The ball of what rolls every way, and where its middle is from the end of the leg (mm). None of any other."""
    if foot.contact.kind != "rolls" or not foot.contact.any_way or foot.sole.kind not in ("point", "ball"):
        return None
    whole = foot.sole.kind == "ball"
    radius = foot.sole.radius_mm if foot.sole.kind == "ball" else WHEEL_MM
    return _shape("ball", "caster", np.zeros(3), np.eye(3), radius), np.array([0.0, 0.0, 0.0 if whole else radius])
