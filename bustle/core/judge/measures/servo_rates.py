"""How fast the servos have to go, and where a drive cannot follow."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.judge.measures.joint_rates import to_next_row
from bustle.core.loads.held_against_sag import commanded
from bustle.core.servo.servo_angles import servo_angles
from bustle.core.walk.reading import Reading


def servo_rates(r: Reading) -> Array:
    """(S, servos) rad/s, row to row."""
    return to_next_row(r, r.of(servo_angles)[: r.samples]) / r.row_s


def drive_strain(r: Reading) -> dict[str, Array]:
    """(S + 2E,) by the first joint of each drive that some instant strains: above 0 where it cannot follow."""
    found = {}
    for gearing in (gearing for gearing in r.kit.gearings if gearing.strains):
        strain = gearing.strain(r.of(commanded))
        for n in np.flatnonzero(strain.max(axis=0, initial=0.0) > 0):
            found[gearing.drives[n].joints[0]] = strain[:, n]
    return found
