"""F47: a nearly straight knee, where the joint's rate spikes and the branch may flip."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.geometry.extremes import least
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity, offenders
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.joints.out_of_reach import MISS_MM
from bustle.core.judge.measures.joint_rates import joint_rates
from bustle.core.judge.ways import Turn
from bustle.core.kinds.legs import FAMILIES
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, degrees, length, number, seconds, told_apart


def straight_knee(r: Reading) -> Iterator[Finding]:
    """Warn within the limit of straight, stop where it is straight."""
    limit = r.project.limits.straight_knee_mm
    short = r.course.solved.straight_mm
    found = offenders(limit - short.T)
    if not found:
        return
    limbs, row = found
    legs = [r.project.walker.limbs[i] for i in limbs]
    worst = legs[0]
    at = FAMILIES[worst.family].knee or 0
    knee = FAMILIES[worst.family].joints[at]
    column = r.kit.slices[limbs[0]].start + at
    rate = float(np.degrees(np.abs(r.of(joint_rates)[:, column]).max()))
    least, time = float(short[limbs[0], row]), r.time_at(row)
    severity: Severity = "stop" if least <= 1e-9 and r.course.solved.miss_mm[limbs[0], row] <= MISS_MM else "warn"
    short_by, keep = told_apart(length, least, limit)
    yield Finding(
        "F47", severity, "Nearly straight knee",
        f"{worst.name} is {short_by} short of straight at {seconds(time)}; its {knee.label.lower()} turns up to "
        f"{degrees(rate)} a second. Keep {keep}." + also([leg.name for leg in legs[1:]]),
        tuple((leg.name, "") for leg in legs), time, least, limit, "mm",
    )  # fmt: skip


def _straightest(r: Reading) -> tuple[int, int]:
    """Limb and row."""
    straight = r.course.solved.straight_mm[:, : r.samples]
    limb, row = np.unravel_index(least(straight), straight.shape)
    return int(limb), int(row)


def _read(r: Reading) -> Told | None:
    limb, row = r.of(_straightest)
    short = float(r.course.solved.straight_mm[limb, row])
    return (short, float(row * r.row_s)) if np.isfinite(short) else None


def _working(r: Reading) -> Lines:
    limb, row = r.of(_straightest)
    short, leg = float(r.course.solved.straight_mm[limb, row]), r.project.walker.limbs[limb]
    a, b = (leg.links[k].length_mm for k in FAMILIES[leg.family].knee_links)
    return (
        f"{leg.name} at {seconds(float(row * r.row_s))}: hip joint to the end of the lower link is "
        f"{length(a + b - short)}",
        f"straight it would be {number(a)} + {number(b)} = {number(a + b)} mm",
        f"{number(a + b)} − {number(a + b - short)} = {number(short)} mm in hand",
    )


REACH_IN_HAND = FigureSpec(
    "straight_knee_mm", "Reach in hand", "mm", 1, _read, _working, ("leg", "stride"), better=1, compared=True
)


def _bend_read(r: Reading) -> Told | None:
    limb, row = r.of(_straightest)
    if not np.isfinite(r.course.solved.straight_mm[limb, row]):
        return None
    return _bend_deg(r, limb, row), float(row * r.row_s)


def _bend_deg(r: Reading, limb: int, row: int) -> float:
    """By the triangle: r² = a² + b² + 2·a·b·cos β."""
    leg = r.project.walker.limbs[limb]
    a, b = (leg.links[k].length_mm for k in FAMILIES[leg.family].knee_links)
    span = a + b - float(r.course.solved.straight_mm[limb, row])
    return float(np.degrees(np.arccos(np.clip((span**2 - a**2 - b**2) / (2 * a * b), -1.0, 1.0))))


def _bend_working(r: Reading) -> Lines:
    limb, row = r.of(_straightest)
    leg, bend = r.project.walker.limbs[limb], _bend_deg(r, limb, row)
    a, b = (leg.links[k].length_mm for k in FAMILIES[leg.family].knee_links)

    def costs(deg: float) -> str:
        span = float(np.sqrt(a**2 + b**2 + 2 * a * b * np.cos(np.radians(deg))))
        rate = span / max(a * b * np.sin(np.radians(deg)), 1e-9)
        quick = "no end of" if deg < 0.1 else f"{number(np.degrees(rate) * 100, 0)}°/s of"
        return f"bent {degrees(deg)}: {length(a + b - span)} of reach in hand, {quick} knee for 100 mm/s along the leg"

    limit = r.project.limits.knee_bend_deg
    return (f"{leg.name} at {seconds(float(row * r.row_s))}", costs(bend), f"at the least that is kept, {costs(limit)}")


KNEE_BEND = FigureSpec(
    "knee_bend_deg", "Knee bent at least", "°", 0, _bend_read, _bend_working, ("leg",), better=1, compared=True
)

JUDGEMENT = Judgement(
    "F47",
    "Knees keep off straight",
    ("leg", "stride"),
    straight_knee,
    tier="drag",
    limits_stride=True,
    figures=(REACH_IN_HAND, KNEE_BEND),
    ways=(Turn("ride_height"), Turn("feet_out"), Turn("stride", up=False)),
)
