"""A body that leans into a slope: shifted uphill until a plumb line from its mass meets the floor where it would on a
level one."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.planar_twist import bring_back
from bustle.core.judge.ways import Edit, Mending
from bustle.core.project.motion import PhaseGait
from bustle.core.walk.plumb import downhill
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, length

# As good as level.
LEAST_MM = 0.5
# So much of it is tried.
SHARES = (1.0, 0.9, 0.75, 0.6, 0.45, 0.25)


def into_the_slope(m: Mending) -> Iterator[Edit]:
    """All of it, and less where legs do not go so far, or soles bear no more."""
    was = np.array(m.gait.pose.shift_mm)
    for shift in uphill_shifts(m.reading, m.gait):
        size = length(float(np.hypot(*(np.array(shift) - was))))
        yield Edit(
            f"Lean {size} into the slope of {degrees(m.project.floor.slope_deg)}",
            (replace(f"{m.path}/pose/shift_mm", shift),),
        )


def uphill_shifts(r: Reading, gait: PhaseGait) -> Iterator[list[float]]:
    """Where its body would be shifted to, mm, the furthest uphill first; none on what is as good as level."""
    whole = uphill_mm(r)
    for share in SHARES:
        if share * float(np.hypot(*whole)) < LEAST_MM:
            return
        yield [round(float(was + share * by), 1) for was, by in zip(gait.pose.shift_mm, whole, strict=True)]


def uphill_mm(r: Reading) -> Array:
    """(2,): the whole of it, as the machine faces when its motion begins; 0 on a level floor. Legs that stand follow
    the body by half."""
    limbs = r.project.walker.limbs
    follows = sum(e.mass_kg * (0.5 if e.limb >= 0 and limbs[e.limb].steps else 1.0) for e in r.assembled.masses)
    high = float(r.course.com_ground_mm[: r.samples, 2].mean()) * r.assembled.total_kg / max(follows, 1e-9)
    heading = float(r.course.body.travel[2][0])
    found: Array = -high * np.array(bring_back((np.zeros(()), np.zeros(()), np.array(heading)), *r.of(downhill)))
    if r.project.walker.held != "free":
        # What holds it sideways takes that part.
        found[1] = 0.0
    return found
