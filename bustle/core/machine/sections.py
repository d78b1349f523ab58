"""The frame's sections: where each is in the body frame, for the bends of a motion."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import turns
from bustle.core.project.walker import Mount, Walker

AXES = {
    "yaw": np.array([0.0, 0.0, 1.0]),
    "pitch": np.array([0.0, 1.0, 0.0]),
    "roll": np.array([1.0, 0.0, 0.0]),
}


@dataclass(frozen=True)
class Place:
    """A frame in the body frame: its origin (3,) mm and its orientation (3, 3)."""

    at: Array
    turn: Array

    def carry(self, points: Array) -> Array:
        """Points (..., 3) of this frame, seen from the body frame."""
        return points @ self.turn.T + self.at


@dataclass(frozen=True)
class Swung:
    """How a section moves over S samples against where it was put together: turn (S, 3, 3) and at (S, 3) mm, both in
    the body frame, so that a point p of it is at turn·p + at."""

    turn: Array
    at: Array

    def carry(self, points: Array) -> Array:
        """Points (..., S, 3), or (..., 1, 3) of what is still on the section, to where they are."""
        return (self.turn @ points[..., None])[..., 0] + self.at

    def back(self, points: Array) -> Array:
        """Points (..., S, 3) to where they would be, had the section not moved."""
        return (np.swapaxes(self.turn, -1, -2) @ (points - self.at)[..., None])[..., 0]

    def only(self, samples: slice) -> Swung:
        return Swung(self.turn[samples], self.at[samples])


BODY = Place(np.zeros(3), np.eye(3))


def turned(yaw_deg: float, pitch_deg: float, roll_deg: float) -> Array:
    """Yaw about z, then pitch about y, then roll about x, in degrees."""
    angles = np.radians([yaw_deg, pitch_deg, roll_deg])
    turn: Array = np.eye(3)
    for axis, angle in zip(("yaw", "pitch", "roll"), angles, strict=True):
        if angle:
            turn = turn @ turns(AXES[axis], angle)
    return turn


def turned_each(yaw_deg: Array, pitch_deg: Array, roll_deg: Array) -> Array:
    """The same for many at once: (S,) each → (S, 3, 3)."""
    yaw, pitch, roll = (turns(AXES[a], np.radians(v)) for a, v in
                        (("yaw", yaw_deg), ("pitch", pitch_deg), ("roll", roll_deg)))  # fmt: skip
    return yaw @ pitch @ roll


def section_places(walker: Walker, bends_deg: dict[str, float]) -> dict[str, Place]:
    """Every section's place in the body frame; a hinge not named in `bends_deg` is straight."""
    places: dict[str, Place] = {}
    for section in walker.sections:
        if section.hinge is None:
            places[section.name] = BODY
            continue
        hinge = section.hinge
        carrier = places[hinge.on]
        turn = carrier.turn @ turns(AXES[hinge.axis], np.radians(bends_deg.get(section.name, 0.0)))
        at = carrier.carry(np.array(hinge.at_mm)) + turn @ np.array(hinge.to_mm)
        places[section.name] = Place(at, turn)
    return places


def swung_sections(walker: Walker, bends_deg: Mapping[str, float], moving_deg: Mapping[str, Array]) -> dict[str, Swung]:
    """The sections that move: those whose hinge does, and what hangs on them.

    bends_deg: as they were put together; moving_deg: (S,) of the hinges that move.
    """
    still = section_places(walker, dict(bends_deg))
    found: dict[str, Swung] = {}
    for section in walker.sections:
        hinge = section.hinge
        if hinge is None or not (section.name in moving_deg or hinge.on in found):
            continue
        angle = np.radians(np.asarray(moving_deg.get(section.name, bends_deg.get(section.name, 0.0))))
        carrier, home = still[hinge.on], still[section.name]
        pivot = carrier.carry(np.array(hinge.at_mm))
        turn = carrier.turn @ turns(AXES[hinge.axis], angle)
        at = pivot + turn @ np.array(hinge.to_mm)
        turn = turn @ home.turn.T
        at = at - turn @ home.at
        if hinge.on in found:
            own = found[hinge.on]
            turn, at = own.turn @ turn, (own.turn @ at[..., None])[..., 0] + own.at
        found[section.name] = Swung(turn, at)
    return found


def mount_place(section: Place, mount: Mount) -> Place:
    """A limb's mount in the body frame."""
    turn = section.turn @ turned(mount.yaw_deg, mount.pitch_deg, mount.roll_deg)
    return Place(section.carry(np.array(mount.at_mm)), turn)
