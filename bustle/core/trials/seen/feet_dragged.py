"""F02, seen on the floor: feet catch or drag."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

from bustle.core.document.checked import CheckedProject
from bustle.core.trials.seen.what_was_seen import LATELY, Seen, gait_now, numbers, otherwise
from bustle.core.trials.trial import Logged
from bustle.core.words.wording import joined, length

# What is told to have been left under a foot was not there: so much more is lifted, at least. Where it is more than so
# many times the clearance to be kept, it is something else that lacks.
MORE_MM, MUCH = 2.0, 3.0


def feet_dragged(log: Sequence[Logged], project: CheckedProject) -> Iterator[Seen]:
    """In the last trial, or in most of the last ones; silent once it lifts higher than then."""
    lately = log[-LATELY:]
    often = Counter(name for each in lately for name in each.trial.dragged)
    names = [name for name, count in often.items() if name in lately[-1].trial.dragged or 2 * count > len(lately)]
    if not names:
        return
    last = lately[-1]
    motion, left = last.trial.motion, [last.planned.left_mm[name] for name in names if name in last.planned.left_mm]
    told = f" {length(min(left))} was told to be left under {'it' if len(names) == 1 else 'them'}." if left else ""
    gait, change, mended = gait_now(project, motion), "", None
    if gait and gait.lift_mm > last.planned.lift_mm:
        return
    # Where much was told to be left it is not the lift that lacks.
    if gait and left and min(left) <= MUCH * project.limits.clearance_mm:
        lift = round(gait.lift_mm + max(MORE_MM, min(left)) + project.limits.clearance_mm, 1)
        mended = otherwise(project, gait, "lift_mm", lift)
        change = f"Lift {length(lift)} instead of {length(gait.lift_mm)}"
    yield Seen(
        motion, "F02", "Feet drag on the floor", f"{joined(names)} caught or dragged in {motion}.{told}",
        "Look whether it sags, plays or meets an edge there; measure that, or lift higher.",
        numbers([each for each in lately if set(names) & set(each.trial.dragged)]), change if mended else "", mended,
    )  # fmt: skip
