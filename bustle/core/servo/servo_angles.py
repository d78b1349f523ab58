"""Where the servos have to be."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.loads.by_servo import planned_servos
from bustle.core.loads.held_against_sag import sent_servos
from bustle.core.walk.reading import Reading


def servo_angles(r: Reading) -> Array:
    """(S + 2E, servos) rad from each servo's centre, in the order of the kit's servos, as they are told."""
    angles = r.of(planned_servos)
    if r.project.against_sag == "off":
        return angles
    return np.concatenate([r.of(sent_servos), angles[r.samples :]])
