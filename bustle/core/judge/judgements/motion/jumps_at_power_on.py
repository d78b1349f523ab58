"""F43: at power-on every servo jumps at once from an unknown pose."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.servo.power_on_order import soft_start
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number


def jumps_at_power_on(r: Reading) -> Iterator[Finding]:
    """How many servos are switched on at once, against the limit; how far the worst may jump."""
    limit = r.project.limits.at_once
    if r.project.start_up.at_once <= limit or not r.project.walker.drives:
        return
    start = soft_start(r.project)
    if start.at_once <= limit or start.worst is None:
        return
    inrush = f", drawing up to {number(start.inrush_a)} A" if start.inrush_a else ""
    yield Finding(
        "F43", "stop", "Servos jump at power-on",
        f"{start.at_once} servos start at once{inrush}; {start.worst.servo} may jump {number(start.worst.travel, 0)}"
        f"{start.worst.unit if start.worst.unit == '°' else ' mm'}. Let go {limit} at a time.",
        (), None, float(start.at_once), float(limit), "servos",
    )  # fmt: skip


def _fewer_at_once(m: Mending) -> Iterator[Edit]:
    """As many servos at a time as the limit allows."""
    here, limit = m.project.start_up.at_once, m.project.limits.at_once
    yield Edit(f"Start {limit} servos at a time, not {here}", (replace("/start_up/at_once", limit),))


JUDGEMENT = Judgement(
    "F43",
    "Servos start a few at a time",
    ("motions",),
    jumps_at_power_on,
    ways=(Offer(_fewer_at_once, any_motion=True),),
)
