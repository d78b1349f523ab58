"""The steps of a first evening, in their order: what is done of each is told by what is known, or ticked by hand."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from bustle.core.project.project import Project
from bustle.core.servo.channel_map import unwired
from bustle.core.servo.joint_check import left_to_check
from bustle.core.words.wording import joined


@dataclass(frozen=True)
class Step:
    """left(project) → what of it is open, "" where nothing is, None where only a hand can tell."""

    name: str
    label: str
    how: str
    sheet: str | None
    left: Callable[[Project], str | None]


def _by_hand(project: Project) -> str | None:
    return None


def _unnumbered(project: Project) -> str | None:
    places = {s.name for d in project.walker.drives for s in d.servos}
    bare = places - {i.place for i in project.electrics.items}
    return f"{len(bare)} servos without a number" if bare else ""


def _unwired(project: Project) -> str | None:
    if not project.electrics.boards:
        return "no board is declared"
    bare = unwired(project)
    return f"{len(bare)} servos on no channel" if bare else ""


def _unfitted(project: Project) -> str | None:
    places = {s.name for d in project.walker.drives for s in d.servos}
    bare = places - {f.place for f in project.electrics.fitted}
    return f"{len(bare)} horns to fit" if bare else ""


def _unchecked(project: Project) -> str | None:
    left = left_to_check(project)
    return f"{len(left)} to look at: {joined(left[:3])}{' …' if left[3:] else ''}" if left else ""


def _unmeasured(project: Project) -> str | None:
    bare = [i.name for i in project.electrics.items if i.place and i.centre is None]
    if not project.electrics.items:
        return "no servo is numbered yet"
    return f"{len(bare)} servos to read at two angles" if bare else ""


def _no_stop(project: Project) -> str | None:
    return None if project.electrics.stop_switch and project.electrics.banks else "no stop switch or no supply declared"


def _undecided(project: Project) -> str | None:
    return "" if project.electrics.fail_safe else "radio lost: nothing is decided"


STEPS = (
    Step("map", "Map and wire", "Every servo on a channel, plugged as the sheet says, power off.", "wiring", _unwired),
    Step("meter", "Meter", "No servo plugged in: regulator set, polarity, grounds joined, fuse, stop switch tried.",
         "supply", _no_stop),
    Step("each", "Each servo alone", "Number it on its case, sweep it by hand signal, sort rough ones out.", None,
         _unnumbered),
    Step("centre", "Centre, no horn", "All servos told their middle, horns off. Nothing may buzz.", None, _by_hand),
    Step("horn", "Horn on, power off", "On the sheet's tooth, the joint at the angle given.", "fitting", _unfitted),
    Step("way", "Which way does each turn", "On a stand, feet in the air: play the joint check and say what is seen.",
         "evening", _unchecked),
    Step("angles", "Two angles", "Told, and read on the protractor, at two angles or more.", "protractor", _unmeasured),
    Step("heights", "Rest heights", "All centred, on the stand: foot to bench by ruler, each leg.", None, _by_hand),
    Step("poses", "Poses", "Neutral, folded, fail-safe, one after another, slowly.", None, _undecided),
    Step("air", "In the air", "The first walk with the feet in the air.", None, _by_hand),
    Step("floor", "On the floor", "Slowly, a hand near the stop switch.", None, _by_hand),
)  # fmt: skip
