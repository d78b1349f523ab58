"""F40: the turning circle is too wide for the course."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.turning_circle import turning_radius_mm
from bustle.core.judge.ways import Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length


def turning_circle(r: Reading) -> Iterator[Finding]:
    """The smallest arc the legs can walk at this stroke, against the course's tightest."""
    limit = r.project.limits.turning_radius_mm
    if limit is None or not float(r.score.stroke_mm.max(initial=0.0)):
        return
    radius = r.of(turning_radius_mm)
    if radius is not None and radius <= limit:
        return
    if radius is None:
        reached = "No arc keeps every leg within its reach, its stops and the slip allowed"
    else:
        reached = f"At this stroke the smallest circle has a radius of {length(radius)}"
    yield Finding(
        "F40", "warn", "Turning circle too wide", f"{reached}; the course asks for {length(limit)}.",
        (), None, radius if radius is not None else 0.0, limit, "mm",
    )  # fmt: skip


def _read(r: Reading) -> Told | None:
    radius = r.of(turning_radius_mm)
    return None if radius is None else (radius, None)


def _working(r: Reading) -> Lines:
    return (
        "the tightest arc on which every leg reaches, within its stops and the slip allowed,",
        f"with the furthest-moving foot making {length(float(r.score.stroke_mm.max()))} a stance",
        "0 is turning in place",
        f"= {length(r.of(turning_radius_mm) or 0.0)}",
    )


TURNING_RADIUS = FigureSpec(
    "turning_radius_mm", "Smallest turning radius", "mm", 0, _read, _working, ("frame",), better=-1, compared=True
)

JUDGEMENT = Judgement(
    "F40",
    "It turns as tightly as the course asks",
    ("frame",),
    turning_circle,
    stops=False,
    figures=(TURNING_RADIUS,),
    ways=(Turn("feet_out"), Turn("ride_height"), Turn("stride", up=False)),
)
