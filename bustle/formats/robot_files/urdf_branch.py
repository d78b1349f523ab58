"""A limb while it is read from URDF: its joints and what they carry, laid out at zero pose in the root's frame."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.formats.robot_files.urdf_soles import POINT
from bustle.formats.robot_files.urdf_supports import CROSS_MM
from bustle.formats.robot_files.urdf_tree import Body, Hinge, Touch

Values = dict[str, Any]


@dataclass
class Branch:
    """One limb; masses by the hinge they move with; rods: how thick what shows of each link is; foot: its foot's frame
    on its last link, marked: on any; rolls: whether it ends in a ball that turns every way."""

    hinges: list[Hinge] = field(default_factory=list)
    places: list[Array] = field(default_factory=list)
    axes: list[Array] = field(default_factory=list)
    masses: list[tuple[int, Body, Array, Array]] = field(default_factory=list)
    foot: Array | None = None
    sole: Values = field(default_factory=lambda: POINT)
    marked: Array | None = None
    rolls: bool = False
    over_floor_mm: float = 0.0
    touches: list[Touch] = field(default_factory=list)
    rods: dict[int, float] = field(default_factory=dict)
    end: Array = field(default_factory=lambda: np.zeros(3))

    def without_axles(self, count: int) -> Branch:
        """The limb that ends in a ball, without the last hinges, which let the ball turn."""
        left = len(self.hinges) - count
        masses = [(min(n, left - 1), body, at, turn) for n, body, at, turn in self.masses]
        rods = {n: radius for n, radius in self.rods.items() if n < left}
        # A ball with a foot where it touches is that foot: nobody said how large it is.
        low = min(touch.lowest_mm for touch in self.touches)
        tip = self.marked is not None and abs(self.marked[2] - low) < CROSS_MM
        return replace(
            self,
            hinges=self.hinges[:left],
            places=self.places[:left],
            axes=self.axes[:left],
            masses=masses,
            rods=rods,
            foot=self.marked if tip else None,
            touches=[] if tip else self.touches,
            rolls=True,
        )
