"""A Python module for small controllers: the rows as one bytes literal, read in place.

No list of rows is made: `row(n, into)` writes one row into an array that is there already.
"""

from __future__ import annotations

import re

from bustle.core.servo.joint_table import Table
from bustle.formats.c_table import columns_told, units_told, whole_values
from bustle.formats.table_format import TableFormat

PER_LINE = 24


def _comment(text: str) -> str:
    """One line of plain letters."""
    return re.sub(r"[^ -~]", "?", text.replace("µ", "u").replace("°", " deg").replace("−", "-"))


def write(table: Table, notes: tuple[str, ...] = ()) -> bytes:
    """Raises InputRefused where a value does not fit 16 bits."""
    values = whole_values(table)
    data = values.astype("<i2").tobytes()
    rows, columns = values.shape
    ends = "the first row follows the last" if table.repeats else "stay at the last row"
    lines = [
        f"# {_comment(table.project)}: {_comment(table.motion)}{_comment(table.held)}",
        f"# {rows} rows of {columns}, {table.duration_s:.6g} s; {ends}. {units_told(table)}",
        f"# Held in memory: {len(data)} bytes of rows, and one row of {2 * columns} bytes while it plays.",
        *(f"# {n:2d}  {_comment(line)}" for n, line in enumerate(columns_told(table))),
        *(f"# {_comment(line)}" for line in (*table.geared, *table.assumed, *notes)),
        "# First power-up on a stand, feet in the air, a stop switch within reach.",
        "",
        f"ROWS = {rows}",
        f"COLUMNS = {columns}",
        f"ROW_US = {round(table.row_s * 1e6)}",
        f"REPEATS = {table.repeats}",
        f"PER_UNIT = {10 if table.decimals else 1}",
        f"NAMES = ({', '.join(repr(c) for c in table.columns)},)",
        "DATA = (",
        *(f"    {data[k : k + PER_LINE]!r}" for k in range(0, len(data), PER_LINE)),
        ")",
        "",
        "",
        "def row(n, into):",
        '    """Write row n into a list or array of COLUMNS whole numbers, PER_UNIT to the unit."""',
        "    at = 2 * COLUMNS * n",
        "    for k in range(COLUMNS):",
        "        value = DATA[at] | DATA[at + 1] << 8",
        "        into[k] = value - 65536 if value > 32767 else value",
        "        at += 2",
        "    return into",
    ]
    return ("\n".join(lines) + "\n").encode("ascii")


PYTHON_MODULE = TableFormat(
    "python", "Python module", ".py", "text/x-python", "Rows as one bytes literal for a small controller.", 1, write
)
