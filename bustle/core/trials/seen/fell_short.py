"""F54, seen on the floor: it goes less far, or further, than its plan tells."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.trials.seen.what_was_seen import LATELY, Seen, numbers, place
from bustle.core.trials.trial import WELL, Logged
from bustle.core.words.wording import percent

FURTHER = 1.2


def fell_short(log: Sequence[Logged], project: CheckedProject) -> Iterator[Seen]:
    """By the last trials on each floor."""
    for floor in dict.fromkeys(place(each) for each in log):
        lately = [each for each in log if place(each) == floor and each.covered is not None][-LATELY:]
        if not lately:
            continue
        covered = float(np.mean([each.covered or 0.0 for each in lately]))
        if WELL <= covered <= FURTHER:
            continue
        last = lately[-1].trial
        yield Seen(
            last.motion, "F54", "It goes less far than told" if covered < WELL else "It goes further than told",
            f"On {last.floor} {last.motion} got {percent(covered)} of the way its legs are told to walk"
            + (f", by its last {len(lately)} trials." if len(lately) > 1 else "."),
            "Look which foot slides. Measure what the plan assumes: what soles hold on this floor, how far the legs "
            "give (ten minutes, at Load).",
            numbers(lately),
        )  # fmt: skip
