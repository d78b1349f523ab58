"""Open formats out. A new format is one file here and one line in this registry."""

from __future__ import annotations

from bustle.core.evaluate import Plan
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


def write_table(plan: Plan, format_name: str, decimals: int = 2) -> bytes:
    """The plan's table in that format. Raises InputRefused for a format that is not there."""
    kind = table_format(format_name)
    return kind.write(joint_table(plan.reading, decimals if kind.decimals is None else kind.decimals))


__all__ = ["TABLE_FORMATS", "TableFormat", "table_format", "write_table"]
