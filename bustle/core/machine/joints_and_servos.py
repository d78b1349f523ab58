"""The walker's joints and servos by name, and its drives as arrays."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Indices
from bustle.core.kinds.drives import DRIVES
from bustle.core.machine.limb_groups import limits_of
from bustle.core.project.parts import ServoType
from bustle.core.project.walker import Drive, Limb, Walker


@dataclass(frozen=True)
class JointName:
    """One joint: its ends in rad, or mm where it slides. called: by robot files, its path where they have no other
    name for it; sign: 1, or −1 where files count it the other way."""

    limb: Limb
    name: str
    low: float
    high: float
    slides: bool
    free: bool
    called: str = ""
    sign: float = 1.0

    @property
    def unit(self) -> str:
        return "mm" if self.slides else "°"

    @property
    def scale(self) -> float:
        """Core units → the unit on screen."""
        return 1.0 if self.slides else float(np.degrees(1.0))

    @property
    def path(self) -> str:
        return f"{self.limb.name}/{self.name}"

    @property
    def column(self) -> str:
        """What tables call it."""
        return self.called if self.called != self.path else f"{self.limb.name}.{self.name}"

    def __str__(self) -> str:
        return f"{self.limb.name} {self.name}"


@dataclass(frozen=True)
class Gearing:
    """Drives of one kind as arrays: columns (D, joints), centres (D, servos) rad, settings (D, K)."""

    kind: str
    drives: tuple[Drive, ...]
    columns: Indices
    centres: Array
    settings: Array

    def to_servos(self, joints: Array) -> Array:
        """Joints (S, J) of the whole walker → (S, D, servos) rad from each servo's centre."""
        return DRIVES[self.kind].to_servos(joints[:, self.columns], self.centres, self.settings)

    def stepped(self, joints: Array, step: float) -> Array:
        """(1, D, servos): where the servos are with the first joint of every drive a step on from joints (J,)."""
        moved = joints[None, self.columns]
        moved[..., 0] += step
        return DRIVES[self.kind].to_servos(moved, self.centres, self.settings)

    @property
    def turns_slides(self) -> bool:
        return DRIVES[self.kind].turns_slides

    @property
    def linear(self) -> bool:
        return DRIVES[self.kind].linear

    def to_joints(self, servos: Array) -> Array:
        """(S, D, servos) rad from each servo's centre → (S, D, joints)."""
        return DRIVES[self.kind].to_joints(servos, self.centres, self.settings)

    @property
    def strains(self) -> bool:
        return DRIVES[self.kind].strains

    def strain(self, joints: Array) -> Array:
        """Joints (S, J) of the whole walker → (S, D), above 0 where the drive cannot hold them."""
        return DRIVES[self.kind].strain(joints[:, self.columns], self.centres, self.settings)


@dataclass(frozen=True)
class ServoName:
    """One servo: its sheet, the joints (columns) of its drive, and the one of them it is named for. turns_slides: as
    its kind of drive."""

    name: str
    sheet: ServoType
    columns: tuple[int, ...]
    first: int
    turns_slides: bool = False


def joint_names(walker: Walker) -> tuple[JointName, ...]:
    """In the order of the flat joint array."""
    return tuple(
        JointName(limb, j.name, low, high, j.kind == "slide", j.free, *limb.called_in_files(j))
        for limb in walker.limbs
        for j, low, high in zip(limb.joints, *limits_of(limb), strict=True)
    )


def column_of(walker: Walker) -> dict[str, int]:
    """Joint path → its column in the flat joint array."""
    paths = (f"{limb.name}/{joint.name}" for limb in walker.limbs for joint in limb.joints)
    return {path: n for n, path in enumerate(paths)}


def gearings(walker: Walker) -> tuple[Gearing, ...]:
    """The drives, those of a kind together, in the order in which kinds first appear."""
    columns = column_of(walker)
    by_kind: dict[str, list[Drive]] = {}
    for drive in walker.drives:
        by_kind.setdefault(drive.kind, []).append(drive)
    return tuple(
        Gearing(
            kind,
            tuple(drives),
            np.array([[columns[j] for j in drive.joints] for drive in drives], dtype=np.intp),
            np.radians([[servo.centre_deg for servo in drive.servos] for drive in drives]),
            np.array([DRIVES[kind].values(drive.settings) for drive in drives]).reshape(len(drives), -1),
        )
        for kind, drives in by_kind.items()
    )


def servo_names(geared: Sequence[Gearing], servo_types: Sequence[ServoType]) -> tuple[ServoName, ...]:
    """In the order in which `Gearing.to_servos` gives them, kind by kind."""
    sheets = {s.name: s for s in servo_types}
    return tuple(
        ServoName(
            servo.name,
            sheets[servo.type],
            tuple(columns),
            columns[min(k, len(columns) - 1)],
            DRIVES[gearing.kind].turns_slides,
        )
        for gearing in geared
        for drive, columns in zip(gearing.drives, gearing.columns.tolist(), strict=True)
        for k, servo in enumerate(drive.servos)
    )


def servos_turned(geared: Sequence[Gearing], joints: Array, step_rad: float) -> Array:
    """Joints (J,) → (servos, J): what they are with one servo after another turned on by so much, in the order of
    `servo_names`. A servo on several joints moves them all."""
    found = []
    for gearing in geared:
        angles = gearing.to_servos(joints[None])
        count = angles[0].size
        turned = np.tile(angles, (count, 1, 1))
        turned.reshape(count, -1)[np.arange(count), np.arange(count)] += step_rad
        rows = np.tile(joints, (count, 1))
        rows[:, gearing.columns.ravel()] = gearing.to_joints(turned).reshape(count, -1)
        found.append(rows)
    return np.concatenate([np.empty((0, len(joints))), *found])
