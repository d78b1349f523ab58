"""Several things were changed between two trials: which of them did it cannot be told."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from bustle.core.document.checked import CheckedProject
from bustle.core.trials.seen.what_was_seen import Seen, numbers
from bustle.core.trials.trial import Logged
from bustle.core.words.wording import joined


def at_once(log: Sequence[Logged], _project: CheckedProject) -> Iterator[Seen]:
    last = log[-1]
    if last.changes < 2:
        return
    more = last.changes - len(last.changed)
    named = joined([*last.changed[: None if more <= 0 else -1], *([f"{more + 1} more"] if more > 0 else [])])
    yield Seen(
        last.trial.motion, "", "Several things changed at once",
        f"Since the trial before, {last.changes} fields of {last.trial.motion} or the machine are others: {named}.",
        "Change one thing, try again, and the log tells what it did.",
        numbers([last]),
    )  # fmt: skip
