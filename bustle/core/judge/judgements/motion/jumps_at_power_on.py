"""F43: at power-on every servo jumps at once from an unknown pose."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.loads.supply_current import currents_a
from bustle.core.project.electrics import bank_of
from bustle.core.servo.power_on_order import soft_start, switched_together
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number


def jumps_at_power_on(r: Reading) -> Iterator[Finding]:
    """How many servos are switched on at once, against the limit; how far the worst may jump; what they may draw."""
    if not r.project.walker.drives:
        return
    yield from _at_once(r)
    yield from _inrush(r)


def _at_once(r: Reading) -> Iterator[Finding]:
    limit = r.project.limits.at_once
    if r.project.start_up.at_once <= limit:
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


def _inrush(r: Reading) -> Iterator[Finding]:
    """Warn where servos that start together, should they stall on their way, draw more than their regulator gives."""
    if not any(bank.regulator_a for bank in r.project.electrics.banks):
        return
    hung, sheets = bank_of(r.project.electrics), {s.name: s for s in r.project.servo_types}
    most: dict[str, tuple[float, int]] = {}
    for together in switched_together(r.project):
        drawn: dict[str, list[float]] = {}
        for place in together:
            if (bank := hung(place.servo.name)) is not None:
                drawn.setdefault(bank.name, []).append(currents_a(sheets[place.servo.type])[0])
        for name, each in drawn.items():
            most[name] = max(most.get(name, (0.0, 0)), (sum(each), len(each)))
    for bank in r.project.electrics.banks:
        amperes, servos = most.get(bank.name, (0.0, 0))
        if bank.regulator_a and amperes > bank.regulator_a:
            yield Finding(
                "F43", "warn", "Start-up draws more than is given",
                f"{servos} servo{'s' * (servos > 1)} of {bank.name} start at once and may draw {number(amperes)} A "
                f"until they are where they go; its regulator gives {number(bank.regulator_a)} A.",
                (("", f"{bank.name} inrush"),), None, amperes, bank.regulator_a, "A",
            )  # fmt: skip


def _fewer_at_once(m: Mending) -> Iterator[Edit]:
    """As many servos at a time as the limit allows, or as the regulator feeds."""
    here, limit = m.project.start_up.at_once, m.project.limits.at_once
    fed = int(here * m.finding.limit / m.finding.value) if m.finding.unit == "A" else limit
    for fewer in range(min(fed, here - 1), 0, -1):
        yield Edit(
            f"Start {fewer} servo{'s' * (fewer > 1)} at a time, not {here}", (replace("/start_up/at_once", fewer),)
        )


JUDGEMENT = Judgement(
    "F43",
    "Servos start a few at a time",
    ("motions",),
    jumps_at_power_on,
    ways=(Offer(_fewer_at_once, keep="first", any_motion=True),),
)
