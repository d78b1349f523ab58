"""Where the servos have to be, how fast they go there, and where a drive cannot follow."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.judge.measures.joint_rates import to_next_row
from bustle.core.walk.reading import Reading


def servo_angles(r: Reading) -> Array:
    """(S + 2E, servos) rad from each servo's centre, in the order of the kit's servos.

    0 for what drives a slide directly: its sheet is told in degrees, and how far it goes the slide's own ends say.
    """
    joints = r.course.solved.joints
    found = [g.to_servos(joints).reshape(len(joints), -1) for g in r.kit.gearings]
    angles = np.concatenate([np.empty((len(joints), 0)), *found], axis=1)
    if r.kit.slides.any():
        angles[:, r.kit.slides[[servo.first for servo in r.kit.servos]]] = 0.0
    return angles


def servo_rates(r: Reading) -> Array:
    """(S, servos) rad/s, row to row."""
    return to_next_row(r, r.of(servo_angles)[: r.samples]) / r.row_s


def drive_strain(r: Reading) -> dict[str, Array]:
    """(S + 2E,) by the first joint of each drive that some instant strains: above 0 where it cannot follow."""
    found = {}
    for gearing in r.kit.gearings:
        strain = gearing.strain(r.course.solved.joints)
        for n in np.flatnonzero(strain.max(axis=0, initial=0.0) > 0):
            found[gearing.drives[n].joints[0]] = strain[:, n]
    return found
