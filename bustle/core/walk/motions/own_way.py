"""How a steady gait goes over the floor: as asked, or as the feet that stand let it."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.machine.kit import kit_of
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import Project
from bustle.core.walk.course import follow
from bustle.core.walk.implied_travel import laid_by_its_legs
from bustle.core.walk.motions.pace import velocity
from bustle.core.walk.motions.phase_gait import compile_gait


def own_velocity(project: Project, gait: PhaseGait) -> Array:
    """(3,) mm/s, mm/s, rad/s on average while it does not pause."""
    asked = np.array(velocity(gait))
    if gait.travel == "asked":
        return asked
    score = compile_gait(project, gait)
    rows = max(2, round(score.duration_s * 1000 / project.controller.frame_period_ms))
    time = np.arange(rows) * score.duration_s / rows
    kit = kit_of(project)
    course = laid_by_its_legs(kit, score, follow(kit, score, time, np.zeros(rows, dtype=bool)), rows)
    assert course.implied
    found: Array = asked + course.implied.twist.mean(axis=0) * score.duration_s / gait.cycle_s
    return found
