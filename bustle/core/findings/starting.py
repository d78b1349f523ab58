"""F43 servos that jump at power-on, F23 upside-down walking on the wrong feet."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.evidence import Evidence
from bustle.core.findings.finding import Finding
from bustle.core.soft_start import soft_start
from bustle.core.wording import also, number


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
    if not e.gait or not e.gait.inverted:
        return
    wrong = [limb.name for limb in e.project.walker.legs if limb.feet[0].side != "upper"]
    if wrong:
        yield Finding(
            "F23", "stop", "Upside down on the wrong feet",
            f"{wrong[0]} has no foot on its upper side, so turned over it lifts and plants the wrong one; "
            f"{len(wrong)} of {len(e.project.walker.legs)} legs have none." + also(wrong[1:]),
            tuple((name, "") for name in wrong), None, float(len(wrong)), 0.0, "legs",
        )  # fmt: skip
