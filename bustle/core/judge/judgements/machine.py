"""F36 folded legs that stick out, F40 a turning circle too wide, F45 leads too short."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.judge.judgements.finding import Finding, Severity
from bustle.core.machine.folded import extents_mm, folded_joints
from bustle.core.walk.reading import Evidence
from bustle.core.words.wording import length, seconds

AXES = ("long", "wide", "high")


def envelope(e: Evidence) -> Iterator[Finding]:
    """F36: the folded pose against its box."""
    walker = e.project.walker
    if walker.folded is None:
        return
    straight = None if any(e.bends_deg.values()) else e.parts
    size = extents_mm(walker, folded_joints(walker, walker.folded)[None], straight)[0]
    over = [(float(s - b), n) for n, (s, b) in enumerate(zip(size, walker.folded.box_mm, strict=True)) if s > b + 1e-6]
    if not over:
        return
    most, axis = max(over)
    yield Finding(
        "F36", "warn", "Does not fold into its box",
        f"Folded, it is {length(float(size[axis]))} {AXES[axis]} and the box is {length(walker.folded.box_mm[axis])}: "
        f"{length(most)} too much.",
        (), None, float(size[axis]), walker.folded.box_mm[axis], "mm",
    )  # fmt: skip


def turning_circle(e: Evidence) -> Iterator[Finding]:
    """F40: the smallest arc the legs can walk at this stroke, against the course's tightest."""
    limit = e.project.limits.turning_radius_mm
    if limit is None or not float(e.score.stroke_mm.max(initial=0.0)):
        return
    radius = e.turning_radius
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


def short_leads(e: Evidence) -> Iterator[Finding]:
    """F45: stop for a lead shorter than its way, warn where little slack is left."""
    slack = e.project.limits.lead_slack_mm
    for severity in ("stop", "warn"):
        level: Severity = "stop" if severity == "stop" else "warn"
        need = 0.0 if level == "stop" else slack
        tight = [n for n in e.leads if n.needed_mm + need > n.lead.length_mm]
        if not tight:
            continue
        worst = max(tight, key=lambda n: n.needed_mm - n.lead.length_mm)
        time = float(worst.sample * e.row_s)
        rest = "" if len(tight) == 1 else f" Also {len(tight) - 1} more."
        yield Finding(
            "F45", level, "Lead too short" if level == "stop" else "Little slack in a lead",
            f"The lead {worst.lead.name} needs {length(worst.needed_mm)} at {seconds(time)} and is "
            f"{length(worst.lead.length_mm)} long; keep {length(slack)} of slack.{rest}",
            (("", worst.lead.name),), time, worst.lead.length_mm, worst.needed_mm + slack, "mm",
        )  # fmt: skip
        return
