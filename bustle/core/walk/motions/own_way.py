"""How a gait goes over the floor: as asked, or as the feet that stand let it."""

from __future__ import annotations

from math import degrees, hypot

import numpy as np
from scipy.optimize import brentq

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.planar_twist import bring_back
from bustle.core.machine.kit import kit_of
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import Project
from bustle.core.walk.course import Course, follow
from bustle.core.walk.implied_travel import laid_by_its_legs
from bustle.core.walk.motions.from_rest_to_rest import walked
from bustle.core.walk.motions.pace import velocity
from bustle.core.walk.motions.phase_gait import compile_gait, duration_s
from bustle.core.walk.score import Scored
from bustle.core.words.problems import refuse

# Of one gait, however far it is to go.
MOST_CYCLES = 10_000
# From so many cycles on, setting out and stopping add the same to every way.
SETTLED = 2.0
# The fewest it sets out for.
LEAST = 0.1


def cycles_of(project: Project, gait: PhaseGait, amount: float, by: str, ends: int = 2) -> float:
    """How many cycles of the gait so many seconds, mm (distance_mm) or degrees (turn_deg) are.

    Where its legs lead, feet that slide take it further than their steps as it sets out and stops, each by about as
    much: ends, how many of these two there are. No walk goes less far than they take it. Raises InputRefused where its
    legs hardly bring it on.
    """
    if by == "cycles":
        return amount
    if by == "seconds":
        return amount / duration_s(gait)
    steady, unit = _measured(own_velocity(project, gait) * gait.cycle_s, by)
    if amount > steady * MOST_CYCLES:
        raise refuse("motions", f"{gait.name} goes {steady:.3g} {unit} a cycle by its legs; {amount:g} {unit} of it "
                     f"are more than {MOST_CYCLES} cycles")  # fmt: skip
    if gait.travel == "asked":
        return amount / steady

    def gone(cycles: float) -> float:
        return _measured(_gone(_laid(project, walked(project, [(gait, cycles)]))), by)[0]

    settled = gone(SETTLED)
    if ends == 2 and amount < settled:
        least = gone(LEAST)
        if amount <= least:
            return LEAST
        found: float = brentq(lambda cycles: gone(cycles) - amount, LEAST, SETTLED, xtol=1e-3)
        return found
    over = (settled - SETTLED * steady) * ends / 2
    return max(0.0, amount - over) / steady


def _measured(way: Array, by: str) -> tuple[float, str]:
    """The length of a way (mm, mm, rad), or its angle, and its unit."""
    return (hypot(way[0], way[1]), "mm") if by == "distance_mm" else (degrees(abs(way[2])), "°")


def own_velocity(project: Project, gait: PhaseGait) -> Array:
    """(3,) mm/s, mm/s, rad/s on average while it does not pause."""
    asked = np.array(velocity(gait))
    if gait.travel == "asked":
        return asked
    score = compile_gait(project, gait)
    course = _laid(project, score)
    assert course.implied
    found: Array = asked + course.implied.twist.mean(axis=0) * score.duration_s / gait.cycle_s
    return found


def _laid(project: Project, score: Scored) -> Course:
    """The course at the rows of the table, as its legs walk."""
    rows = max(2, round(score.duration_s * 1000 / project.controller.frame_period_ms))
    time = np.arange(rows) * score.duration_s / rows
    kit = kit_of(project)
    return laid_by_its_legs(kit, score, follow(kit, score, time, np.zeros(rows, dtype=bool)), rows, project.floor)


def _gone(course: Course) -> Array:
    """(3,) mm, mm, rad: the way over the floor in all, each part of it as seen from the body then."""
    x, y, theta = course.body.travel
    ahead, aside = bring_back((x[:-1], y[:-1], theta[:-1]), x[1:], y[1:])
    return np.array([ahead.sum(), aside.sum(), theta[-1] - theta[0]])
