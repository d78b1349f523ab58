"""The folded pose: how large the walker is in it, against the box it has to fit."""

from __future__ import annotations

from itertools import product

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward
from bustle.core.machine.limb_groups import Group, groups, joint_slices, limits_of
from bustle.core.machine.sections import section_places
from bustle.core.project.walker import FoldedPose, JointAngle, Walker

# Values tried of each joint when looking for a pose that fits.
TRIES = 9
MOST_TRIED = 60_000


def folded_joints(walker: Walker, pose: FoldedPose) -> Array:
    return posed_joints(walker, pose.joints)


def posed_joints(walker: Walker, angles: tuple[JointAngle, ...]) -> Array:
    """(J,) rad or mm: as set, else at the servo's centre, else 0; within the stops where it is not set."""
    centre = {d.joints[0]: d.servos[0].centre_deg for d in walker.drives if len(d.joints) == 1}
    asked = {(a.limb, a.joint): a.value for a in angles}
    values = []
    for limb in walker.limbs:
        for joint, low, high in zip(limb.joints, *limits_of(limb), strict=True):
            value = asked.get((limb.name, joint.name))
            scale = 1.0 if joint.kind == "slide" else float(np.radians(1.0))
            if value is None:
                values.append(min(max(centre.get(f"{limb.name}/{joint.name}", 0.0) * scale, low), high))
            else:
                values.append(value * scale)
    return np.array(values)


def extents_mm(walker: Walker, joints: Array, parts: list[Group] | None = None) -> Array:
    """Length, width and height (S, 3) of the walker with joints (S, J), links' thickness and frame included.

    parts: the walker's limbs on a straight frame, for whoever has them.
    """
    low, high = np.full((len(joints), 3), np.inf), np.full((len(joints), 3), -np.inf)
    places = section_places(walker, {})
    for section in walker.sections:
        half = np.array(section.size_mm) / 2
        corners = places[section.name].carry(half * np.array(list(product((-1, 1), repeat=3))))
        low, high = np.minimum(low, corners.min(axis=0)), np.maximum(high, corners.max(axis=0))
    for group in parts or groups(walker, {}):
        points, _ = forward(group.build.chain, np.moveaxis(joints[:, group.columns], 1, 0))
        thick = np.array([max((k.radius_mm for k in walker.limbs[m].links), default=0.0) for m in group.members])
        edge = thick[:, None, None]
        low = np.minimum(low, (points.min(axis=2) - edge).min(axis=0))
        high = np.maximum(high, (points.max(axis=2) + edge).max(axis=0))
    return high - low


def better_fold(walker: Walker, pose: FoldedPose) -> tuple[JointAngle, ...] | None:
    """The pose that fits the box with the least change of any joint, the same for legs of one family; None if none
    does.

    Joints of the same family and name are turned alike, mirrored where the leg is, over their travel in even steps.
    """
    here = folded_joints(walker, pose)
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
