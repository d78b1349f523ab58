"""F38: the table's rows do not suit the servos or the cycle."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, floor

import numpy as np

from bustle.core.judge.judgements.finding import Finding
from bustle.core.walk.reading import Evidence
from bustle.core.words.wording import degrees, number, seconds

# Shares of a row that no builder means: rounding of typed seconds.
WHOLE = 1e-6


def row_period(e: Evidence) -> Iterator[Finding]:
    """A cycle that is no whole number of rows; rows quicker than the servos; rows so coarse that it jerks."""
    period_ms = e.project.controller.frame_period_ms
    rows = e.score.duration_s * 1000 / period_ms
    if e.score.periodic and abs(rows - round(rows)) > WHOLE:
        shorter, longer = (n * period_ms / 1000 for n in (max(2, floor(rows)), max(2, ceil(rows))))
        nearest = shorter if rows - floor(rows) <= 0.5 else longer
        yield Finding(
            "F38", "warn", "Cycle is no whole number of rows",
            f"The cycle of {number(e.score.duration_s, 4)} s is {number(rows, 2)} rows of {number(period_ms, 3)} ms; "
            f"the nearest that fits is {number(nearest, 4)} s.",
            (("", "cycle"),), None, rows, float(round(rows)), "rows",
        )  # fmt: skip
    slowest = max((s.sheet for s in e.servos), key=lambda s: s.frame_period_ms, default=None)
    if slowest and slowest.frame_period_ms > period_ms + 1e-9:
        yield Finding(
            "F38", "stop", "Rows quicker than the servos",
            f"A row every {number(period_ms, 2)} ms is quicker than {slowest.name} is refreshed, every "
            f"{number(slowest.frame_period_ms, 2)} ms; rows would be skipped.",
            (("", "period"),), None, period_ms, slowest.frame_period_ms, "ms",
        )  # fmt: skip
    step = np.abs(e.steps * np.array([0.0 if j.slides else 1.0 for j in e.joints]))
    row, column = np.unravel_index(np.argmax(step), step.shape)
    largest, limit = float(step[row, column]) * e.joints[column].scale, e.project.limits.row_step_deg
    if e.row_s * 1000 > 0.99 * period_ms and largest > limit:
        time = float(row * e.row_s)
        yield Finding(
            "F38", "warn", "Coarse rows",
            f"{e.joints[column]} moves {degrees(largest)} in one row at {seconds(time)}; "
            f"above {degrees(limit)} it jerks.",
            (("", "step"),), time, largest, limit, "°",
        )  # fmt: skip
