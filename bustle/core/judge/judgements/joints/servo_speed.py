"""F06: a joint is asked to turn faster than its servo can under its load."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity, by_joint, offenders
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.joint_rates import joint_rates, joint_steps
from bustle.core.judge.measures.servo_rates import servo_rates
from bustle.core.judge.ways import Turn
from bustle.core.loads.falls_behind import Behind, falls_behind
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, length, number, seconds


def too_fast(r: Reading) -> Iterator[Finding]:
    """Stop where a foot that stands is driven faster than its servo turns under that load, or lands late for it; warn
    where a servo only runs behind in the air, and above the share of its speed that the project allows."""
    servos = r.kit.servos
    if not servos:
        return
    rates, sheet = np.abs(r.of(servo_rates)), r.kit.servo_speed
    first = [r.kit.joints[s.first] for s in servos]
    reported: set[str] = set()
    behind = r.of(falls_behind)
    late = {*behind.in_stance, *behind.lands_late_mm}
    checks: list[tuple[Severity, Array]] = [
        ("warn", np.maximum(behind.over, rates - r.project.limits.speed_share * sheet))
    ]
    if late:
        checks.insert(0, ("stop", np.where([n in late for n in range(len(servos))], behind.over, 0.0)))
    for severity, over in checks:
        found = offenders(over)
        for joint, columns in by_joint([j.name for j in first], found[0] if found else []).items():
            if joint in reported:
                continue
            reported.add(joint)
            worst = columns[0]
            row = greatest(over[:, worst])
            rate = float(np.degrees(rates[row, worst]))
            limit = float(np.degrees(behind.available[row, worst]))
            time = float(row * r.row_s)
            yield Finding(
                "F06", severity, "Too fast" if over[row, worst] and rate > limit else "Near full speed",
                f"{first[worst]} needs {number(rate, 0)}°/s at {seconds(time)}; "
                f"{_limits(r, worst, rate, limit)}{_comes_to(behind, worst) if rate > limit else ''}."
                + also([first[c].limb.name for c in columns[1:]]),
                tuple((first[c].limb.name, joint) for c in columns), time, rate, limit, "°/s",
            )  # fmt: skip


def _limits(r: Reading, servo: int, rate: float, available: float) -> str:
    free = float(np.degrees(r.kit.servo_speed[servo]))
    if rate <= available:
        return f"that is {number(100 * rate / free, 0)} % of what its servo does without load"
    if available >= free - 0.5:
        return f"its servo turns {number(free, 0)}°/s without load"
    return f"under its load there its servo turns {number(available, 0)}°/s of {number(free, 0)}"


def _comes_to(behind: Behind, servo: int) -> str:
    """What running behind does to the foot."""
    if servo in behind.in_stance:
        return ", with its foot on the floor"
    if servo in behind.lands_late_mm:
        return f", and its foot lands {length(behind.lands_late_mm[servo])} from its place"
    return ", and catches up before its foot lands" if behind.over[:, servo].any() else ""


def _peak(r: Reading) -> tuple[int, int]:
    """Row and column of the fastest hinge."""
    rates = r.of(joint_rates)
    row, column = np.unravel_index(greatest(np.abs(rates) * ~r.kit.slides), rates.shape)
    return int(row), int(column)


def _read(r: Reading) -> Told | None:
    row, column = r.of(_peak)
    return float(np.degrees(abs(r.of(joint_rates)[row, column]))), float(row * r.row_s)


def _working(r: Reading) -> Lines:
    row, column = r.of(_peak)
    rate, step = (float(np.degrees(a[row, column])) for a in (r.of(joint_rates), r.of(joint_steps)))
    return (
        f"{r.kit.joints[column]}, from the row at {seconds(float(row * r.row_s))} to the next:",
        f"{number(abs(step), 2)}° / {number(r.row_s * 1000, 2)} ms = {number(abs(rate), 0)} °/s",
    )


PEAK_RATE = FigureSpec(
    "peak_rate_deg_s",
    "Peak joint rate",
    "°/s",
    0,
    _read,
    _working,
    ("stride", "timing", "table", "motions"),
    better=-1,
    compared=True,
)

JUDGEMENT = Judgement(
    "F06",
    "Joints turn no faster than their servos",
    ("stride",),
    too_fast,
    tier="drag",
    limits_stride=True,
    figures=(PEAK_RATE,),
    ways=(Turn("pace", up=False), Turn("duty", up=False), Turn("stride", up=False), Turn("lift", up=False)),
)
