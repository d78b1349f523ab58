"""Something that a log tells, the figure that shows it, and what to do."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.patches import patched, replace
from bustle.core.project.motion import PhaseGait
from bustle.core.trials.trial import Logged
from bustle.core.words.problems import InputRefused

# The last so many trials are what it does now.
LATELY = 3


@dataclass(frozen=True)
class Seen:
    """code: of the catalogue, "" of none. do: what helps, in words. change: what a change is called that helps, and
    project: the draft with it; None where none does by itself. trials: their numbers."""

    motion: str
    code: str
    title: str
    message: str
    do: str
    trials: tuple[int, ...]
    change: str = ""
    project: CheckedProject | None = None


def numbers(trials: Sequence[Logged]) -> tuple[int, ...]:
    return tuple(each.number for each in trials)


def gait_now(project: CheckedProject, motion: str) -> PhaseGait | None:
    """The motion as it is now; None where it is gone, or no gait."""
    return next((m for m in project.motions if m.name == motion and isinstance(m, PhaseGait)), None)


def otherwise(project: CheckedProject, gait: PhaseGait, field: str, value: float) -> CheckedProject | None:
    """The project with one number of a gait of its another; None where it does not take that."""
    try:
        return patched(project, [replace(f"/motions/{project.motions.index(gait)}/{field}", value)])
    except InputRefused:
        return None


def place(trial: Logged) -> str:
    """What it walked on, told alike however it is spelt."""
    return trial.trial.floor.casefold()
