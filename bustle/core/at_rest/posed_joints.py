"""Joints of a pose that is given by them."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.machine.joints_and_servos import gearings
from bustle.core.machine.limb_groups import limits_of
from bustle.core.project.walker import JointAngle, Walker


def centred_joints(walker: Walker) -> Array:
    """(J,) rad or mm: where each joint is with every servo at its centre, whatever drives it; 0 where nothing does."""
    joints = np.zeros(sum(len(limb.joints) for limb in walker.limbs))
    for gearing in gearings(walker):
        joints[gearing.columns] = gearing.to_joints(np.zeros((1, *gearing.centres.shape)))[0]
    return joints


def posed_joints(walker: Walker, angles: tuple[JointAngle, ...]) -> Array:
    """(J,) rad or mm: as set, else at the servo's centre, else 0; within the stops where it is not set."""
    asked = {(a.limb, a.joint): a.value for a in angles}
    centred, values = iter(centred_joints(walker)), []
    for limb in walker.limbs:
        for joint, low, high in zip(limb.joints, *limits_of(limb), strict=True):
            value, centre = asked.get((limb.name, joint.name)), float(next(centred))
            scale = 1.0 if joint.kind == "slide" else float(np.radians(1.0))
            values.append(min(max(centre, low), high) if value is None else value * scale)
    return np.array(values)
