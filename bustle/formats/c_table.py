"""A self-contained C99 header: the table as `int16_t` tenths of a degree, with what is needed to play it."""

from __future__ import annotations

import re

import numpy as np

from bustle.core.walk.joint_table import Table
from bustle.core.words.problems import refuse
from bustle.formats.table_format import TableFormat

_LETTERS = str.maketrans("äöüßéèêàáâçñóòôíìîúùû", "aousEeeaaacnoooiiiuuu".lower())


def identifier(text: str) -> str:
    """Text → a C identifier in lower case; "walk" where nothing of it can be kept."""
    plain = re.sub(r"[^a-z0-9]+", "_", text.lower().translate(_LETTERS)).strip("_")
    return re.sub(r"^(?=[0-9])", "n", plain) or "walk"


def _comment(text: str) -> str:
    """Text that can neither end the comment nor leave the basic characters nor form a trigraph."""
    kept = "".join(ch if 32 <= ord(ch) < 127 and ch != "\\" else "?" for ch in text)
    kept = re.sub(r"\?{2,}", "?", kept)
    return kept.replace("*/", "* /").replace("/*", "/ *")


def write(table: Table, notes: tuple[str, ...] = ()) -> bytes:
    """Raises InputRefused if an angle does not fit int16_t tenths (beyond ±3276.7°)."""
    tenths = np.rint(table.values * 10).astype(int)
    if np.abs(tenths).max(initial=0) > 32767:
        raise refuse("motion", f"{table.motion} has a value beyond ±3276.7, which this format cannot hold; take CSV")
    name = identifier(f"{table.project} {table.motion}")
    big = name.upper()
    rows, columns = tenths.shape
    slides = ", tenths of a millimetre where marked mm" if "mm" in table.units else ""
    if table.repeats:
        lasts, after = "one cycle of", "After the last row comes the first again."
    else:
        lasts, after = "from first to last", "It ends with its last row: stay there, do not begin again."
    lines = [
        f"/* {_comment(table.project)}: {_comment(table.motion)}",
        " *",
        f" * Joint angle table, {rows} rows of {columns} joints, {lasts} {table.duration_s:.6g} s.",
        f" * Unit: tenths of a degree{slides}. {after}",
        " * Columns:",
        *(
            f" *   {n:2d}  {column}{' mm' if unit == 'mm' else ''}"
            for n, (column, unit) in enumerate(zip(table.columns, table.units, strict=True))
        ),
        *(f" * {_comment(line)}" for line in table.geared),
        *([" *", *(f" * {_comment(line)}" for line in notes)] if notes else []),
        " *",
        " * First power-up on a stand, feet in the air, a stop switch within reach.",
        " */",
        f"#ifndef {big}_H",
        f"#define {big}_H",
        "",
        "#include <stdint.h>",
        "",
        f"#define {big}_ROWS {rows}",
        f"#define {big}_JOINTS {columns}",
        f"#define {big}_ROW_US {round(table.row_s * 1e6)}UL /* time from row to row, microseconds */",
        f"#define {big}_REPEATS {int(table.repeats)} /* whether the first row follows the last */",
        f"#define {big}_UNITS_PER_DEGREE 10",
        "",
        *(f"#define {big}_{identifier(column).upper()} {n}" for n, column in enumerate(table.columns)),
        "",
        f"static const int16_t {name}[{big}_ROWS][{big}_JOINTS] = {{",
        *("    {" + ", ".join(f"{v:5d}" for v in row) + "}," for row in tenths),
        "};",
        "",
        "#endif",
    ]
    return ("\n".join(lines) + "\n").encode("ascii")


C_HEADER = TableFormat("c", "C header", ".h", "text/x-c", "A const int16_t table in tenths of a degree.", 1, write)
