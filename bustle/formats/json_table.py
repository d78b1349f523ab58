"""The table as JSON, with a schema of its own (`schema()`): values by row, and all there is to say of the file."""

from __future__ import annotations

import json
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from bustle.core.servo.joint_table import Table
from bustle.formats.table_format import TableFormat


class Column(BaseModel):
    """goes_to: servo, board and channel; empty where the column is a joint angle."""

    model_config = ConfigDict(extra="forbid")

    name: str
    unit: Literal["deg", "mm", "us", "tick", "count"]
    goes_to: str = ""


class TableFile(BaseModel):
    """rows: one list a row, a value a column, each row_s after the one before."""

    model_config = ConfigDict(extra="forbid")

    format: Literal["bustle-table"]
    version: Literal[1]
    walker: str
    motion: str
    duration_s: float = Field(gt=0)
    row_s: float = Field(gt=0)
    repeats: bool
    columns: list[Column]
    rows: list[list[float]]
    geared: list[str]
    assumed: list[str]
    notes: list[str]


def schema() -> dict[str, Any]:
    """What a file of this format is, as JSON Schema."""
    return TableFile.model_json_schema()


def write(table: Table, notes: tuple[str, ...] = ()) -> bytes:
    places = table.channels or ("",) * len(table.columns)
    found = TableFile(
        format="bustle-table",
        version=1,
        walker=table.project,
        motion=table.motion,
        duration_s=table.duration_s,
        row_s=table.row_s,
        repeats=table.repeats,
        columns=[
            Column.model_validate({"name": c, "unit": u, "goes_to": w})
            for c, u, w in zip(table.columns, table.units, places, strict=True)
        ],
        rows=table.values.tolist(),
        geared=list(table.geared),
        assumed=[*filter(None, [table.held.removeprefix(", ")]), *table.assumed],
        notes=list(notes),
    )
    return (json.dumps(found.model_dump(mode="json"), ensure_ascii=False, allow_nan=False) + "\n").encode()


JSON_TABLE = TableFormat(
    "json",
    "JSON",
    ".json",
    "application/json",
    "Rows, columns and all that is to be said of them; has a schema.",
    None,
    write,
)
