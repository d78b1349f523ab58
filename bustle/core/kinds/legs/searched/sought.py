"""What is searched for: a chain within its joints' ends, and what of its foot's place counts most."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import Chain
from bustle.core.kinds.legs.family import Build


@dataclass(frozen=True)
class Weighs:
    """up: what a millimetre of height counts for against one of another way. tilt_mm: a radian of tilt, or heading."""

    up: float
    tilt_mm: float


USUAL = Weighs(1.0, 60.0)
# A chain that cannot do all it is asked for stands as high as it is asked to, then as near to its place, then as level:
# of its height a hundred-thousandth of what is missing else is left over.
UP_FIRST, TILT_LAST_MM = 300.0, 0.3
# The sine of what two axes may differ by and be one.
ONE_AXIS = 1e-9
GRID = 800


@dataclass(frozen=True)
class Sought:
    """low, high (J,): the joints' ends, rad or mm. Of the chain the first limb counts; its mount is at 0.

    across (3,): the way in which its foot goes nowhere, as its hinges all turn about it; None where it goes every way.
    lacks: whether it has too few joints even for the rest.
    """

    chain: Chain
    low: Array
    high: Array
    across: Array | None
    weighs: Weighs
    lacks: bool

    @property
    def reach(self) -> float:
        return float(np.linalg.norm(self.chain.offsets[0], axis=-1).sum()) or 1.0

    @cached_property
    def spread(self) -> Array:
        """(G, J): of its joints, all over their ranges."""
        return spread_of(self.low, self.high)

    def beside(self, target: Array) -> Array:
        """(S, 3) mm of targets that are beside the plane in which its foot goes."""
        if self.across is None:
            return np.zeros_like(target)
        away: Array = (target - self.chain.offsets[0].sum(axis=0) @ self.chain.mount_turn[0].T) @ self.across
        return away[:, None] * self.across


def sought(build: Build, asks: int) -> Sought:
    """Of a build of one limb, whose foot is asked for in so many ways: 3 its place, 5 its tilt, 6 its heading too."""
    c = build.chain
    chain = Chain(c.axes, c.offsets, np.zeros((1, 3)), np.eye(3)[None], c.slides, c.coupling)
    low, high = build.low[0], build.high[0]
    across = _across(chain)
    ways, needs = (3, asks) if across is None else (2, 2 if asks == 3 else 3)
    lacks = len(low) < ways
    if len(low) >= needs:
        return Sought(chain, low, high, across, USUAL, lacks)
    # Its heights are those over the body.
    chain = replace(chain, mount_turn=c.mount_turn)
    across = None if across is None else c.mount_turn[0] @ across
    return Sought(chain, low, high, across, Weighs(UP_FIRST if lacks else 1.0, TILT_LAST_MM), lacks)


def _across(chain: Chain) -> Array | None:
    """What all its hinges turn about, and nothing slides along."""
    axes, slides = chain.axes[0], chain.sliding
    if slides.all():
        return None
    axis: Array = axes[~slides][0]
    turns = np.abs(np.cross(axes[~slides], axis)).max() < ONE_AXIS
    return axis if turns and (np.abs(axes[slides] @ axis) < ONE_AXIS).all() else None


def spread_of(low: Array, high: Array) -> Array:
    """(G, J): a grid over the joints' ranges, ends included; the same at every run."""
    joints = len(low)
    per_joint = min(40, max(2, int(GRID ** (1 / max(1, joints)) + 1e-9)))
    middle, half = (low + high) / 2, np.minimum((high - low) / 2, np.pi)
    share = np.stack(np.meshgrid(*[np.linspace(-1, 1, per_joint)] * joints, indexing="ij"), axis=-1)
    return np.asarray(middle + half * share.reshape(-1, joints))
