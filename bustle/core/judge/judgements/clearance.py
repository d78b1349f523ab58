"""F16 parts that collide, F46 a belly that grounds on an edge."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.judgements.finding import Finding, Severity
from bustle.core.walk.reading import Evidence
from bustle.core.words.wording import length, seconds


def collision(e: Evidence) -> Iterator[Finding]:
    """F16: stop where two parts overlap, warn where they come nearer than the limit."""
    limit = e.project.limits.clearance_mm
    close = [gap for gap in e.gaps if gap.distance_mm < limit]
    if not close:
        return
    worst = close[0]
    time = float(worst.sample * e.row_s)
    severity: Severity = "stop" if worst.distance_mm < 0 else "warn"
    if severity == "stop":
        message = f"{worst.first} and {worst.second} overlap by {length(-worst.distance_mm)} at {seconds(time)}."
    else:
        message = (
            f"{worst.first} comes within {length(worst.distance_mm)} of {worst.second} at {seconds(time)}; "
            f"keep {length(limit)}."
        )
    more = len({(g.first, g.second) for g in close}) - 1
    if more:
        message += f" {more} more {'pair is' if more == 1 else 'pairs are'} as near."
    names = dict.fromkeys(name for gap in close for name in gap.limbs)
    yield Finding(
        "F16", severity, "Parts collide" if severity == "stop" else "Parts come near", message,
        tuple((name, "") for name in names), time, worst.distance_mm, limit, "mm",
    )  # fmt: skip


def grounding(e: Evidence) -> Iterator[Finding]:
    """F46: the underside against the edge that has to be passed over, where one is given."""
    edge = e.project.limits.step_height_mm
    if edge is None:
        return
    height, sample, what = e.belly
    room = height - edge
    if room >= e.project.limits.clearance_mm:
        return
    time = float(sample * e.row_s)
    severity: Severity = "stop" if room <= 0 else "warn"
    verb = "grounds on" if severity == "stop" else "barely passes"
    yield Finding(
        "F46", severity, "Belly grounds" if severity == "stop" else "Belly comes near",
        f"The underside of {what} is {length(height)} up at {seconds(time)} and {verb} an edge of {length(edge)}.",
        (), time, height, edge, "mm",
    )  # fmt: skip
