"""The middles of the soles over the floor, which way they point, and how large they are."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.machine import soles as sole
from bustle.core.machine.limbs_on_soles import end_turn, foot_at
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class SoleAt:
    """middle (N, 2) mm in the ground frame; ahead (N, 2), the way it points; length_mm, width_mm of what is flat."""

    middle: Array
    ahead: Array
    length_mm: float
    width_mm: float

    @property
    def aside(self) -> Array:
        """(N, 2): to its left."""
        found: Array = np.stack([-self.ahead[:, 1], self.ahead[:, 0]], axis=1)
        return found


def beside_mm(r: Reading) -> float:
    """How far beside the middle between two soles a plumb line from the mass meets the floor, over the cycle."""
    one, two = r.of(sole_middles).values()
    off = r.of(over_floor)[: r.samples] - (one.middle + two.middle) / 2
    return float(abs((off * (one.aside + two.aside) / 2).sum(axis=1).mean()))


def flat_soles(r: Reading) -> dict[int, tuple[Array, Array]]:
    """By limb, of legs that stand on a flat sole: its corners (4, N, 3) mm and its turn (N, 3, 3), ground frame."""
    n, course, found = r.samples, r.course, {}
    for i, limb in enumerate(r.project.walker.limbs):
        if not limb.steps or limb.feet[0].sole.kind != "rectangle":
            continue
        foot = foot_at(limb, i, course.body, course.solved)
        turn = end_turn(limb, i, course.body, course.solved, course.headings)
        found[i] = sole.corners(limb.feet[0], foot, turn)[:, :n], turn[:n]
    return found


def sole_middles(r: Reading) -> dict[int, SoleAt]:
    """By limb, of the same."""
    found = {}
    for i, (corners, turn) in r.of(flat_soles).items():
        flat = r.project.walker.limbs[i].feet[0].sole
        assert flat.kind == "rectangle"
        ahead = turn[:, :2, 0] / np.maximum(np.linalg.norm(turn[:, :2, 0], axis=1), 1e-9)[:, None]
        found[i] = SoleAt(corners[..., :2].mean(axis=0), ahead, flat.length_mm, flat.width_mm)
    return found
