"""The log of trials as a CSV file, out and in: one line a trial, the oldest first, units in the heads of its columns.

Brought in, what its plan told is left out of account: trials are held against the revision they are brought in for.
"""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from datetime import datetime
from typing import Any

from pydantic import ValidationError

from bustle.core.trials.trial import Logged, Trial
from bustle.core.words.problems import InputRefused, problems_of, refuse
from bustle.formats.csv_in import csv_lines, csv_text
from bustle.formats.parts_csv import plain_cell

_HEADS = (
    "trial", "at", "revision", "motion", "floor", "floor_gives", "time_s", "along_mm", "beside_left_mm",
    "turned_left_deg", "falls", "dragged", "soles", "pack_v", "asked_mm", "told_mm", "covered", "drift_left_mm_m",
    "fields_changed", "note",
)  # fmt: skip


def trials_csv(log: Iterable[tuple[Logged, datetime]]) -> bytes:
    """What was not measured is empty."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(_HEADS)
    for each, at in log:
        trial, told = each.trial, each.planned
        cells = (
            each.number, at.isoformat(timespec="seconds"), each.revision, trial.motion, trial.floor, int(trial.gives),
            trial.time_s, trial.along_mm, trial.beside_mm, trial.turned_deg, trial.falls, " ".join(trial.dragged),
            trial.soles, trial.pack_v, _rounded(told.asked_mm, 1), _rounded(told.along_mm, 1),
            _rounded(each.covered, 3), _rounded(each.drift_mm_m, 1), each.changes, trial.note.replace("\n", " "),
        )  # fmt: skip
        writer.writerow([plain_cell(cell) if isinstance(cell, str) else cell for cell in cells])
    return out.getvalue().encode()


def _rounded(value: float | None, digits: int) -> float | None:
    return None if value is None else round(value, digits) + 0.0


MOST_BYTES = 400_000
MOST_LINES = 400
# Columns of a trial itself, by the field they are.
_FIELDS = {
    "motion": "motion", "floor": "floor", "floor_gives": "gives", "time_s": "time_s", "along_mm": "along_mm",
    "beside_left_mm": "beside_mm", "turned_left_deg": "turned_deg", "falls": "falls", "dragged": "dragged",
    "soles": "soles", "pack_v": "pack_v", "note": "note",
}  # fmt: skip
_NEEDED = ("motion", "floor", "time_s")
_WORDS = ("motion", "floor", "soles", "note")


def read_trials(data: bytes) -> list[Trial]:
    """In their order. Raises InputRefused naming the line and the column."""
    rows = csv_lines(csv_text(data, "log of trials", MOST_BYTES))
    _, heads = next(rows, (1, []))
    missing = [head for head in _NEEDED if head not in heads]
    if missing or len(set(heads)) < len(heads):
        raise refuse("", f"The first line must name the columns, {', '.join(_NEEDED)} among them, each once.")
    lines = list(rows)
    if not 1 <= len(lines) <= MOST_LINES:
        raise refuse("", f"The file has {len(lines)} trials; it must have 1 to {MOST_LINES}.")
    return [_trial(n, dict(zip(heads, row, strict=False))) for n, row in lines]


def _trial(line: int, cells: dict[str, str]) -> Trial:
    said = {_FIELDS[head]: _read(line, head, cell.strip()) for head, cell in cells.items()
            if head in _FIELDS and cell.strip()}  # fmt: skip
    try:
        return Trial.model_validate(said)
    except ValidationError as error:
        column = {field: head for head, field in _FIELDS.items()}
        found = problems_of(error)
        raise InputRefused(
            [type(p)(f"line {line}, {column.get(p.path.split('[')[0], p.path)}", p.sentence) for p in found]
        ) from error


def _read(line: int, head: str, cell: str) -> Any:
    if head in _WORDS:
        return cell.removeprefix("'")
    if head == "dragged":
        return tuple(cell.removeprefix("'").split())
    if head == "floor_gives":
        if cell not in ("0", "1"):
            raise refuse(f"line {line}, {head}", f"must be 0 or 1, got {cell[:40]!r}")
        return cell == "1"
    try:
        return int(cell) if head == "falls" else float(cell)
    except ValueError as error:
        kind = "whole number" if head == "falls" else "number"
        raise refuse(f"line {line}, {head}", f"must be a {kind}, got {cell[:40]!r}") from error
