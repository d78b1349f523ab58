"""F46: the belly, or a folded limb, grounds on an edge."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.belly_clearance import belly
from bustle.core.judge.ways import Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, seconds


def belly_grounds(r: Reading) -> Iterator[Finding]:
    """The underside against the edge that has to be passed over, where one is given."""
    edge = r.project.limits.step_height_mm
    if edge is None:
        return
    height, sample, what = r.of(belly)
    room = height - edge
    if room >= r.project.limits.clearance_mm:
        return
    time = float(sample * r.row_s)
    severity: Severity = "stop" if room <= 0 else "warn"
    verb = "grounds on" if severity == "stop" else "barely passes"
    yield Finding(
        "F46", severity, "Belly grounds" if severity == "stop" else "Belly comes near",
        f"The underside of {what} is {length(height)} up at {seconds(time)} and {verb} an edge of {length(edge)}.",
        (), time, height, edge, "mm",
    )  # fmt: skip


def _read(r: Reading) -> Told | None:
    height, sample, _ = r.of(belly)
    return height, float(sample * r.row_s)


def _working(r: Reading) -> Lines:
    _, sample, what = r.of(belly)
    return (f"the lowest of {what} above the floor, at {seconds(sample * r.row_s)}",)


UNDER_THE_BELLY = FigureSpec(
    "belly_mm", "Under the belly", "mm", 0, _read, _working, ("frame",), better=1, compared=True
)

JUDGEMENT = Judgement(
    "F46",
    "The belly clears the edge",
    ("frame",),
    belly_grounds,
    figures=(UNDER_THE_BELLY,),
    ways=(Turn("ride_height", down=False),),
)
