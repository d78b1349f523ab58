"""The clearance under the frame: the lowest point of its sections, and of limbs that do not stand or take no part, over
the cycle."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.extremes import least
from bustle.core.machine.tracks import to_ground
from bustle.core.walk.reading import Reading


def belly(r: Reading) -> tuple[float, int, str]:
    """(height above the floor in mm, the sample at which it is lowest, what it is of)."""
    walker, course, samples = r.project.walker, r.course, r.samples
    lowest, when, what = np.inf, 0, walker.sections[0].name
    for section, rim in r.assembled.rims.items():
        points = to_ground(course.body, course.solved.carried(section, rim))
        height = points[:, :samples, 2].min(axis=0)
        if height.min() < lowest:
            lowest, when, what = float(height.min()), least(height), section
    held = r.gait.held_legs if r.gait else ()
    for i, limb in enumerate(walker.limbs):
        if limb.feet and limb.name not in held:
            continue
        points = to_ground(course.body, np.moveaxis(course.solved.points[i], 1, 0))
        radius = max((k.radius_mm for k in limb.links), default=0.0)
        height = points[:, :samples, 2].min(axis=0) - radius
        if height.min() < lowest:
            lowest, when, what = float(height.min()), least(height), limb.name
    return lowest, when, what
