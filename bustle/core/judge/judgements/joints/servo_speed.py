"""F06: a joint is asked to turn faster than its servo can without load."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.geometry.arrays import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity, by_joint, offenders
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.joint_rates import joint_rates, joint_steps
from bustle.core.judge.measures.servo_rates import servo_rates
from bustle.core.judge.ways import Turn
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, number, seconds


def too_fast(r: Reading) -> Iterator[Finding]:
    """Stop above the servo's speed, warn above the share of it that the project allows."""
    servos = r.kit.servos
    if not servos:
        return
    rates, sheet = np.abs(r.of(servo_rates)), r.kit.servo_speed
    first = [r.kit.joints[s.first] for s in servos]
    reported: set[str] = set()
    checks: tuple[tuple[Severity, float], ...] = (("stop", 1.0), ("warn", r.project.limits.speed_share))
    for severity, share in checks:
        found = offenders(rates - share * sheet)
        for joint, columns in by_joint([j.name for j in first], found[0] if found else []).items():
            if joint in reported:
                continue
            reported.add(joint)
            worst = columns[0]
            row = greatest(rates[:, worst])
            rate, limit = float(np.degrees(rates[row, worst])), float(np.degrees(sheet[worst]))
            time = float(row * r.row_s)
            if severity == "stop":
                limits = f"its servo turns {number(limit, 0)}°/s without load"
            else:
                limits = f"that is {number(100 * rate / limit, 0)} % of what its servo does without load"
            yield Finding(
                "F06", severity, "Too fast" if severity == "stop" else "Near full speed",
                f"{first[worst]} needs {number(rate, 0)}°/s at {seconds(time)}; {limits}."
                + also([first[c].limb.name for c in columns[1:]]),
                tuple((first[c].limb.name, joint) for c in columns), time, rate, limit, "°/s",
            )  # fmt: skip


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
        f"{number(step, 2)}° / {number(r.row_s * 1000, 2)} ms = {number(abs(rate), 0)} °/s",
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
