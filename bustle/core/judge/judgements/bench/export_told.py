"""How far a foot may be off because of how the table is sent, and what room the table takes. No finding is about it."""

from __future__ import annotations

from math import ceil, sqrt

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.measures.export_error import BETWEEN_ROWS, export_error_mm, export_errors
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number

# How far a foot may stray between two rows.
STRAY_MM = 1.0
BYTES = 2


def _read(r: Reading) -> Told | None:
    return (export_error_mm(r), None) if r.kit.servos else None


def coarsest_row_s(r: Reading) -> float | None:
    """The longest time between rows at which a foot strays no further than STRAY_MM between them: what a straight line
    leaves out grows with the square of its length. None where nothing moves."""
    strays = r.of(export_errors)[BETWEEN_ROWS]
    return r.row_s * sqrt(STRAY_MM / strays) if strays > 1e-6 else None


def _working(r: Reading) -> Lines:
    coarsest = coarsest_row_s(r)
    spacing = () if coarsest is None else (
        f"rows up to {number(1000 * coarsest, 0)} ms apart keep a foot within {number(STRAY_MM)} mm between them",
    )  # fmt: skip
    return (
        "at the worst foot, each joint's error × its distance from the foot, added up",
        *(f"{source}: {number(mm, 2)} mm" for source, mm in r.of(export_errors).items()),
        f"= {number(sum(r.of(export_errors).values()), 2)} mm",
        *spacing,
    )


def table_bytes(r: Reading) -> int:
    """Of the rows as int16: one a servo and row."""
    return BYTES * r.samples * len(r.kit.servos)


def _bytes_read(r: Reading) -> Told | None:
    return (table_bytes(r) / 1000, None) if r.kit.servos else None


def _bytes_working(r: Reading) -> Lines:
    kept, took = r.project.controller.memory_kb, table_bytes(r) / 1000
    lines = [f"{r.samples} rows × {len(r.kit.servos)} servos × {BYTES} bytes = {number(took)} kB",
             f"while it plays, one row of {BYTES * len(r.kit.servos)} bytes"]  # fmt: skip
    if kept is None:
        return (*lines, "what the controller has for tables is not said")
    if took <= kept:
        return (*lines, f"fits into {number(kept)} kB")
    wider = ceil(r.project.controller.frame_period_ms * took / kept)
    coarsest = coarsest_row_s(r)
    lines.append(f"does not fit into {number(kept)} kB; rows {wider} ms apart would")
    if coarsest is not None and wider > 1000 * coarsest:
        lines.append("but so far apart a foot strays between them: stream the rows, or take a larger controller")
    return tuple(lines)


FIGURES = (
    FigureSpec("export_error_mm", "Foot off by the export", "mm", 1, _read, _working, ("table",), better=-1),
    FigureSpec("table_kb", "Table takes", "kB", 1, _bytes_read, _bytes_working, ("table",), better=-1),
)
