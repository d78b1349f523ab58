"""F43 servos that jump at power-on, F23 upside-down walking on the wrong feet, F39 a change by a large factor at
once.
"""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.judgements.finding import Finding
from bustle.core.servo.power_on_order import soft_start
from bustle.core.walk.motions.made_of import upside_down
from bustle.core.walk.reading import Evidence
from bustle.core.words.wording import also, number


def jumps(e: Evidence) -> Iterator[Finding]:
    """F43: how many servos are switched on at once, against the limit; how far the worst may jump."""
    limit = e.project.limits.at_once
    if e.project.start_up.at_once <= limit or not e.project.walker.drives:
        return
    start = soft_start(e.project)
    if start.at_once <= limit or start.worst is None:
        return
    inrush = f", drawing up to {number(start.inrush_a)} A" if start.inrush_a else ""
    yield Finding(
        "F43", "stop", "Servos jump at power-on",
        f"{start.at_once} servos start at once{inrush}; {start.worst.servo} may jump {number(start.worst.travel, 0)}"
        f"{start.worst.unit if start.worst.unit == '°' else ' mm'}. Let go {limit} at a time.",
        (), None, float(start.at_once), float(limit), "servos",
    )  # fmt: skip


def wrong_side(e: Evidence) -> Iterator[Finding]:
    """F23: in an inverted motion every foot that carries must be one of the upper side, and the lower of the leg's
    two.
    """
    if not upside_down(e.project, e.motion):
        return
    wrong = [limb.name for limb in e.project.walker.legs if limb.feet[0].side != "upper"]
    if wrong:
        yield Finding(
            "F23", "stop", "Upside down on the wrong feet",
            f"{wrong[0]} has no foot on its upper side, so turned over it lifts and plants the wrong one; "
            f"{len(wrong)} of {len(e.project.walker.legs)} legs have none." + also(wrong[1:]),
            tuple((name, "") for name in wrong), None, float(len(wrong)), 0.0, "legs",
        )  # fmt: skip


def leaps(e: Evidence) -> Iterator[Finding]:
    """F39: stroke, lift and pace against how the machine last walked this motion, by the factor allowed at once."""
    last = next((w for w in e.project.walked if w.motion == e.motion.name), None)
    if last is None or not e.gait:
        return
    limit = e.project.limits.change_factor
    stroke = float(e.score.stroke_mm.max(initial=0.0))
    for what, title, before, now, unit in (
        ("stroke", "stroke", last.stroke_mm, stroke, "mm"),
        ("lift", "lift", last.lift_mm, e.gait.lift_mm, "mm"),
        ("pace", "pace", 60.0 / last.cycle_s, 60.0 / e.gait.cycle_s, "cycles a minute"),
    ):
        factor = now / before if before > 0 else 1.0
        if factor > limit + 1e-9:
            yield Finding(
                "F39", "warn", "Changed by a large factor",
                f"The {title} of {e.motion.name} goes from {number(before)} to {number(now)} {unit} at once, "
                f"{number(factor, 2)} times what it last walked; go by {number(limit, 2)} times at most.",
                (("", what),), None, factor, limit, "times",
            )  # fmt: skip
