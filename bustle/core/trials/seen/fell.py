"""It has fallen lately."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from bustle.core.document.checked import CheckedProject
from bustle.core.trials.seen.what_was_seen import LATELY, Seen, numbers
from bustle.core.trials.trial import Logged


def fell(log: Sequence[Logged], _project: CheckedProject) -> Iterator[Seen]:
    own = [each for each in log[-LATELY:] if each.trial.falls]
    if not own:
        return
    motion, count = log[-1].trial.motion, sum(each.trial.falls for each in own)
    times = "once" if count == 1 else f"{count} times"
    last = f"the last {min(LATELY, len(log))} trials" if len(log) > 1 else "its trial"
    yield Seen(
        motion, "", "It falls", f"{motion} was caught or fell {times} in {last}.",
        "Have somebody's hands or a tether at it. Try its walk rung by rung, and what would fell it, at Motions.",
        numbers(own),
    )  # fmt: skip
