"""From a project and the name of a motion to its reading: score, course, and the instants looked at."""

from __future__ import annotations

import numpy as np

from bustle.core.at_rest.turned_over import turned_over
from bustle.core.machine.kit import kit_of
from bustle.core.project.project import Project
from bustle.core.walk.course import follow
from bustle.core.walk.implied_travel import laid_by_its_legs
from bustle.core.walk.motions import compile_motion
from bustle.core.walk.motions.made_of import upside_down
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import refuse

MAX_SAMPLES = 20_000


def row_count(cycle_s: float, frame_period_s: float) -> int:
    """Rows of the table: the whole number nearest to T/period, two at least."""
    return max(2, round(cycle_s / frame_period_s))


def read(project: Project, motion: str, samples: int | None = None) -> Reading:
    """One motion of a project, at its table's rows or at so many samples, and on both sides of each event.

    Raises InputRefused naming the motions there are, for one that takes no time, or for a sample count outside 2 …
    20 000.
    """
    asked = project.motion(motion)
    walked = turned_over(project) if upside_down(project, asked) else project
    score = compile_motion(walked, asked)
    if score.duration_s <= 0:
        raise refuse("motion", f"{motion} takes no time")
    rows = row_count(score.duration_s, walked.controller.frame_period_ms / 1000)
    count = samples or (rows if score.periodic else rows + 1)
    if not 2 <= count <= MAX_SAMPLES:
        if samples is None:
            raise refuse("motion", f"{motion} is too long to play: {count} rows, and a table has at most {MAX_SAMPLES}")
        raise refuse("samples", f"must be from 2 to {MAX_SAMPLES}, got {count}")
    events = score.events()
    if not score.periodic:
        # Nothing is before the beginning.
        events = events[events > score.tolerance_s]
    time = np.arange(count) * score.duration_s / (count if score.periodic else count - 1)
    time = np.concatenate([time, events, events])
    before = np.zeros(len(time), dtype=bool)
    before[count : count + len(events)] = True
    kit = kit_of(walked)
    course = follow(kit, score, time, before)
    course = laid_by_its_legs(kit, score, course, count, walked.floor)
    return Reading(walked, asked, score, kit, course, count, before)
