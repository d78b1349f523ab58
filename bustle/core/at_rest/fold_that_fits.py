"""A folded pose that fits its box."""

from __future__ import annotations

from itertools import product

import numpy as np

from bustle.core.at_rest.outer_size import extents_mm
from bustle.core.at_rest.posed_joints import posed_joints
from bustle.core.machine.limb_groups import joint_slices, limits_of
from bustle.core.project.walker import FoldedPose, JointAngle, Walker

# Values tried of each joint when looking for a pose that fits.
TRIES = 9
MOST_TRIED = 60_000


def better_fold(walker: Walker, pose: FoldedPose) -> tuple[JointAngle, ...] | None:
    """The pose that fits the box with the least change of any joint, the same for legs of one family; None if none
    does.

    Joints of the same family and name are turned alike, mirrored where the leg is, over their travel in even steps.
    """
    here = posed_joints(walker, pose.joints)
    kinds = list(dict.fromkeys((limb.family, j.name) for limb in walker.limbs for j in limb.joints))
    tries = TRIES
    while tries > 3 and tries ** len(kinds) > MOST_TRIED:
        tries -= 1
    if tries ** len(kinds) > MOST_TRIED:
        return None
    shares = np.array(list(product(np.linspace(0.0, 1.0, tries), repeat=len(kinds))))
    joints = np.empty((len(shares), len(here)))
    for limb, columns in zip(walker.limbs, joint_slices(walker), strict=True):
        for n, (joint, low, high) in enumerate(zip(limb.joints, *limits_of(limb), strict=True)):
            share = shares[:, kinds.index((limb.family, joint.name))]
            # A yaw or roll of the other side goes the other way.
            mirrored = limb.mount.at_mm[1] < 0 and joint.name in ("yaw", "roll")
            joints[:, columns.start + n] = high - share * (high - low) if mirrored else low + share * (high - low)
    fits = (extents_mm(walker, joints) <= np.array(pose.box_mm)).all(axis=1)
    if not fits.any():
        return None
    change = np.abs(joints - here).max(axis=1)
    best = joints[np.flatnonzero(fits)[np.argmin(change[fits])]]
    angles = []
    for limb, columns in zip(walker.limbs, joint_slices(walker), strict=True):
        for n, joint in enumerate(limb.joints):
            value = float(best[columns.start + n])
            shown = round(value if joint.kind == "slide" else float(np.degrees(value)), 1)
            angles.append(JointAngle(limb=limb.name, joint=joint.name, value=shown))
    return tuple(angles)
