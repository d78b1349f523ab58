"""The log of trials as a CSV file: one line a trial, the oldest first, units in the heads of its columns."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable
from datetime import datetime

from bustle.core.trials.trial import Logged
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
