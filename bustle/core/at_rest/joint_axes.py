"""Where each joint's axis is at an instant, and what of the limb it carries: what a hand turns the joint by."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.machine.limb_groups import Group
from bustle.core.machine.limb_solution import Solved

# What lies nearer to a joint's axis gives no hold to turn it by, mm.
HOLD_MM = 4.0


def joint_axes(parts: Sequence[Group], solved: Solved, sample: int = 0) -> Array:
    """(J, 3, 3), body frame: of every joint the point its axis goes through (mm), its direction (unit length), and the
    nearest end of a link that it carries off its axis (mm). Where there is none the third is the first.

    A joint that moves several hinges of its chain is told by the first.
    """
    found = np.zeros((sum(g.columns.size for g in parts), 3, 3))
    for group in parts:
        chain = group.build.chain
        for row, member in enumerate(group.members):
            points, frames = solved.points[member][sample], solved.frames[member][sample]
            for joint, column in enumerate(group.columns[row]):
                h = chain.hinge_of_joint(joint)
                mount = solved.mount_turns[member]
                before = frames[h - 1] if h else mount if mount.ndim == 2 else mount[sample]
                axis = before @ chain.axes[min(row, len(chain.axes) - 1), h]
                off = points[h + 1 :] - points[h]
                if not chain.slide(h):
                    off = off - (off @ axis)[:, None] * axis
                far = np.flatnonzero(np.linalg.norm(off, axis=1) > HOLD_MM)
                tip = points[h + 1 + far[0]] if len(far) else points[h]
                found[column] = points[h], axis, tip
    return found
