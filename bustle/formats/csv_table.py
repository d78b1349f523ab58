"""Comma-separated values: one header row, one row per sample, no comments.

`time_s,<leg>.<joint>_deg,…` (`_mm` where a joint slides); a point as decimal mark, lines end in a newline.
"""

from __future__ import annotations

import csv
import io

from bustle.core.servo.joint_table import Table
from bustle.formats.table_format import TableFormat


def write(table: Table, notes: tuple[str, ...] = ()) -> bytes:
    """notes: as `#` lines after the last row; none, and nothing but rows is in it."""
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(["time_s", *(f"{c}_{unit}" for c, unit in zip(table.columns, table.units, strict=True))])
    for time, angles in zip(table.time_s, table.values, strict=True):
        rows.writerow([f"{time:.6f}", *(f"{angle:.{table.decimals}f}" for angle in angles)])
    out.writelines(f"# {line}\n" for line in notes)
    return out.getvalue().encode()


CSV = TableFormat("csv", "CSV", ".csv", "text/csv", "One header row, one row per sample, degrees.", None, write, True)
