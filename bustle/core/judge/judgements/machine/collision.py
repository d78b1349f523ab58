"""F16: neighbouring legs, or a leg and the chassis, collide."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.gaps import Gap, begin_inside, carried_gaps, gaps, near_enough_to_give
from bustle.core.judge.ways import Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number, seconds

OPENING = "opening"


def collision(r: Reading) -> Iterator[Finding]:
    """Stop where two parts overlap, as planned or as the servos give; warn where they come nearer than the limit, and
    where what begins within the frame needs an opening."""
    limit, planned, carried = r.project.limits.clearance_mm, r.of(gaps), r.of(carried_gaps)
    if carried and carried[0].distance_mm < min(planned[0].distance_mm, limit):
        yield from _told(r, carried, " once the servos give under the load")
    else:
        yield from _told(r, planned)
    yield from _opening(r)


def as_planned(r: Reading) -> tuple[Finding, ...] | None:
    """The same of what is planned alone; None where that keeps clear, and what the servos give may not."""
    found = tuple(_told(r, r.of(gaps)))
    return (*found, *_opening(r)) if found or not near_enough_to_give(r) else None


def _told(r: Reading, found: list[Gap], once: str = "") -> Iterator[Finding]:
    limit = r.project.limits.clearance_mm
    close = [gap for gap in found if gap.distance_mm < limit]
    if not close:
        return
    worst = close[0]
    time = float(worst.sample * r.row_s)
    severity: Severity = "stop" if worst.distance_mm < 0 else "warn"
    if severity == "stop":
        message = f"{worst.first} and {worst.second} overlap by {length(-worst.distance_mm)} at {seconds(time)}{once}."
    else:
        message = (
            f"{worst.first} comes within {length(worst.distance_mm)} of {worst.second} at {seconds(time)}{once}; "
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


def _opening(r: Reading) -> Iterator[Finding]:
    found = r.of(begin_inside)
    if not found:
        return
    deepest, parts = found[0], list(dict.fromkeys((gap.first, gap.second) for gap in found))
    more = f", as {len(parts) - 1} more {'does' if len(parts) == 2 else 'do'}" if len(parts) > 1 else ""
    yield Finding(
        "F16", "warn", "Begins within the frame",
        f"{deepest.first} begins {length(-deepest.distance_mm)} within {deepest.second}{more}: nothing says how wide "
        "the opening is that it comes out of; leave it room to swing, or see whether mount and frame are as measured.",
        (("", OPENING), *dict.fromkeys((gap.limbs[0], "") for gap in found)),
        float(deepest.sample * r.row_s), deepest.distance_mm, 0.0, "mm",
    )  # fmt: skip


def _read(r: Reading) -> Told | None:
    found = r.of(gaps)
    return (found[0].distance_mm, float(found[0].sample * r.row_s)) if found else None


def _working(r: Reading) -> Lines:
    gap = r.of(gaps)[0]
    return (
        f"{gap.first} and {gap.second} at {seconds(gap.sample * r.row_s)}, surface to surface,",
        "below 0 where they overlap",
        f"= {number(gap.distance_mm)} mm",
    )


NEAREST_PARTS = FigureSpec(
    "clearance_mm", "Nearest parts", "mm", 1, _read, _working, ("frame",), better=1, compared=True
)

JUDGEMENT = Judgement(
    "F16",
    "Parts keep clear of each other",
    ("frame",),
    collision,
    tier="drag",
    at_once=as_planned,
    limits_stride=True,
    figures=(NEAREST_PARTS,),
    ways=(
        Turn("stride", up=False, subject=""),
        Turn("feet_out", subject=""),
        Turn("ride_height", subject=""),
        Turn("lift", up=False, subject=""),
    ),
)
