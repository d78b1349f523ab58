"""What a drive has to say: how servo angles follow from joint angles, and back."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array


@dataclass(frozen=True)
class Setting:
    """A number the builder measures on this drive; its unit stands in its name."""

    name: str
    label: str
    unit: str
    default: float
    low: float
    high: float


def never(joints: Array, centres: Array, settings: Array) -> Array:
    """A drive that can hold every joint angle."""
    return np.zeros(joints.shape[:2])


@dataclass(frozen=True)
class DriveKind:
    """A kind of drive, for D drives of the kind at once.

    to_servos(joints (S, D, joints) rad, centres (D, servos) rad, settings (D, K)) → (S, D, servos) rad from each
    servo's centre; to_joints the way back. Angles stand in the settings in degrees, as typed.
    strain(joints, centres, settings) → (S, D), above 0 where the drive cannot hold such angles (a dead point, a slack
    cord): there to_servos gives the nearest it can.
    sits: which part carries the servos' bodies, unless the servo says otherwise: the part before the joint, the link
    that moves, or the frame. turns_slides: it moves a slide by turning; joints and centres are in mm there. Any other
    kind pushes a slide straight, and turns nothing. linear: joints turn by as much for a turn of a servo wherever they
    stand.
    """

    name: str
    label: str
    about: str
    servos: int
    joints: int
    to_servos: Callable[[Array, Array, Array], Array]
    to_joints: Callable[[Array, Array, Array], Array]
    settings: tuple[Setting, ...] = ()
    strain: Callable[[Array, Array, Array], Array] = never
    sits: str = "before"
    turns_slides: bool = False
    linear: bool = False

    @property
    def strains(self) -> bool:
        """Whether there are angles that it cannot hold."""
        return self.strain is not never

    def values(self, settings: dict[str, float]) -> list[float]:
        """The settings in the kind's order, the default where none is given."""
        return [settings.get(s.name, s.default) for s in self.settings]
