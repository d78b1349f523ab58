"""Open formats out. A new format is one file here and one line in this registry."""

from __future__ import annotations

from bustle.core.document.file import project_hash
from bustle.core.evaluate import Plan
from bustle.core.falling.fall import fall_told
from bustle.core.judge.playing import CannotBePlayed, told
from bustle.core.project.project import Project
from bustle.core.servo.joint_check import JointCheck
from bustle.core.servo.servo_table import table_of
from bustle.core.words.problems import refuse
from bustle.formats.c_table import C_HEADER
from bustle.formats.csv_table import CSV
from bustle.formats.json_table import JSON_TABLE
from bustle.formats.python_table import PYTHON_MODULE
from bustle.formats.table_format import TableFormat

TABLE_FORMATS: dict[str, TableFormat] = {f.name: f for f in (CSV, JSON_TABLE, C_HEADER, PYTHON_MODULE)}


def table_format(name: str) -> TableFormat:
    """The format of that name. Raises InputRefused naming those there are."""
    if name not in TABLE_FORMATS:
        raise refuse("format", f"must be one of {', '.join(TABLE_FORMATS)}, got {name[:40]!r}")
    return TABLE_FORMATS[name]


def write_table(
    plan: Plan,
    format_name: str,
    decimals: int = 2,
    anyway: bool = False,
    facts: bool = False,
    values: str = "angles",
    cut: bool = False,
    revision: int | None = None,
) -> bytes:
    """The plan's table in that format, with what stops the walk told in front where the format has room.

    anyway: even where it cannot be played. facts: told in the file too where a file beside it says it otherwise.
    values: "angles", "pulses" or "ticks". cut: what is beyond a limit is held there, and told. revision: told in it.
    Raises InputRefused for a format that is not there, CannotBePlayed naming the first row.
    """
    kind = table_format(format_name)
    known = told(plan.reading)
    if known.refused and not (anyway or cut):
        raise CannotBePlayed(known.refused)
    table = table_of(plan.reading, values, decimals if kind.decimals is None else kind.decimals, cut)
    notes = [
        *origin(plan.reading.project, revision),
        *fall_told(plan.reading),
        *([f"Not to be played: {known.refused}"] if known.refused and not cut else []),
        *(f"Cut: {line}" for line in table.cut),
        *(f"{f.severity.upper()} {f.code}: {f.message}" for f in (*known.bench, *known.stops)),
    ]
    if kind.beside:
        about = [
            f"{table.project}: {table.motion}{table.held}, {len(table.values)} rows of {table.row_s * 1000:g} ms, "
            + ("repeats" if table.repeats else "stays at its last row"),
            *table.geared,
            *(f"{c}: {where}" for c, where in zip(table.columns, table.channels, strict=False)),
            *table.assumed,
        ]
        notes = [*about, *notes] if facts else []
    return kind.write(table, tuple(notes))


def write_check(check: JointCheck, project: Project, format_name: str) -> bytes:
    """The joint check's table in that format. Raises InputRefused for a format that is not there."""
    kind = table_format(format_name)
    if kind.beside:
        return kind.write(check.table, ())
    return kind.write(check.table, (*origin(project), "Buzzes or grows hot: stop."))


def origin(project: Project, revision: int | None = None) -> list[str]:
    """Which project a file was written from, and what would stop the machine."""
    switch = project.electrics.stop_switch
    return [
        f"From {project.name}, {f'revision {revision}, ' if revision else ''}{project_hash(project)[:12]}.",
        f"Stop switch: {switch.where or 'within reach'}." if switch else "Stop switch: none declared.",
    ]


__all__ = ["TABLE_FORMATS", "TableFormat", "table_format", "write_check", "write_table"]
