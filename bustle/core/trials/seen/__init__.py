"""What a log of trials tells: one file per judgement, each read off the trials of one motion, the oldest first."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence

from bustle.core.document.checked import CheckedProject
from bustle.core.trials.seen import at_once, drifted, fades, feet_dragged, fell, fell_short, soft_only
from bustle.core.trials.seen.what_was_seen import Seen
from bustle.core.trials.trial import Logged

Judge = Callable[[Sequence[Logged], CheckedProject], Iterator[Seen]]

JUDGES: tuple[Judge, ...] = (
    fell.fell, soft_only.soft_only, fades.fades, fell_short.fell_short, drifted.drifted, feet_dragged.feet_dragged,
    at_once.at_once,
)  # fmt: skip


def seen(log: Sequence[Logged], project: CheckedProject) -> list[Seen]:
    """What all trials tell, by motion in the project's order, then of motions that are gone. project: as it is now."""
    motions = dict.fromkeys([*(m.name for m in project.motions), *(each.trial.motion for each in log)])
    found: list[Seen] = []
    for motion in motions:
        own = sorted((each for each in log if each.trial.motion == motion), key=lambda each: each.number)
        for judge in JUDGES if own else ():
            found += judge(own, project)
    return found
