"""The clearance budget of a swing: lift − sag − backlash droop − unevenness = what is left where the foot should be
clear.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from bustle.core.judge.measures.footing import sag_mm

if TYPE_CHECKING:
    from bustle.core.walk.reading import Evidence


@dataclass(frozen=True)
class Budget:
    """Of the leg with the least left. height_mm: the foot's path at its highest; at_mm: where the obstacle lies."""

    limb: int
    sample: int
    height_mm: float
    sag_mm: float
    droop_mm: float
    uneven_mm: float
    over_obstacle_mm: float | None
    over_obstacle_sample: int
    assumed: bool

    @property
    def left_mm(self) -> float:
        return self.height_mm - self.sag_mm - self.droop_mm - self.uneven_mm


def budgets(e: Evidence) -> list[Budget]:
    """One per leg that steps, as the design's feet go; the least left first. None where the motion is no gait."""
    floor = e.project.floor
    droops = {p.limb: p.up_mm for p in e.foot_plays}
    assumed = any(f.assumed for f in e.footings)
    found = []
    for i, limb in enumerate(e.project.walker.limbs):
        leg = e.timing.get(limb.name)
        if leg is None or leg.duty == 1:
            continue
        height = e.course.target_ground_mm[i, : e.samples, 2]
        top = int(height.argmax())
        over, at = None, top
        if floor.obstacle_mm is not None:
            over, at = _over(e, i, floor.obstacle_at)
        sag = sag_mm(e, top)
        found.append(
            Budget(i, top, float(height[top]), sag, droops.get(i, 0.0), floor.unevenness_mm or 0.0, over, at, assumed)
        )
    return sorted(found, key=lambda b: b.left_mm)


def _over(e: Evidence, limb: int, share: float) -> tuple[float, int]:
    """The height of the path over a share of its way across, and the sample nearest to it: over a swing, row by row.

    A march in place has no way across; there it is the share of the time.
    """
    leg = e.timing[e.project.walker.limbs[limb].name]
    assert e.gait
    rows = np.arange(e.samples)
    phase = (rows / e.samples - leg.phase) % 1.0
    air = np.flatnonzero(~e.course.contact[limb, : e.samples])
    air = air[np.argsort(phase[air])]
    if not len(air):
        return 0.0, 0
    at, height = e.course.target_ground_mm[limb, air, :2], e.course.target_ground_mm[limb, air, 2]
    # A swing that runs over the end of the cycle is continued where the next one is.
    jump = np.flatnonzero(np.diff(air) < 0)
    if len(jump):
        x, y, _ = e.score.body(np.array([0.0, e.score.duration_s])).travel
        at = at.copy()
        at[jump[0] + 1 :] += [x[1] - x[0], y[1] - y[0]]
    way = at[-1] - at[0]
    size = float(way @ way)
    along = (at - at[0]) @ way / size if size > 1e-6 else np.linspace(0.0, 1.0, len(air))
    near = int(np.argmin(np.abs(along - share)))
    order = np.argsort(along)
    return float(np.interp(share, along[order], height[order])), int(air[near])
