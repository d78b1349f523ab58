"""A self-contained C99 and C++17 header: the table as `int16_t` in flash, with what is needed to play it."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from bustle.core.servo.joint_table import Table
from bustle.core.words.problems import refuse
from bustle.formats.table_format import TableFormat

# Of int16_t; and bytes of an array that every small controller takes.
MOST = 32767
MOST_BYTES = 32_000

_LETTERS = str.maketrans("äöüßéèêàáâçñóòôíìîúùû", "aousEeeaaacnoooiiiuuu".lower())


def identifier(text: str) -> str:
    """Text → a C identifier in lower case; "walk" where nothing of it can be kept."""
    plain = re.sub(r"[^a-z0-9]+", "_", text.lower().translate(_LETTERS)).strip("_")
    return re.sub(r"^(?=[0-9])", "n", plain) or "walk"


def _apart(columns: Sequence[str]) -> list[str]:
    """An identifier for each column; of two that come to one the later is numbered."""
    found: list[str] = []
    for n, column in enumerate(columns):
        name = identifier(column).upper()
        found.append(name if name not in found else f"{name}_AT_{n}")
    return found


def _comment(text: str) -> str:
    """Text that can neither end the comment nor leave the basic characters nor form a trigraph."""
    text = text.replace("µ", "u").replace("°", " deg").replace("−", "-")
    kept = "".join(ch if 32 <= ord(ch) < 127 and ch != "\\" else "?" for ch in text)
    kept = re.sub(r"\?{2,}", "?", kept)
    return kept.replace("*/", "* /").replace("/*", "/ *")


def write(table: Table, notes: tuple[str, ...] = ()) -> bytes:
    """Raises InputRefused where a value does not fit int16_t."""
    values = whole_values(table)
    name = identifier(f"{table.project} {table.motion}")
    big = name.upper()
    rows, columns = values.shape
    if table.repeats:
        lasts, after = "one cycle of", "After the last row comes the first again."
    else:
        lasts, after = "from first to last", "It ends with its last row: stay there, do not begin again."
    each = max(1, MOST_BYTES // (2 * max(1, columns)))
    blocks = [values[k : k + each] for k in range(0, rows, each)]
    head = [
        f"/* {_comment(table.project)}: {_comment(table.motion)}{_comment(table.held)}",
        " *",
        f" * {rows} rows of {columns} {'joints' if table.of_joints else 'servos'}, {lasts} {table.duration_s:.6g} s,",
        f" * {2 * rows * columns} bytes. {units_told(table)} {after}",
        " * Columns:",
        *(f" *   {n:2d}  {_comment(line)}" for n, line in enumerate(columns_told(table))),
        *(f" * {_comment(line)}" for line in (*table.geared, *table.assumed)),
        *([" *", *(f" * {_comment(line)}" for line in notes)] if notes else []),
        " *",
        f" * {big}_AT(row, column) gives a value. Where a controller's flash has an address space of its own, define",
        " * BUSTLE_FLASH (what puts a table there) and BUSTLE_READ(address) before this header.",
        " *",
        " * First power-up on a stand, feet in the air, a stop switch within reach.",
        " */",
        f"#ifndef {big}_H",
        f"#define {big}_H",
        "",
        "#include <stdint.h>",
        "",
        "#ifndef BUSTLE_READ",
        "#define BUSTLE_READ(address) (*(address))",
        "#endif",
        "#ifndef BUSTLE_FLASH",
        "#define BUSTLE_FLASH",
        "#endif",
        "",
        f"#define {big}_ROWS {rows}",
        f"#define {big}_COLUMNS {columns}",
        f"#define {big}_ROW_US {round(table.row_s * 1e6)}UL /* time from row to row, microseconds */",
        f"#define {big}_REPEATS {int(table.repeats)} /* whether the first row follows the last */",
        f"#define {big}_PER_UNIT {10 if table.decimals else 1} /* what is stored to a degree, mm or microsecond */",
        "",
        *(f"#define {big}_{name} {n}" for n, name in enumerate(_apart(table.columns))),
        "",
    ]
    body = []
    for n, block in enumerate(blocks):
        body += [
            f"static const int16_t {_block(name, n)}[{len(block)}][{columns}] BUSTLE_FLASH = {{",
            *("    {" + ", ".join(f"{v:5d}" for v in row) + "}," for row in block),
            "};",
            "",
        ]
    return ("\n".join([*head, *body, *_reading(name, len(blocks), each), "", "#endif"]) + "\n").encode("ascii")


def _block(name: str, n: int) -> str:
    return f"{name}_{n}"


def _reading(name: str, blocks: int, each: int) -> list[str]:
    """The macro that reads a value, whatever block it is in."""
    found = f"BUSTLE_READ(&{_block(name, blocks - 1)}[(row) - {each * (blocks - 1)}][column])"
    for n in range(blocks - 2, -1, -1):
        own = f"BUSTLE_READ(&{_block(name, n)}[(row) - {each * n}][column])"
        found = f"((row) < {each * (n + 1)} ? {own} : \\\n    {found})"
    return [f"#define {name.upper()}_AT(row, column) ((int16_t){found})"]


def whole_values(table: Table) -> NDArray[np.int64]:
    """The values as they are stored in int16_t: tenths, or whole where they have no decimals.

    Raises InputRefused where one does not fit.
    """
    found = np.rint(table.values * (10 if table.decimals else 1)).astype(np.int64)
    if np.abs(found).max(initial=0) > MOST:
        most = MOST / 10 if table.decimals else MOST
        raise refuse("motion", f"{table.motion} has a value beyond ±{most:g}, which this format cannot hold; take CSV")
    return found


def units_told(table: Table) -> str:
    if not table.of_joints:
        unit = {"us": "microseconds of pulse", "tick": "ticks of the board", "count": "counts of the bus"}
        told = " and ".join(dict.fromkeys(unit[u] for u in table.units))
        return f"Unit: {'tenths of ' if table.decimals else ''}{told}."
    slides = ", tenths of a millimetre where marked mm" if "mm" in table.units else ""
    return f"Unit: tenths of a degree{slides}."


def columns_told(table: Table) -> list[str]:
    """Each column with its unit where they differ, and where it goes."""
    marks = [f" {u}" if u == "mm" else "" for u in table.units]
    where = [f": {w}" for w in table.channels] or [""] * len(table.columns)
    return [f"{c}{m}{w}" for c, m, w in zip(table.columns, marks, where, strict=True)]


C_HEADER = TableFormat(
    "c",
    "C header",
    ".h",
    "text/x-c",
    "Rows in flash as int16_t, tenths of a degree or microsecond, or whole ticks.",
    1,
    write,
)
