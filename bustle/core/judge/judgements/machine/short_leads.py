"""F45: a lead is too short over the joint's travel and snags."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil

from bustle.core.edits.patches import replace
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.lead_lengths import lead_needs
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number, seconds


def short_leads(r: Reading) -> Iterator[Finding]:
    """Stop for a lead shorter than its way, warn where little slack is left."""
    slack = r.project.limits.lead_slack_mm
    levels: tuple[tuple[Severity, float], ...] = (("stop", 0.0), ("warn", slack))
    for severity, spare in levels:
        tight = [n for n in r.of(lead_needs) if n.needed_mm + spare > n.lead.length_mm]
        if not tight:
            continue
        worst = max(tight, key=lambda n: round(n.needed_mm - n.lead.length_mm, 6))
        time = float(worst.sample * r.row_s)
        rest = "" if len(tight) == 1 else f" Also {len(tight) - 1} more."
        yield Finding(
            "F45", severity, "Lead too short" if severity == "stop" else "Little slack in a lead",
            f"The lead {worst.lead.name} needs {length(worst.needed_mm)} at {seconds(time)} and is "
            f"{length(worst.lead.length_mm)} long; keep {length(slack)} of slack.{rest}",
            (("", worst.lead.name),), time, worst.lead.length_mm, worst.needed_mm + slack, "mm",
        )  # fmt: skip
        return


def _longer_lead(m: Mending) -> Iterator[Edit]:
    """Every short lead as long as it needs to be, to the next 5 mm."""
    slack = m.project.limits.lead_slack_mm
    edits, said = [], ""
    for n, need in enumerate(m.reading.of(lead_needs)):
        if need.needed_mm + slack > need.lead.length_mm:
            longer = float(ceil((need.needed_mm + slack) / 5) * 5)
            edits.append(replace(f"/walker/leads/{n}/length_mm", longer))
            said = f"{need.lead.name}: {number(need.lead.length_mm, 0)} → {number(longer, 0)} mm"
    yield Edit(said if len(edits) == 1 else f"{len(edits)} leads longer, the last {said}", tuple(edits))


JUDGEMENT = Judgement(
    "F45",
    "Leads are long enough",
    ("frame",),
    short_leads,
    ways=(Offer(_longer_lead, any_motion=True), Turn("stride", up=False)),
)
