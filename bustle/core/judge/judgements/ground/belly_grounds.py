"""F46: the belly, or a folded limb, grounds on an edge."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.belly_clearance import belly
from bustle.core.judge.ways import Turn
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.told import not_standing
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number, seconds

# A sag smaller than it is not worth a word.
SAID_MM = 0.05
# A rim or a link that is planned deeper lies in the floor.
UNDER_MM = 0.5


def belly_grounds(r: Reading) -> Iterator[Finding]:
    """The underside against the edge that has to be passed over, where one is given; a walk's against the floor."""
    edge = r.project.limits.step_height_mm
    height, sample, what = r.of(belly)
    if r.gait is not None and height < -UNDER_MM:
        time = float(sample * r.row_s)
        yield Finding(
            "F46", "stop", "Through the floor",
            f"{what} is planned {length(-height)} under the floor at {seconds(time)}.",
            ((what, ""),), time, height, 0.0, "mm",
        )  # fmt: skip
        return
    if edge is None:
        return
    sinks = _sinks_mm(r, sample)
    height -= sinks
    room = height - edge
    if room >= r.project.limits.clearance_mm:
        return
    time = float(sample * r.row_s)
    severity: Severity = "stop" if room <= 0 else "warn"
    verb = "grounds on" if severity == "stop" else "barely passes"
    yield Finding(
        "F46", severity, "Belly grounds" if severity == "stop" else "Belly comes near",
        f"The underside of {what} is {length(height)} up at {seconds(time)}"
        f"{f', sunk by {length(sinks)} under the weight,' if sinks >= SAID_MM else ''} and {verb} an edge of "
        f"{length(edge)}.",
        (), time, height, edge, "mm",
    )  # fmt: skip


def _sinks_mm(r: Reading, sample: int) -> float:
    """How far the machine gives there; 0 of one held against it, and where it cannot be told."""
    if r.project.against_sag != "off" or not_standing(r):
        return 0.0
    return max(0.0, float(r.of(sag).down_mm[sample]))


def _read(r: Reading) -> Told | None:
    height, sample, _ = r.of(belly)
    return height, float(sample * r.row_s)


def _working(r: Reading) -> Lines:
    mm, sample, what = r.of(belly)
    return (f"the lowest of {what} above the floor, at {seconds(sample * r.row_s)}", f"= {number(mm)} mm")


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
