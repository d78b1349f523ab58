"""F21: servo current flows through the logic supply, or there is no common ground."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.bench.boards_told import banks_told
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.walk.reading import Reading


def shared_supply(r: Reading) -> Iterator[Finding]:
    servos = servos_at(r.project)
    for bank in r.project.electrics.banks:
        hung = [s for s in servos if s.bank == bank]
        if bank.feeds_logic and hung:
            drawn = sum(s.sheet.stall_current_a or 0.0 for s in hung)
            amperes = f", up to {drawn:.0f} A" if drawn else ""
            yield Finding(
                "F21", "stop", "Servos and logic share a supply",
                f"{bank.name} feeds the logic and {len(hung)} servos{amperes}; each dip of theirs resets the "
                "controller.",
                (("", f"{bank.name} shared"),), None, float(len(hung)), 0.0, "servos",
            )  # fmt: skip
        if not bank.ground_joined:
            yield Finding(
                "F21", "stop", "No common ground",
                f"The ground of {bank.name} is not joined to the controller's; {len(hung)} servos hear no pulse, or "
                "noise.",
                (("", f"{bank.name} ground"),), None, 0.0, 1.0, "grounds",
            )  # fmt: skip


def _part(m: Mending) -> Iterator[Edit]:
    for n, bank in enumerate(m.project.electrics.banks):
        if m.finding.subject == f"{bank.name} shared":
            yield Edit(
                f"A supply of its own for the logic, not {bank.name}",
                (replace(f"/electrics/banks/{n}/feeds_logic", False),),
            )
        if m.finding.subject == f"{bank.name} ground":
            yield Edit(
                f"Join the ground of {bank.name} to the controller's",
                (replace(f"/electrics/banks/{n}/ground_joined", True),),
            )


JUDGEMENT = Judgement(
    "F21",
    "Supplies are apart, grounds joined",
    ("servos",),
    shared_supply,
    banks_told,
    bench=True,
    ways=(Offer(_part, any_motion=True),),
)
