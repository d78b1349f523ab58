"""F56: casters, wheels or skids hang above the floor, or hold the machine off its legs.

Supports beside which legs push hang as high as those legs give at most: set down, the machine stands on both.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.edits.patches import replace
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.extremes import greatest, least
from bustle.core.geometry.resting_plane import resting_plane
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.loads.held_by_supports import overlap
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, degrees, length, number, seconds, told_apart

LOW_MM, STOP_MM, HIGH_MM = -0.5, -2.0, 0.5
# What tilts further until it rests on a support that hangs falls on to it.
FALLS_DEG = 8.0


def not_judged(r: Reading) -> str | None:
    if not len(r.kit.supports):
        return "no caster, wheel or skid is fixed to its frame"
    return None if r.project.walker.legs else "no leg stands beside its supports"


def heights(r: Reading) -> Array:
    """(supports, S) mm: how high each is over the floor that the standing feet are planned on."""
    high: Array = r.course.feet_ground_mm[r.kit.supports, : r.samples, 2]
    return high


def _settled(r: Reading) -> tuple[float, float, int]:
    """How far the machine tilts (rad) and drops (mm) until it rests on feet and supports, at its worst, and when."""
    n = r.samples
    feet = np.flatnonzero([bool(m.feet) for m in r.project.walker.limbs])
    usable = r.score.contacts(r.course.time_s[:n])
    usable[r.kit.supports] = True
    over = r.of(over_floor)[:n]
    plane, rests = resting_plane(r.course.feet_ground_mm[feet, :n], usable[feet], over)
    tilt = np.arctan(np.hypot(plane[:, 1], plane[:, 2])) * rests
    drop = (plane[:, 0] + plane[:, 1] * over[:, 0] + plane[:, 2] * over[:, 1]) * rests
    at = greatest(tilt + np.abs(drop) * 1e-3)
    return float(tilt[at]), float(drop[at]), at


def off_the_floor(r: Reading) -> Iterator[Finding]:
    high = r.of(heights)
    names = [r.project.walker.limbs[i].name for i in r.kit.supports]
    tilt, drop, _ = r.of(_settled)
    settles = f" At rest the machine tilts {degrees(float(np.degrees(tilt)))} and sinks {length(drop)}."
    lowest = high.min(axis=1)
    low = [int(i) for i in np.argsort(lowest, kind="stable") if lowest[i] < LOW_MM]
    if low:
        at = least(high[low[0]])
        severity: Severity = "stop" if lowest[low[0]] <= STOP_MM else "warn"
        below, keep = told_apart(length, -float(lowest[low[0]]), -LOW_MM)
        yield Finding(
            "F56", severity, "Held off its legs",
            f"{names[low[0]]} reaches {below} below the floor that the feet are planned on, "
            f"at {seconds(at * r.row_s)}: it carries what the legs should; keep {keep}."
            + also([names[i] for i in low[1:]]),
            tuple((names[i], "low") for i in low), at * r.row_s, float(lowest[low[0]]), LOW_MM, "mm",
        )  # fmt: skip
    highest, most = high.max(axis=1), HIGH_MM if high.max() <= HIGH_MM else r.of(_most_mm)
    up = [int(i) for i in np.argsort(-highest, kind="stable") if highest[i] > most]
    if up:
        at = greatest(high[up[0]])
        above, keep = told_apart(length, float(highest[up[0]]), float(most))
        falls: Severity = "stop" if tilt > np.radians(FALLS_DEG) else "warn"
        yield Finding(
            "F56", falls, "Hangs above the floor",
            f"{names[up[0]]} hangs {above} above the floor at {seconds(at * r.row_s)}; "
            f"keep {keep}." + settles + also([names[i] for i in up[1:]]),
            tuple((names[i], "high") for i in up), at * r.row_s, float(highest[up[0]]), most, "mm",
        )  # fmt: skip


def _most_mm(r: Reading) -> float:
    """How high they may hang: as far as the standing legs give, where supports and not legs could hold the machine."""
    beside = r.of(overlap)
    if beside is None or not beside.alone.all():
        return HIGH_MM
    return max(HIGH_MM, float(beside.gives_mm.min()))


def _to_the_floor(m: Mending) -> Iterator[Edit]:
    """Supports as long as the machine stands high; beside legs that push, half as high over the floor as those give."""
    high, edits, beside = m.reading.of(heights), [], m.reading.of(overlap)
    over = float(beside.gives_mm.min()) / 2 if beside and beside.alone.all() else 0.0
    for row, i in enumerate(m.reading.kit.supports.tolist()):
        off = float((high[row].max() + high[row].min()) / 2) - over
        if abs(off) > 0.05:
            x, y, z = m.project.walker.limbs[i].mount.at_mm
            edits.append(replace(f"/walker/limbs/{i}/mount/at_mm", [x, y, round(z - off, 2)]))
    if edits:
        yield Edit(
            "Supports down to the floor" if m.finding.subject == "high" else "Supports up to the floor", tuple(edits)
        )


def _worst(r: Reading) -> tuple[int, int]:
    high = r.of(heights)
    row, at = np.unravel_index(greatest(np.abs(high)), high.shape)
    return int(row), int(at)


def _read(r: Reading) -> Told | None:
    if not_judged(r):
        return None
    row, at = r.of(_worst)
    return float(r.of(heights)[row, at]), at * r.row_s


def _working(r: Reading) -> Lines:
    row, at = r.of(_worst)
    tilt, drop, when = r.of(_settled)
    name = r.project.walker.limbs[int(r.kit.supports[row])].name
    return (
        f"{name}: where it touches, over the floor that the standing feet are planned on, at {seconds(at * r.row_s)}",
        f"= {number(float(r.of(heights)[row, at]))} mm",
        f"set down on feet and supports the machine tilts {degrees(float(np.degrees(tilt)))} and sinks "
        f"{number(drop)} mm at its centre of mass, most at {seconds(when * r.row_s)}",
    )


SUPPORT = FigureSpec(
    "support_height_mm", "Supports over the floor", "mm", 1, _read, _working, ("balance", "frame"), compared=True
)

JUDGEMENT = Judgement(
    "F56",
    "Casters, wheels and skids stand on the floor",
    ("balance", "frame"),
    off_the_floor,
    not_judged,
    tier="drag",
    figures=(SUPPORT,),
    ways=(Turn("ride_height"), Offer(_to_the_floor, keep="first", any_motion=True)),
)
