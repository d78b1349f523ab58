"""Traces as CSV, in and out: a line a sample, the time and what each sensor told, units in the heads of its columns.

Columns: time_s or time_ms; roll_deg, pitch_deg; a foot's sensor by its limb's name. Others are passed over. Commas,
semicolons or tabs between; between semicolons a comma is a decimal comma.
"""

from __future__ import annotations

import csv
import io
import math
from collections.abc import Sequence
from itertools import islice

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.trials.traces import Trace
from bustle.core.words.problems import refuse
from bustle.core.words.wording import joined
from bustle.formats.csv_in import csv_lines, csv_text
from bustle.formats.parts_csv import plain_cell

MOST_BYTES = 2_000_000
MOST_LINES = 12_000
MOST_COLUMNS = 60
MOST = 1e6
_TIMES = {"time_s": 1.0, "time_ms": 1e-3}
_LEANS = {"roll_deg": "roll", "pitch_deg": "pitch"}


def write_trace(trace: Trace) -> bytes:
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    leans = {head: trace.leans_deg[way] for head, way in _LEANS.items() if way in trace.leans_deg}
    rows.writerow(["time_s", *leans, *map(plain_cell, trace.feet)])
    for n, time in enumerate(trace.time_s):
        told = [f"{round(float(v[n]), 2) + 0.0:.2f}" for v in leans.values()]
        rows.writerow([f"{time:.3f}", *told, *(f"{round(float(v[n])) + 0.0:.0f}" for v in trace.feet.values())])
    return out.getvalue().encode()


def read_trace(data: bytes, limbs: Sequence[str]) -> tuple[Trace, tuple[str, ...]]:
    """And the heads that were passed over. limbs: those with feet. Raises InputRefused naming line and column."""
    text = csv_text(data, "trace", MOST_BYTES)
    between = max(",;\t", key=text.partition("\n")[0].count)
    rows = csv_lines(text, between)
    heads = [head.strip().removeprefix("'") for head in next(rows, (1, []))[1]]
    if len(heads) > MOST_COLUMNS:
        raise refuse("", f"It has {len(heads)} columns; it may have {MOST_COLUMNS}.")
    lines = list(islice(rows, MOST_LINES + 1))
    columns = {what: at for at, head in enumerate(heads) if (what := _what(head, limbs))}
    if len(columns) < sum(_what(head, limbs) is not None for head in heads):
        raise refuse("", "Two of its columns tell the same thing.")
    times = [what for what in columns if what in _TIMES]
    if len(times) != 1:
        raise refuse(
            "", f"One column must be {joined(list(_TIMES)).replace(' and ', ' or ')}; the first line names them."
        )
    if len(columns) < 2:
        raise refuse("", f"No column is {', '.join(_LEANS)} or a foot's: {', '.join(limbs)}.")
    if not 2 <= len(lines) <= MOST_LINES:
        raise refuse(
            "", f"A trace has 2 to {MOST_LINES} lines of samples; this has {'fewer' if len(lines) < 2 else 'more'}."
        )
    table = np.array([[_number(n, heads[at], row, at, between) for at in columns.values()] for n, row in lines])
    told: dict[str, Array] = dict(zip(columns, table.T, strict=True))
    time = told.pop(times[0]) * _TIMES[times[0]]
    back = np.flatnonzero(np.diff(time) <= 0)
    if len(back):
        raise refuse(f"line {lines[back[0] + 1][0]}, {times[0]}", "must be later than the line before it")
    leans = {way: told[head] for head, way in _LEANS.items() if head in told}
    feet = {limb: told[limb] for limb in limbs if limb in told}
    return Trace(time, leans, feet), tuple(h[:60] for h in heads if h and _what(h, limbs) is None)


def _what(head: str, limbs: Sequence[str]) -> str | None:
    plain = head.casefold()
    if plain in _TIMES or plain in _LEANS:
        return plain
    return next((limb for limb in limbs if limb.casefold() == plain), None)


def _number(line: int, head: str, row: Sequence[str], at: int, between: str) -> float:
    cell = row[at].strip() if at < len(row) else ""
    try:
        found = float(cell.replace(",", ".") if between == ";" else cell)
    except ValueError as error:
        raise refuse(f"line {line}, {head}", f"must be a number, got {cell[:40]!r}") from error
    if not math.isfinite(found) or abs(found) > MOST:
        raise refuse(f"line {line}, {head}", f"must lie between −{MOST:.0f} and {MOST:.0f}, got {cell[:40]}")
    return found
