"""What a leg family has to say about itself. One file per family implements it; the registry lists them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

# A foot this near to its target has reached it.
REACHED_MM = 1e-6

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
class Solution:
    """Inverse kinematics of a batch.

    joints: (L, S, J) rad. residual: (L, S, 6), what is missing at the foot: mm in the mount's frame, then
    radians of tilt (zero for a point foot). reached: (L, S). Nothing is NaN.
    """

    joints: Array
    residual: Array
    reached: NDArray[np.bool_]


@dataclass(frozen=True)
class Family:
    """A kind of leg.

    solve(lengths (L, K) mm, mirrored (L,), branch (L,) index, targets (L, S, 3) mm in the mount's frame) → Solution
    offsets(lengths (L, K), mirrored (L,)) → (L, J, 3) mm, the chain at zero pose
    straight_mm(lengths (L, K), joints (L, S, J)) → (L, S) mm the leg is short of straight
    """

    name: str
    label: str
    about: str
    links: tuple[LinkSpec, ...]
    joints: tuple[JointSpec, ...]
    branches: tuple[str, ...]
    axes: Array
    offsets: Callable[[Array, NDArray[np.bool_]], Array]
    solve: Callable[[Array, NDArray[np.bool_], NDArray[np.intp], Array], Solution]
    straight_mm: Callable[[Array, Array], Array]
    knee: int


def shortfall(thigh: Array, shank: Array, knee: Array) -> Array:
    """How many mm a two-link leg is short of straight: a + b − √(a² + b² + 2ab·cos β) (law of cosines).

    thigh, shank: (L,) mm; knee angle β: (L, S) rad, zero when straight.
    """
    a, b = thigh[:, None], shank[:, None]
    length = np.sqrt(np.maximum(a * a + b * b + 2 * a * b * np.cos(knee), 0.0))
    short: Array = a + b - length
    return short
