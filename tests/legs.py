"""Random legs of any family, laid out as the walker's limbs are."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from bustle.core.geometry.serial_chain import Chain, forward
from bustle.core.kinds.legs import FAMILIES, Build, Family

# Families with a closed form: a free chain has no lengths of its own to draw.
CLOSED = [f for f in FAMILIES.values() if not f.open and f.joints]

# Those whose foot can be brought to any place within reach, as far as place goes.
PLACING = [f for f in CLOSED if len(f.joints) - 2 * (f.name.startswith("biped_6")) >= 3 and f.name != "biped_planar_3"]


def build(family: Family, lengths, hip=None, mirrored=None, branch=0, keep=0, yaw=None) -> Build:
    """Legs with these lengths (L, K), in front of mounts turned by `yaw` rad about z; limits wide open."""
    lengths = np.asarray(lengths, dtype=float)
    limbs, joints = len(lengths), len(family.joints)
    hip = np.zeros((limbs, 3)) if hip is None else np.asarray(hip, dtype=float)
    mirrored = np.zeros(limbs, dtype=bool) if mirrored is None else np.asarray(mirrored)
    layout = family.layout(lengths, hip, mirrored)
    yaw = np.zeros(limbs) if yaw is None else np.asarray(yaw)
    turn = np.zeros((limbs, 3, 3))
    turn[:, 0, 0] = turn[:, 1, 1] = np.cos(yaw)
    turn[:, 1, 0] = np.sin(yaw)
    turn[:, 0, 1] = -turn[:, 1, 0]
    turn[:, 2, 2] = 1.0
    chain = Chain(layout.axes[None], layout.offsets, np.zeros((limbs, 3)), turn, None, layout.coupling, layout.link_at)
    return Build(
        lengths=lengths,
        hip=hip,
        mirrored=mirrored,
        branch=np.broadcast_to(branch, limbs).astype(np.intp),
        keep=np.broadcast_to(keep, limbs).astype(np.intp),
        low=np.full((limbs, joints), -np.pi),
        high=np.full((limbs, joints), np.pi),
        chain=chain,
    )


def foot(legs: Build, joints):
    """Indices (L, S, 3) and turns (L, S, 3, 3) of the feet, in each mount's frame."""
    c = legs.chain
    level = np.broadcast_to(np.eye(3), (len(legs.lengths), 3, 3))
    points, frames = forward(replace(c, mount_at=np.zeros_like(c.mount_at), mount_turn=level), joints)
    return points[:, :, -1], frames[:, :, -1]
