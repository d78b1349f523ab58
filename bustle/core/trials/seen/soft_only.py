"""F31: it walks on a soft floor, and not on a hard one."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from bustle.core.document.checked import CheckedProject
from bustle.core.trials.seen.what_was_seen import Seen, numbers
from bustle.core.trials.trial import Logged
from bustle.core.words.wording import percent


def soft_only(log: Sequence[Logged], _project: CheckedProject) -> Iterator[Seen]:
    """Most went well on what gives, and most did not on what is hard."""
    soft, hard = (
        [each for each in log if each.trial.gives is gives and each.went_well is not None] for gives in (True, False)
    )
    well, ill = [each for each in soft if each.went_well], [each for each in hard if not each.went_well]
    if not ill or 2 * len(well) <= len(soft) or 2 * len(ill) <= len(hard):
        return
    motion, jolt = log[-1].trial.motion, log[-1].planned.jolt_share
    lands = f" Its hardest landing is told to jolt by {percent(jolt)} of its weight on a hard floor." if jolt else ""
    yield Seen(
        motion, "F31", "It walks on a soft floor only",
        f"{motion} went well in {len(well)} of {len(soft)} trials on floors that give, and in "
        f"{len(hard) - len(ill)} of {len(hard)} on hard ones.{lands}",
        "Have feet land more softly, by their path or a longer swing, or give them soles that give; then try it on the "
        "hard floor again.",
        numbers([*well, *ill]),
    )  # fmt: skip
