"""How far a foot may be from the plan because of how the table is sent. No finding is about it."""

from __future__ import annotations

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.servo.export_error import export_error_mm, export_errors
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number


def _read(r: Reading) -> Told | None:
    return (export_error_mm(r), None) if r.kit.servos else None


def _working(r: Reading) -> Lines:
    return (
        "at the worst foot, each joint's error × its distance from the foot, added up",
        *(f"{source}: {number(mm, 2)} mm" for source, mm in r.of(export_errors).items()),
    )


FIGURES = (FigureSpec("export_error_mm", "Foot off by the export", "mm", 1, _read, _working, ("table",), better=-1),)
