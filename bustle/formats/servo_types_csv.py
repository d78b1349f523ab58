"""Servo types as CSV, out and in: a line a type, a column a field of its sheet; empty where nothing is said.

Other voltages stand in one cell, "7.4 V 2.1 N·m 420 °/s" each, with a semicolon between.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Sequence
from typing import Any

from pydantic import ValidationError

from bustle.core.project.parts import ServoType
from bustle.core.words.problems import InputRefused, problems_of, refuse
from bustle.formats.csv_in import csv_lines, csv_text
from bustle.formats.parts_csv import plain_cell

MOST_BYTES = 200_000
MOST_TYPES = 40
AT = re.compile(r"\s*([\d.]+)\s*V\s+([\d.]+)\s*N·m\s+([\d.]+)\s*°/s\s*")
WORDS = ("name", "signal", "unpulsed")
WHOLE = ("counts_per_turn", "middle_count", "spline_teeth")


def write_servo_types(types: Sequence[ServoType]) -> bytes:
    out = io.StringIO()
    rows = csv.writer(out, lineterminator="\n")
    rows.writerow(ServoType.model_fields)
    for sheet in types:
        rows.writerow([_cell(name, value) for name, value in sheet])
    return out.getvalue().encode()


def _cell(name: str, value: Any) -> str:
    if value is None:
        return ""
    if name == "at":
        return "; ".join(f"{a.volts:g} V {a.stall_torque_nm:g} N·m {a.no_load_speed_deg_s:g} °/s" for a in value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    return plain_cell(value) if isinstance(value, str) else f"{value:g}"


def read_servo_types(data: bytes) -> list[ServoType]:
    """Raises InputRefused naming the line and the column."""
    rows = csv_lines(csv_text(data, "list of servo types", MOST_BYTES))
    _, heads = next(rows, (1, []))
    if "name" not in heads:
        raise refuse("", "The first line must name the columns, and one of them is name.")
    unknown = [c for c in heads if c not in ServoType.model_fields]
    if unknown:
        raise refuse(unknown[0][:60], f"is no column of a servo type; those are {', '.join(ServoType.model_fields)}")
    lines = list(rows)
    if not 1 <= len(lines) <= MOST_TYPES:
        raise refuse("", f"The file has {len(lines)} servo types; it must have 1 to {MOST_TYPES}.")
    return [_sheet(n, dict(zip(heads, row, strict=False))) for n, row in lines]


def _sheet(line: int, cells: dict[str, str]) -> ServoType:
    values = {name: _value(line, name, cell.strip()) for name, cell in cells.items() if cell.strip()}
    try:
        return ServoType.model_validate(values)
    except ValidationError as error:
        found = problems_of(error)
        raise InputRefused([type(p)(f"line {line}, {p.path}", p.sentence) for p in found]) from error


def _value(line: int, name: str, cell: str) -> Any:
    if name in WORDS:
        return cell.removeprefix("'")
    if name == "reads_back":
        return cell.casefold() in ("yes", "true", "1")
    if name == "at":
        found = [AT.fullmatch(part) for part in cell.split(";") if part.strip()]
        if not all(found):
            raise refuse(f"line {line}, at", "must read like 7.4 V 2.1 N·m 420 °/s, with a semicolon between two")
        keys = ("volts", "stall_torque_nm", "no_load_speed_deg_s")
        return [dict(zip(keys, map(float, m.groups()), strict=True)) for m in found if m]
    try:
        return int(cell) if name in WHOLE else float(cell.replace(",", "."))
    except ValueError as error:
        raise refuse(f"line {line}, {name}", f"must be a number, got {cell[:40]!r}") from error
