"""Open formats out. A new format is one file here and one line in this registry."""

from __future__ import annotations

from bustle.core.evaluate import Plan
from bustle.core.judge.playing import CannotBePlayed, told
from bustle.core.walk.joint_table import joint_table
from bustle.core.words.problems import refuse
from bustle.formats.c_table import C_HEADER
from bustle.formats.csv_table import CSV
from bustle.formats.table_format import TableFormat

TABLE_FORMATS: dict[str, TableFormat] = {f.name: f for f in (CSV, C_HEADER)}


def table_format(name: str) -> TableFormat:
    """The format of that name. Raises InputRefused naming those there are."""
    if name not in TABLE_FORMATS:
        raise refuse("format", f"must be one of {', '.join(TABLE_FORMATS)}, got {name[:40]!r}")
    return TABLE_FORMATS[name]


def write_table(plan: Plan, format_name: str, decimals: int = 2, anyway: bool = False, facts: bool = False) -> bytes:
    """The plan's table in that format, with what stops the walk told in front where the format has room.

    anyway: even where it cannot be played. facts: told in the file too where a file beside it says it otherwise.
    Raises InputRefused for a format that is not there, CannotBePlayed naming the first row.
    """
    kind = table_format(format_name)
    known = told(plan.reading)
    if known.refused and not anyway:
        raise CannotBePlayed(known.refused)
    table = joint_table(plan.reading, decimals if kind.decimals is None else kind.decimals)
    notes = ([f"Not to be played: {known.refused}"] if known.refused else []) + [
        f"{f.severity.upper()} {f.code}: {f.message}" for f in known.stops
    ]
    if kind.beside:
        about = [
            f"{table.project}: {table.motion}, {len(table.values)} rows of {table.row_s * 1000:g} ms, "
            + ("repeats" if table.repeats else "stays at its last row"),
            *table.geared,
        ]
        notes = [*about, *notes] if facts else []
    return kind.write(table, tuple(notes))


__all__ = ["TABLE_FORMATS", "TableFormat", "table_format", "write_table"]
