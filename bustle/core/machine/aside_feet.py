"""A foot beside the end of its last link, as inverse kinematics sees it: a last link of another length and angle.

Where every joint after the first turns about y, the foot at t of a link ℓ·ê is the end of a link ℓ′ = |w| that is
turned on by δ about the joint, w being ℓ·ê + t without its part along y; that part moves the leg's plane aside:

    δ = ∠(ê, w) about the joint's axis,   q′ = q + δ,   aside′ = aside + t_y

so that height, and whatever else the leg follows, is met by what stands on the floor. A free chain has its own last
offset, to which t is added. Source: plane trigonometry.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import Chain
from bustle.core.kinds.legs import FAMILIES, Build
from bustle.core.project.walker import Limb


@dataclass(frozen=True)
class Aside:
    """build: the limbs as they would be with their feet at the ends of their links. ahead_rad: (L,) what their last
    joint then turns further than it really does. chain: the true limbs, ending in their feet."""

    build: Build
    ahead_rad: Array
    chain: Chain

    def real(self, joints: Array) -> Array:
        """The true joints (L, S, J) of those found for `build`."""
        found = joints.copy()
        last = found[..., -1] - self.ahead_rad[:, None]
        found[..., -1] = np.where(self.ahead_rad[:, None] == 0.0, last, last - 2 * np.pi * np.round(last / (2 * np.pi)))
        return found


def aside_of(limbs: Sequence[Limb], build: Build) -> Aside | None:
    """For limbs of one shape and their build; None where every foot is at the end of its link, or has a turn of its
    own to meet."""
    family = FAMILIES[limbs[0].family]
    feet = np.array([limb.feet[0].at_mm if limb.feet else (0.0, 0.0, 0.0) for limb in limbs])
    if not feet.any() or not family.carries_aside:
        return None
    ahead = np.zeros(len(limbs))
    offsets = build.chain.offsets.copy()
    offsets[:, -1] += feet
    true = replace(build.chain, offsets=offsets)
    if family.open:
        return Aside(replace(build, chain=true), ahead, true)
    last = build.chain.offsets[:, -1]
    whole = (last + feet) * (1.0, 0.0, 1.0)
    lengths, hip = build.lengths.copy(), build.hip.copy()
    lengths[:, -1] = np.linalg.norm(whole, axis=-1)
    hip[:, 1] += feet[:, 1]
    # About −y: from x towards z.
    ahead = np.arctan2(
        last[:, 0] * whole[:, 2] - last[:, 2] * whole[:, 0], last[:, 0] * whole[:, 0] + last[:, 2] * whole[:, 2]
    )
    layout = family.layout(lengths, hip, build.mirrored)
    chain = Chain(
        layout.axes[None], layout.offsets, build.chain.mount_at, build.chain.mount_turn, None, layout.coupling,
        layout.link_at,
    )  # fmt: skip
    low, high = build.low.copy(), build.high.copy()
    low[:, -1] += ahead
    high[:, -1] += ahead
    return Aside(replace(build, lengths=lengths, hip=hip, chain=chain, low=low, high=high), ahead, true)
