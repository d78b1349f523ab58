"""A limb while it is read from URDF: its joints and what they carry, laid out at zero pose in the root's frame."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.formats.robot_files.urdf_soles import POINT
from bustle.formats.robot_files.urdf_tree import Body, Hinge, Touch

Values = dict[str, Any]


@dataclass
class Branch:
    """One limb; masses by the hinge they move with; rods: how thick what shows of each link is."""

    hinges: list[Hinge] = field(default_factory=list)
    places: list[Array] = field(default_factory=list)
    axes: list[Array] = field(default_factory=list)
    masses: list[tuple[int, Body, Array, Array]] = field(default_factory=list)
    foot: Array | None = None
    sole: Values = field(default_factory=lambda: POINT)
    over_floor_mm: float = 0.0
    touches: list[Touch] = field(default_factory=list)
    rods: dict[int, float] = field(default_factory=dict)
    end: Array = field(default_factory=lambda: np.zeros(3))
