"""What a machine read from URDF stands on beside its legs: casters on the frame, and wheels that turn about an axle.

A foot that is fixed to the frame is read as a caster, and so is a ball that turns without end about two axles or more
that cross in its middle, and a wheel on a swivel. A limb of one hinge that turns without end, or is nothing but a
wheel, is one: a disc or a ball round a level axle. All in the root's frame, mm.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.formats.robot_files.urdf_legs import rounded
from bustle.formats.robot_files.urdf_soles import TIP
from bustle.formats.robot_files.urdf_tree import Body, Hinge, Touch

Values = dict[str, Any]

CALLED = ("foot", "caster", "skid", "wheel")
# An axle is level, and a disc lies round it, to so much of a right angle's sine.
SKEW = 0.1
# A disc so far aside of its axle is none, mm; a foot so near to a wheel's middle is that wheel's.
ASIDE_MM = 1.0
# Axles that pass a ball's middle so near cross in it, and a foot so near to where it touches is there.
CROSS_MM = 1e-3


@dataclass(frozen=True)
class Support:
    """at (3,): the end of what it is drawn as; radius_mm: 0 of a tip; heading_deg: which way it rolls, None: any;
    turns: whether the file says that it does."""

    name: str
    at: Array
    radius_mm: float
    heading_deg: float | None = None
    turns: bool = True

    @property
    def depth_mm(self) -> float:
        """How far it reaches below the root."""
        return float(self.radius_mm - self.at[2])

    def as_limb(self, name: str) -> Values:
        sole = {"kind": "ball", "radius_mm": round(self.radius_mm, 6)} if self.radius_mm else {"kind": "point"}
        any_way = self.heading_deg is None
        contact = {"kind": "rolls", "any_way": any_way, "heading_deg": round(self.heading_deg or 0.0, 6) + 0.0}
        return {
            "name": name,
            "mount": {"at_mm": rounded(self.at)},
            "family": "fixed",
            "branch": "fixed",
            "joints": [],
            "links": [],
            "feet": [{"sole": sole, "contact": contact}],
        }


def stands_on_the_frame(body: Body) -> bool:
    """Whether a link that is fixed to the frame is there to stand on: it is called so, or is a ball."""
    called = any(word in body.name.lower() for word in CALLED)
    return called or any(touch.kind == "ball" for touch in body.touches)


def support_of(
    hinges: Sequence[Hinge], places: Sequence[Array], axes: Sequence[Array], touches: Sequence[Touch], end: Array
) -> Support | None:
    """What a limb of such hinges, at places (3,) about axes (3,), is where it is none: a wheel, a wheel on a swivel, a
    ball that turns every way."""
    if axles_of_a_ball(hinges, places, touches, end) == len(hinges):
        found = next(touch for touch in touches if touch.kind == "ball")
        return Support(hinges[0].name, found.at, float(found.size[0]))
    last = wheel(hinges[-1], places[-1], axes[-1], touches)
    if last is None or len(hinges) == 1:
        return last
    if len(hinges) > 2 or hinges[0].kind != "continuous" or np.hypot(*axes[0][:2]) > SKEW:
        return None
    # It trails behind its swivel whichever way it is pulled: on average it stands under that.
    return Support(hinges[0].name, np.array([*places[0][:2], last.at[2]]), last.radius_mm)


def wheel(hinge: Hinge, at: Array, axis: Array, touches: Sequence[Touch]) -> Support | None:
    """What turns on one hinge at (3,) about an axis (3,), where that is a wheel."""
    if hinge.kind == "prismatic" or abs(axis[2]) > SKEW:
        return None
    for touch in touches:
        aside = touch.at - at - axis * float(axis @ (touch.at - at))
        if np.linalg.norm(aside) > ASIDE_MM or touch.kind not in ("rod", "ball"):
            continue
        disc = touch.kind == "rod" and np.linalg.norm(np.cross(touch.turn[:, 2], axis)) < SKEW
        if disc or (touch.kind == "ball" and hinge.kind == "continuous"):
            # It rolls across its axle: an axle to the left rolls straight ahead.
            heading = float(np.degrees(np.arctan2(-axis[0], axis[1])))
            heading = (heading + 90.0) % 180.0 - 90.0
            return Support(hinge.name, touch.at, float(touch.size[0]), heading)
    return None


def axles_of_a_ball(hinges: Sequence[Hinge], places: Sequence[Array], touches: Sequence[Touch], end: Array) -> int:
    """How many of the last hinges, at places (3,), let a ball turn every way; 0 where they do not, or where what they
    turn is more than a ball: touches of their link, and its end (3,), lie outside."""
    whole = [
        t for t in touches if t.kind == "ball" and all(t.holds(p) for p in (end, *(other.at for other in touches)))
    ]
    most = 0
    for touch in whole:
        own = 0
        for hinge, at in zip(reversed(hinges), reversed(places), strict=True):
            if hinge.kind != "continuous" or np.linalg.norm(at - touch.at) > CROSS_MM:
                break
            own += 1
        most = max(most, own)
    return most if most > 1 else 0


def caster(name: str, at: Array, touches: Sequence[Touch]) -> Support:
    """What is fixed to the frame to stand on: its ball, or its end."""
    for touch in touches:
        if touch.kind == "ball" and touch.size[0] > TIP:
            return Support(name, touch.at, float(touch.size[0]), turns=False)
    low = min((t.lowest_mm for t in touches), default=float(at[2]))
    return Support(name, np.array([at[0], at[1], min(low, float(at[2]))]), 0.0, turns=False)


def apart(casters: Sequence[Support], wheels: Sequence[Support]) -> list[Support]:
    """Wheels, and those casters that are not only where a wheel touches. A ball with a foot where it touches is that
    foot: nobody said how large it is."""
    found, own = list(wheels), []
    for c in casters:
        gaps = [float(np.linalg.norm(c.at - w.at)) - max(ASIDE_MM, w.radius_mm) for w in wheels]
        near = int(np.argmin(gaps)) if gaps else -1
        if near < 0 or gaps[near] > CROSS_MM:
            own.append(c)
        elif wheels[near].heading_deg is None and abs(c.depth_mm - wheels[near].depth_mm) < CROSS_MM:
            found[near] = replace(c, turns=True)
    return [*found, *own]
