"""F11: the walk drifts to one side."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.edits.patches import replace
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.ground.as_built import put_right
from bustle.core.judge.measures.way_walked import drift, mostly_dragged
from bustle.core.judge.ways import Edit, Mending, Offer
from bustle.core.project.motion import PhaseGait
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, length, number, told_apart


def not_judged(r: Reading) -> str | None:
    return None if r.of(drift) else "only a walk with feet that stand still, and a way of its own, drifts"


def drifts(r: Reading) -> Iterator[Finding]:
    """More than the project allows in a metre, by what is known of the machine as it is built;
    what drags on it is told by itself."""
    found, limit = r.of(drift), r.project.limits.drift_mm_m
    assert found
    if abs(found.aside_mm) <= limit or r.of(mostly_dragged):
        return
    aside, keep = told_apart(length, abs(found.aside_mm), limit)
    yield Finding(
        "F11", "warn", "Drifts to one side",
        f"By its feet on the floor it is {aside} to the {_side(r)} of its way after a metre, "
        f"{degrees(abs(found.turned_deg))} round; keep {keep}.",
        (), None, abs(found.aside_mm), limit, "mm",
    )  # fmt: skip


def _side(r: Reading) -> str:
    found = r.of(drift)
    return "right" if found and found.aside_mm < 0 else "left"


def steered(m: Mending) -> Iterator[Edit]:
    """Its legs turn it back by as much as it is turned."""
    motion, found = m.project.motion(m.motion), m.reading.of(drift)
    if isinstance(motion, PhaseGait) and found:
        steer = round(motion.steer_mm_m - found.aside_mm) + 0.0
        way = "left" if steer > 0 else "right"
        yield Edit(f"Steer {length(abs(steer))} to the {way} each metre", (replace(f"{m.path}/steer_mm_m", steer),))


def _read(r: Reading) -> Told | None:
    found = r.of(drift)
    return (abs(found.aside_mm), None) if found else None


def _label(r: Reading) -> str:
    found = r.of(drift)
    return f"Drifts {_side(r)}" if found and abs(found.aside_mm) >= 0.5 else "Drift"


def _working(r: Reading) -> Lines:
    found = r.of(drift)
    assert found
    return (
        "between rows, the twist that leaves the standing feet least creep over the floor (least squares),",
        "by the lengths and zeros that were measured; where none were, as drawn",
        f"after a metre: {number(abs(found.aside_mm), 0)} mm to the {_side(r)} of the way asked, "
        f"{number(abs(found.turned_deg), 1)}° round",
    )


DRIFT = FigureSpec(
    "drift_mm_m",
    _label,
    "mm/m",
    0,
    _read,
    _working,
    ("stride/drift", "motions"),
    better=-1,
    compared=True,
)

JUDGEMENT = Judgement(
    "F11",
    "It keeps to its way",
    ("stride", "leg"),
    drifts,
    not_judged,
    stops=False,
    figures=(DRIFT,),
    ways=(Offer(put_right, any_motion=True), Offer(steered)),
)
