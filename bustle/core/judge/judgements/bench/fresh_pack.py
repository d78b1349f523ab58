"""F41: a fresh pack gives more than the servos may take; a lithium pack that nobody measures runs below its cut-off."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.bench.boards_told import banks_told
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.project.electrics import Bank
from bustle.core.project.project import Project
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number

LITHIUM_CUT_OFF_V = 3.3


def most_v(project: Project, bank: Bank) -> float | None:
    """The least of what the servos on it may be given; None where no sheet says."""
    return min((s.sheet.most_v for s in servos_at(project) if s.bank == bank and s.sheet.most_v), default=None)


def fresh_pack(r: Reading) -> Iterator[Finding]:
    watched = any(s.does in ("pack_voltage", "alarm_plug") for s in r.project.electrics.signals)
    for bank in r.project.electrics.banks:
        most = most_v(r.project, bank)
        given = bank.regulated_v or bank.full_v
        if most is not None and given > most:
            fresh = "set to" if bank.regulated_v else "freshly charged"
            yield Finding(
                "F41", "stop", "More volts than the servos take",
                f"{bank.name}, {fresh} {number(given)} V, is above the {number(most)} V its servos may take.",
                (("", f"{bank.name} volts"),), None, given, most, "V",
            )  # fmt: skip
        if bank.chemistry == "lithium" and not watched:
            cut = bank.cut_off_v or LITHIUM_CUT_OFF_V * bank.cells
            yield Finding(
                "F41", "warn", "Nobody watches the pack",
                f"{bank.name} is lithium and nothing measures it; below {number(cut)} V it is spoilt, and may burn "
                "when charged.",
                (("", f"{bank.name} watch"),), None, 0.0, cut, "V",
            )  # fmt: skip


def _mend(m: Mending) -> Iterator[Edit]:
    for n, bank in enumerate(m.project.electrics.banks):
        most = most_v(m.project, bank)
        if m.finding.subject == f"{bank.name} volts" and most is not None:
            yield Edit(
                f"Regulate {bank.name} to {number(most)} V", (replace(f"/electrics/banks/{n}/regulated_v", most),)
            )
    if m.finding.subject.endswith(" watch"):
        pins = {s.pin for s in m.project.electrics.signals}
        plug = {"name": "Alarm plug", "does": "alarm_plug", "board": None, "pin": 0, "at_start": "off"}
        if 0 in pins:
            plug["pin"] = next(p for p in range(254) if p not in pins)
        signals = [s.model_dump(mode="json") for s in m.project.electrics.signals]
        yield Edit("An alarm plug on the pack", (replace("/electrics/signals", [*signals, plug]),))


JUDGEMENT = Judgement(
    "F41",
    "The pack suits the servos",
    ("servos",),
    fresh_pack,
    banks_told,
    bench=True,
    ways=(Offer(_mend, any_motion=True),),
)
