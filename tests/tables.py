"""Every table that ships or starts with Bustle, as the hash of its CSV and of its C header."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from pathlib import Path

from bustle.core.document.file import load_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import Project
from bustle.core.starting.starting_walkers import SHAPES
from bustle.formats import write_table
from tests.projects import ROOT, start

RECORD = Path(__file__).parent / "recorded" / "tables.json"


def shipped() -> Iterator[tuple[str, Project]]:
    """The demo walkers, the faulty and sound projects, and every starting shape at its usual size."""
    for path in sorted((ROOT / "demo").rglob("*.bustle.json")):
        yield path.name.removesuffix(".bustle.json"), load_project(path.read_bytes())
    for shape in SHAPES.values():
        yield shape.name, start(shape.name, "Recorded", shape.usual_mm)


def hashes() -> dict[str, str]:
    """Project, motion and format → SHA-256 of the file."""
    found = {}
    for name, project in shipped():
        for motion in project.motions:
            plan = evaluate(project, motion.name)
            for kind in ("csv", "c"):
                found[f"{name}/{motion.name}.{kind}"] = hashlib.sha256(write_table(plan, kind, anyway=True)).hexdigest()
    return found
