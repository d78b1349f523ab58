"""F11, seen on the floor: it ends beside its way."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.trials.seen.what_was_seen import LATELY, Seen, gait_now, numbers, otherwise
from bustle.core.trials.trial import Logged
from bustle.core.words.wording import length


def drifted(log: Sequence[Logged], project: CheckedProject) -> Iterator[Seen]:
    """By the last trials that were steered as the last was, always to the same side, by more than the project allows;
    silent once it is steered otherwise than then."""
    lately = [each for each in log if each.drift_mm_m is not None]
    lately = [each for each in lately[-LATELY:] if each.planned.steer_mm_m == lately[-1].planned.steer_mm_m]
    ways = [each.drift_mm_m or 0.0 for each in lately]
    if not ways or abs(drift := float(np.mean(ways))) <= project.limits.drift_mm_m or min(ways) * max(ways) < 0:
        return
    motion, side = lately[-1].trial.motion, "left" if drift > 0 else "right"
    then, gait, mended = lately[-1].planned.steer_mm_m, gait_now(project, motion), None
    steer = round(then - drift) + 0.0
    if gait:
        if gait.steer_mm_m != then:
            return
        mended = otherwise(project, gait, "steer_mm_m", steer)
    way = f"{length(abs(steer))} to the {'left' if steer > 0 else 'right'} each metre" if steer else "no more"
    yield Seen(
        motion, "F11", "It drifts on the floor",
        f"{motion} ends {length(abs(drift))} to the {side} of its way after a metre, by its last "
        f"{'trial' if len(lately) == 1 else f'{len(lately)} trials'}; keep {length(project.limits.drift_mm_m)}.",
        "Measure links and zeros of both sides first: what is built unevenly is better put right than steered against.",
        numbers(lately), f"Steer {way}" if mended else "", mended,
    )  # fmt: skip
