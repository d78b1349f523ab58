"""Projects that tests start from, and edits of them."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from bustle.core.document import load_project, parse_project
from bustle.core.project import Project, document
from bustle.core.shapes import start

ROOT = Path(__file__).resolve().parents[1]


def demo(name: str) -> Project:
    return load_project((ROOT / "demo" / f"{name}.bustle.json").read_bytes())


def hexapod() -> Project:
    return start("six_sprawled", "Test hexapod", 200.0)


def quadruped() -> Project:
    return start("four_upright", "Test quadruped", 200.0)


def changed(project: Project, changes: dict[str, Any]) -> Project:
    """The project with the fields at these slash paths set, e.g. {"motions/0/lift_mm": 30.0}."""
    values = document(project)
    for path, value in changes.items():
        *way, last = [int(part) if part.isdigit() else part for part in path.split("/")]
        target: Any = values
        for part in way:
            target = target[part]
        target[last] = value
    return parse_project(values)
