"""Drives that tie several joints together: servos side by side on the frame, and one servo on two joints."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.drives.drive import DriveKind, Setting


def _sum(joints: Array, centres: Array, settings: Array) -> Array:
    hip, knee = joints[..., 0], joints[..., 1]
    return np.stack([hip, hip + knee], axis=-1) - centres


def _difference(servos: Array, centres: Array, settings: Array) -> Array:
    hip, both = np.moveaxis(servos + centres, -1, 0)
    return np.stack([hip, both - hip], axis=-1)


PARALLEL_ROD = DriveKind(
    name="parallel_rod",
    label="Parallel rod to the knee",
    about="Both servos on the frame; the second holds hip + knee through a rod beside the thigh.",
    servos=2,
    joints=2,
    to_servos=_sum,
    to_joints=_difference,
    sits="frame",
    linear=True,
)


def _pair(sense: float) -> tuple[Callable[[Array, Array, Array], Array], Callable[[Array, Array, Array], Array]]:
    def to_servos(joints: Array, centres: Array, settings: Array) -> Array:
        ratio = sense * settings[:, 1]
        first = joints[..., 0] - centres[:, 0]
        second = ratio * (joints[..., 1] - np.radians(settings[:, 0]))
        # Of joints that no one servo turn gives both, the nearest: least squares.
        return ((first + second) / (1 + ratio**2))[..., None]

    def to_joints(servos: Array, centres: Array, settings: Array) -> Array:
        turn = servos[..., 0]
        second = sense * settings[:, 1] * turn + np.radians(settings[:, 0])
        return np.stack([turn + centres[:, 0], second], axis=-1)

    return to_servos, to_joints


def _kind(name: str, label: str, about: str, sense: float) -> DriveKind:
    to_servos, to_joints = _pair(sense)
    return DriveKind(
        name=name,
        label=label,
        about=about,
        servos=1,
        joints=2,
        to_servos=to_servos,
        to_joints=to_joints,
        settings=(
            Setting("second_centre_deg", "Second joint at servo centre", "°", 0.0, -360.0, 360.0),
            Setting("ratio", "Second joint turns per turn of the first", "", 1.0, 0.05, 20.0),
        ),
        sits="frame",
        linear=True,
    )


PAIR_EQUAL = _kind("pair_equal", "One servo, two joints alike", "Both turn the same way, the second by a ratio.", 1.0)
PAIR_MIRRORED = _kind(
    "pair_mirrored", "One servo, two joints mirrored", "They turn opposite ways, the second by a ratio.", -1.0
)
