"""What a drive has to say: how servo angles follow from joint angles."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class DriveKind:
    """to_servos(joints (S, D, joints) rad, centres (D, servos) rad) → (S, D, servos) rad from the servo's centre,
    for D drives of the kind at once."""

    name: str
    label: str
    servos: int
    joints: int
    to_servos: Callable[[Array, Array], Array]
