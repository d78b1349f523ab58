"""Where the servos have to be."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
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
