"""F50: grip fades from trial to trial on one floor."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.trials.seen.what_was_seen import Seen, numbers, place
from bustle.core.trials.trial import Logged
from bustle.core.words.wording import percent

# Of so many trials at least, the last two together cover so much less of their way than the first two.
TRIALS, FADES = 4, 0.1


def fades(log: Sequence[Logged], _project: CheckedProject) -> Iterator[Seen]:
    """Since soles were last cleaned or renewed."""
    for floor in dict.fromkeys(place(each) for each in log):
        own = [each for each in log if place(each) == floor]
        renewed = [n for n, each in enumerate(own) if each.trial.soles != "as they were"]
        since = [each for each in own[renewed[-1] if renewed else 0 :] if each.covered is not None]
        if len(since) < TRIALS:
            continue
        covered = [each.covered or 0.0 for each in since]
        first, last = float(np.mean(covered[:2])), float(np.mean(covered[-2:]))
        falling = float(np.polyfit(np.arange(len(covered)), covered, 1)[0]) < 0.0
        if first - last <= FADES or not falling:
            continue
        yield Seen(
            since[-1].trial.motion, "F50", "Its grip fades",
            f"On {since[-1].trial.floor} {since[-1].trial.motion} got {percent(first)} of its way at first and "
            f"{percent(last)} lately, over {len(since)} trials with the same soles.",
            "Clean or renew the soles and say so with the next trial; tilt a board again to measure what they hold.",
            numbers(since),
        )  # fmt: skip
