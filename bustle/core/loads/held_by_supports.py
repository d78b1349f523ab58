"""How much of the weight is left for the legs where casters, wheels or skids stand beside them.

Feet that are planned z below the plane of the supports give by z before a support touches: they carry
    N = Σ z/c over the feet that stand, no more than the weight,   c the give of a foot, mm a newton,
so that with no such overlap the supports may carry everything. Legs that carried all of it would give
    s = m·g / Σ 1/c,
and supports that hang higher than that touch nothing.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.extremes import least
from bustle.core.geometry.support_polygon import support
from bustle.core.loads.foot_forces import standing_forces
from bustle.core.loads.foot_gives import foot_gives
from bustle.core.loads.told import not_worked_out
from bustle.core.walk.plumb import over_floor, upright
from bustle.core.walk.reading import Reading

# A centre of mass so near what lies between the supports, mm, rests on them alone.
NEAR_MM = 5.0


@dataclass(frozen=True)
class Overlap:
    """(N,) each. overlap_mm: how far the feet are planned below the lowest support; gives_mm: how far the standing legs
    would give, had they all the weight; driven_n: what the floor presses on the feet that push; alone: whether the
    supports could hold the machine by themselves."""

    overlap_mm: Array
    gives_mm: Array
    driven_n: Array
    alone: Flags

    @property
    def row(self) -> int:
        """Where the feet that push carry least, among the rows at which supports could hold it alone."""
        return least(np.where(self.alone, self.driven_n, np.inf))


def legs_half_mm(r: Reading) -> float:
    """How much higher than on its supports it stands, where those would hold it alone, so that the legs beside them
    carry their half; else 0."""
    beside = r.of(overlap)
    return float(beside.gives_mm.min()) / 2 if beside and beside.alone.all() else 0.0


def overlap(r: Reading) -> Overlap | None:
    """None where nothing stands beside the legs, or no load can be worked out."""
    supports = r.kit.supports
    if not len(supports) or not r.project.walker.legs or not_worked_out(r):
        return None
    n, soft = r.samples, r.of(foot_gives)
    stiff = np.zeros(n)
    driven = np.zeros(n)
    for i, limb in enumerate(r.project.walker.limbs):
        if limb.steps:
            stiff += np.where(r.course.contact[i, :n], 1.0 / soft[i], 0.0)
            driven += r.of(standing_forces).of_limb(i)[:, 2]
    high = r.course.feet_ground_mm[supports, :n]
    weight = r.assembled.total_kg * r.of(upright)[2] - r.project.walker.lifted_n
    resting = support(high[..., :2], np.ones(high.shape[:2], dtype=bool), r.of(over_floor)[:n])
    gives = np.where(stiff > 0, weight / np.where(stiff > 0, stiff, 1.0), np.inf)
    return Overlap(high[..., 2].min(axis=0), gives, driven, resting.margin_mm > -NEAR_MM)
