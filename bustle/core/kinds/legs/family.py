"""What a leg family has to say about itself. One file per family implements it; the registry lists them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.serial_chain import Chain
from bustle.core.kinds.legs.working import Step, Triangle

# A foot this near to its target has reached it.
REACHED_MM = 1e-6
REACHED_RAD = 1e-7

# Rows per block: the handful of arrays in flight then stay in the second-level cache.
BLOCK = 8192


@dataclass(frozen=True)
class LinkSpec:
    """A link of the family: its key, its name on screen, and whether it may have no length."""

    name: str
    label: str
    may_be_zero: bool = False


@dataclass(frozen=True)
class JointSpec:
    """A joint of the family and what its positive sense does."""

    name: str
    label: str
    positive: str


@dataclass(frozen=True)
class Keep:
    """Which coordinates a leg with too few joints follows; the others are reported as slip."""

    name: str
    label: str


@dataclass(frozen=True)
class Build:
    """The dimensions of L limbs of one family.

    lengths: (L, K) mm. hip: (L, 3) mm, beyond the family's own, from the first joint to the second in the frame after
    the first, already flipped where mirrored. branch, keep: (L,) indices into the family's lists. low, high: (L, J)
    the joints' end stops, rad or mm. chain: the limbs as designed. nearest: whether a target out of reach wants the
    nearest pose, or only to be known as missed, which is quicker.
    """

    lengths: Array
    hip: Array
    mirrored: Flags
    branch: Indices
    keep: Indices
    low: Array
    high: Array
    chain: Chain
    nearest: bool = True

    @cached_property
    def alike(self) -> tuple[list[int], ...]:
        """Which limbs have the same dimensions: those together."""
        rows: dict[tuple[object, ...], list[int]] = {}
        for row, own in enumerate(
            zip(self.lengths.tolist(), self.hip.tolist(), self.mirrored, self.branch, strict=True)
        ):
            lengths, hip, mirrored, branch = own
            rows.setdefault((*lengths, *hip, bool(mirrored), int(branch)), []).append(row)
        return tuple(rows.values())

    def only(self, rows: Indices | list[int]) -> Build:
        """The same for some of the limbs."""
        c = self.chain
        axes = c.axes if len(c.axes) == 1 else c.axes[rows]
        chain = Chain(axes, c.offsets[rows], c.mount_at[rows], c.mount_turn[rows], c.slides, c.coupling, c.link_at)
        return Build(
            lengths=self.lengths[rows],
            hip=self.hip[rows],
            mirrored=self.mirrored[rows],
            branch=self.branch[rows],
            keep=self.keep[rows],
            low=self.low[rows],
            high=self.high[rows],
            chain=chain,
            nearest=self.nearest,
        )


@dataclass(frozen=True)
class Solution:
    """Inverse kinematics of a batch.

    joints: (L, S, J) rad or mm. residual: (L, S, 6), what is missing at the foot, target less foot: mm in the mount's
    frame, then radians of tilt as a rotation vector in the mount's frame (zero for a family whose foot ignores
    rotation). reached: (L, S). short: (L, S) mm, how much of the miss is in what the leg is meant to meet; the rest,
    for want of joints, is slip. Nothing is NaN.
    """

    joints: Array
    residual: Array
    reached: Flags
    short: Array


@dataclass(frozen=True)
class Layout:
    """The chain of a family's limbs at zero pose: axes (H, 3), offsets (L, H, 3) mm; coupling and links as in
    `Chain`.
    """

    axes: Array
    offsets: Array
    coupling: Array | None = None
    link_at: tuple[int, ...] = ()


@dataclass(frozen=True)
class Family:
    """A kind of leg.

    layout(lengths (L, K), hip (L, 3), mirrored (L,)) → Layout.
    solve(build, points (L, S, 3) mm, turns (L, S, 3, 3) or None) → Solution; targets in the mount's frame. turns are
    needed by families with `pose`: their foot has a tilt and a heading to meet; the others ignore them.
    straight_mm(build, joints (L, S, J)) → (L, S) mm the leg is short of straight; None for a leg without a knee, which
    lies between the links `knee_links`.
    working(build of one limb, target (3,), turn (3, 3), joints (J,)) → the closed form with its numbers, and triangles.
    figure: the zero pose as text, for the screen and the documents. open: joints and links are the builder's own.
    sole_follows: a flat sole is fixed to the last link, rather than lying flat by itself. planar: it moves in one
    plane, fore and aft. carries_aside: a foot beside the end of its last link is a last link of another length and
    angle to it, as all joints after its first turn about y (see `machine.aside_feet`).
    """

    name: str
    label: str
    about: str
    figure: str
    links: tuple[LinkSpec, ...]
    joints: tuple[JointSpec, ...]
    branches: tuple[str, ...]
    layout: Callable[[Array, Array, Flags], Layout]
    solve: Callable[[Build, Array, Array | None], Solution]
    straight_mm: Callable[[Build, Array], Array] | None = None
    knee: int | None = None
    knee_links: tuple[int, int] = (1, 2)
    pose: bool = False
    keeps: tuple[Keep, ...] = ()
    takes_hip_offset: bool = True
    open: bool = False
    sole_follows: bool = True
    planar: bool = False
    carries_aside: bool = False
    working: Callable[[Build, Array, Array, Array], tuple[list[Step], list[Triangle]]] | None = None


def miss(residual: Array) -> Array:
    """(L, S) mm: the whole of the miss in place."""
    size: Array = np.linalg.norm(residual[..., :3], axis=-1)
    return size


def side(lengths: Array, mirrored: Flags) -> Array:
    """Lengths that point left, or right on a mirrored limb."""
    flipped: Array = np.where(mirrored, -lengths, lengths)
    return flipped


def shortfall(thigh: Array, shank: Array, knee: Array) -> Array:
    """How many mm a two-link leg is short of straight: a + b − √(a² + b² + 2ab·cos β) (law of cosines).

    thigh, shank: (L,) mm; knee angle β: (L, S) rad, zero when straight.
    """
    a, b = thigh[:, None], shank[:, None]
    length = np.sqrt(np.maximum(a * a + b * b + 2 * a * b * np.cos(knee), 0.0))
    short: Array = a + b - length
    return short
