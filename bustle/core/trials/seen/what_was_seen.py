"""Something that a log tells, the figure that shows it, and what to do."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from bustle.core.document.checked import CheckedProject
from bustle.core.trials.trial import Logged

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


def index_of(project: CheckedProject, motion: str) -> int | None:
    """Where a motion is among the project's; None where it is gone."""
    return next((n for n, m in enumerate(project.motions) if m.name == motion), None)


def place(trial: Logged) -> str:
    """What it walked on, told alike however it is spelt."""
    return trial.trial.floor.casefold()
