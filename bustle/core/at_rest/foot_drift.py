"""A foot meant to go straight up and down that does not: which joint's zero or link's length explains it.

The builder holds the foot still sideways, moves it to several heights and reads how far it stands off. For each joint a
zero that is off, and for each link a length that is off, is fitted by least squares: the predicted drift is forward
kinematics of the built leg, with the design's joint angles for the foot's straight line, less the line. What all
heights share says nothing (a ruler laid elsewhere), so means are taken out. Fits are ranked by what they leave over.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward
from bustle.core.kinds.legs import FAMILIES
from bustle.core.machine.limb_groups import build_of
from bustle.core.machine.sections import mount_place, section_places
from bustle.core.project.walker import DriftReading, Limb, MeasuredLimb, Walker

ROUNDS = 8


@dataclass(frozen=True)
class Explanation:
    """`kind` "zero" of a joint (degrees) or "length" of a link (mm); left_mm: what it leaves over, root mean square."""

    kind: Literal["zero", "length"]
    part: str
    amount: float
    unit: str
    left_mm: float


def drift_left_mm(walker: Walker, limb: Limb, readings: tuple[DriftReading, ...], truth: MeasuredLimb) -> Array:
    """What the readings show beyond what is known of the built leg: (N, 2) mm, means taken out."""
    seen = _centred(np.array([r.drift_mm for r in readings]))
    return seen - _predicted(walker, limb, [r.height_mm for r in readings], truth)


def explanations(
    walker: Walker, limb: Limb, readings: tuple[DriftReading, ...], truth: MeasuredLimb
) -> list[Explanation]:
    """Every joint's zero and link's length that could explain the readings, the best first."""
    family = FAMILIES[limb.family]
    seen = _centred(np.array([r.drift_mm for r in readings]))
    heights = [r.height_mm for r in readings]

    def with_zero(name: str) -> Callable[[float], MeasuredLimb]:
        zeros = dict(truth.joint_zero_deg)
        return lambda v: truth.model_copy(update={"joint_zero_deg": {**zeros, name: zeros.get(name, 0.0) + v}})

    def with_length(name: str, design: float) -> Callable[[float], MeasuredLimb]:
        lengths = dict(truth.link_length_mm)
        start = lengths.get(name, design)
        return lambda v: truth.model_copy(update={"link_length_mm": {**lengths, name: max(0.0, start + v)}})

    found = []
    for joint in limb.joints:
        found.append(_fitted("zero", joint.name, with_zero(joint.name), walker, limb, heights, seen))
    for link in limb.links:
        if link.length_mm > 0 and not (family.links and link.name == "hip"):
            change = with_length(link.name, link.length_mm)
            found.append(_fitted("length", link.name, change, walker, limb, heights, seen))
    return sorted(found, key=lambda e: e.left_mm)


def _centred(values: Array) -> Array:
    return np.asarray(values - values.mean(axis=0))


def _predicted(walker: Walker, limb: Limb, heights: list[float], truth: MeasuredLimb) -> Array:
    place = mount_place(section_places(walker, {})[limb.section], limb.mount)
    build, built, zeros = build_of([limb], [place], {limb.name: truth})
    x, y = limb.neutral_mm or (0.0, 0.0)
    line = np.array([[x, y, place.at[2] - h] for h in heights])
    target = ((line - place.at) @ place.turn)[None]
    aims = np.broadcast_to(place.turn.T, (1, len(heights), 3, 3))
    joints = FAMILIES[limb.family].solve(build, target, aims).joints
    at = forward(built, joints + zeros[:, None])[0][0, :, -1]
    return _centred((at - line)[:, :2])


def _fitted(
    kind: Literal["zero", "length"],
    part: str,
    change: Callable[[float], MeasuredLimb],
    walker: Walker,
    limb: Limb,
    heights: list[float],
    seen: Array,
) -> Explanation:
    """One number fitted by Gauss–Newton."""
    value, step = 0.0, 1e-3
    for _ in range(ROUNDS):
        here = _predicted(walker, limb, heights, change(value))
        slope = (_predicted(walker, limb, heights, change(value + step)) - here) / step
        weight = float((slope * slope).sum())
        if weight < 1e-9:
            break
        value = float(np.clip(value + float((slope * (seen - here)).sum()) / weight, -30.0, 30.0))
    left = seen - _predicted(walker, limb, heights, change(value))
    return Explanation(kind, part, value, "°" if kind == "zero" else "mm", float(np.sqrt((left**2).sum(axis=1).mean())))
