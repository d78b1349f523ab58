"""A limb as a serial chain: where every joint and the foot are, for any joint angles.

A chain is axes and offsets. From the mount, joint j turns about its axis, then an offset leads to the next
joint (the last one to the foot). Chains of one family share their axes and differ in their offsets, so a
whole batch of limbs is one call.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Chain:
    """Limbs of one shape.

    axes: (J, 3) unit vectors, in the frame before their joint, at zero pose.
    offsets: (L, J, 3) mm, from joint j to joint j+1 or the foot, in the frame after joint j.
    mount_at: (L, 3) mm and mount_turn: (L, 3, 3), from the section to the first joint.
    """

    axes: Array
    offsets: Array
    mount_at: Array
    mount_turn: Array


def turns(axis: Array, angle: Array) -> Array:
    """Rotation matrices (..., 3, 3) about one unit axis: R = I + sin q·K + (1 − cos q)·K² (axis–angle form)."""
    x, y, z = axis
    k = np.array([[0.0, -z, y], [z, 0.0, -x], [-y, x, 0.0]])
    s, c = np.sin(angle)[..., None, None], np.cos(angle)[..., None, None]
    rotation: Array = np.eye(3) + s * k + (1.0 - c) * (k @ k)
    return rotation


def forward(chain: Chain, joints: Array) -> tuple[Array, Array]:
    """Forward kinematics.

    Args: joints (L, S, J) rad.
    Returns: points (L, S, J+1, 3) mm: the mount and the end of every link, in the section's frame;
    frames (L, S, J, 3, 3): the orientation of every link.
    """
    limbs, samples, count = joints.shape
    points = np.empty((limbs, samples, count + 1, 3))
    frames = np.empty((limbs, samples, count, 3, 3))
    turn = np.broadcast_to(chain.mount_turn[:, None], (limbs, samples, 3, 3))
    points[:, :, 0] = chain.mount_at[:, None]
    for j in range(count):
        turn = turn @ turns(chain.axes[j], joints[..., j])
        frames[:, :, j] = turn
        points[:, :, j + 1] = points[:, :, j] + np.einsum("lsab,lb->lsa", turn, chain.offsets[:, j])
    return points, frames


def to_mount(chain: Chain, points: Array) -> Array:
    """Section-frame points (L, S, 3) seen from each limb's mount."""
    seen: Array = np.einsum("lba,lsb->lsa", chain.mount_turn, points - chain.mount_at[:, None])
    return seen
