"""Where the servos have to be."""

from __future__ import annotations

from bustle.core.geometry.arrays import Array
from bustle.core.walk.reading import Reading


def servo_angles(r: Reading) -> Array:
    """(S + 2E, servos) rad from each servo's centre, in the order of the kit's servos."""
    return r.kit.servo_angles(r.course.solved.joints)
