"""F38: the table's rows do not suit the servos or the cycle."""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil, floor

import numpy as np

from bustle.core.edits.levers import LEVERS, motion_index
from bustle.core.edits.patches import replace
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.joint_rates import joint_steps
from bustle.core.judge.ways import Edit, Mending, Offer, Turn
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import degrees, number, seconds

# Shares of a row that no builder means: rounding of typed seconds.
WHOLE = 1e-6


def row_period(r: Reading) -> Iterator[Finding]:
    """A cycle that is no whole number of rows; rows quicker than the servos; rows so coarse that it jerks."""
    period_ms = r.project.controller.frame_period_ms
    rows = r.score.duration_s * 1000 / period_ms
    if r.score.periodic and abs(rows - round(rows)) > WHOLE:
        shorter, longer = (n * period_ms / 1000 for n in (max(2, floor(rows)), max(2, ceil(rows))))
        nearest = shorter if rows - floor(rows) <= 0.5 else longer
        yield Finding(
            "F38", "warn", "Cycle is no whole number of rows",
            f"The cycle of {number(r.score.duration_s, 4)} s is {number(rows, 2)} rows of {number(period_ms, 3)} ms; "
            f"the nearest that fits is {number(nearest, 4)} s.",
            (("", "cycle"),), None, rows, float(round(rows)), "rows",
        )  # fmt: skip
    slowest = r.kit.slowest_refreshed
    if slowest and slowest.frame_period_ms > period_ms + 1e-9:
        yield Finding(
            "F38", "stop", "Rows quicker than the servos",
            f"A row every {number(period_ms, 2)} ms is quicker than {slowest.name} is refreshed, every "
            f"{number(slowest.frame_period_ms, 2)} ms; rows would be skipped.",
            (("", "period"),), None, period_ms, slowest.frame_period_ms, "ms",
        )  # fmt: skip
    row, column = r.of(_furthest)
    joint, limit = r.kit.joints[column], r.project.limits.row_step_deg
    largest = float(np.degrees(np.abs(r.of(joint_steps)[row, column])))
    if r.row_s * 1000 > 0.99 * period_ms and largest > limit:
        time = float(row * r.row_s)
        yield Finding(
            "F38", "warn", "Coarse rows",
            f"{joint} moves {degrees(largest)} in one row at {seconds(time)}; above {degrees(limit)} it jerks.",
            (("", "step"),), time, largest, limit, "°",
        )  # fmt: skip


def _whole_rows(m: Mending) -> Iterator[Edit]:
    """The cycle to whole rows; the stride stays, so the twist follows."""
    if m.finding.subject != "cycle":
        return
    row, cycle = m.project.controller.frame_period_ms / 1000, m.gait.cycle_s
    lever, index = LEVERS["cycle"], motion_index(m.project, m.motion)
    for rows in sorted({max(2, int(cycle / row)), max(2, int(cycle / row) + 1)}, key=lambda n: abs(n * row - cycle)):
        operations = lever.set_to(m.project, index, round(rows * row, 6))
        yield Edit(f"Cycle time {number(cycle, 4)} → {number(rows * row, 4)} s", tuple(operations))


def _servo_period(m: Mending) -> Iterator[Edit]:
    """Rows as far apart as the slowest servo asks."""
    if m.finding.subject == "period":
        title = f"Row period {number(m.finding.value, 2)} → {number(m.finding.limit, 2)} ms"
        yield Edit(title, (replace("/controller/frame_period_ms", m.finding.limit),))


def _row_count(r: Reading) -> int:
    return max(2, round(r.score.duration_s * 1000 / r.project.controller.frame_period_ms))


def _rows_working(r: Reading) -> Lines:
    cycle_ms, period = r.score.duration_s * 1000, r.project.controller.frame_period_ms
    return (
        "cycle time / row period",
        f"= {number(cycle_ms, 3)} ms / {number(period, 3)} ms = {number(cycle_ms / period, 3)}, "
        f"so {_row_count(r)} rows",
    )


def _furthest(r: Reading) -> tuple[int, int]:
    """Row and joint of the largest step of what turns."""
    step = np.abs(r.of(joint_steps) * ~r.kit.slides)
    row, joint = np.unravel_index(greatest(step), step.shape)
    return int(row), int(joint)


def _step_read(r: Reading) -> Told | None:
    row, joint = r.of(_furthest)
    return float(np.degrees(np.abs(r.of(joint_steps)[row, joint]))), float(row * r.row_s)


def _step_working(r: Reading) -> Lines:
    row, joint = r.of(_furthest)
    begun, step = (float(np.degrees(v[row, joint])) for v in (r.of(sent_joints), r.of(joint_steps)))
    return (
        "largest turn of any joint from one row to the next, the last back to the first",
        f"{r.kit.joints[joint]} at {seconds(row * r.row_s)}: from {number(begun)}° by {number(step)}°",
    )


ROWS = FigureSpec(
    "rows", "Rows", "", 0, lambda r: (float(_row_count(r)), None), _rows_working, ("table", "rail"), compared=True
)
ROW_STEP = FigureSpec(
    "row_step_deg",
    "Largest step between rows",
    "°",
    1,
    _step_read,
    _step_working,
    ("table",),
    better=-1,
)

JUDGEMENT = Judgement(
    "F38",
    "Rows suit the servos and the cycle",
    ("table",),
    row_period,
    tier="drag",
    figures=(ROWS, ROW_STEP),
    ways=(Offer(_whole_rows), Offer(_servo_period, any_motion=True), Turn("pace", up=False, subject="step")),
)
