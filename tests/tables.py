"""Every table that ships or starts with Bustle, as the hash of its CSV and of its C header."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable
from functools import partial
from pathlib import Path

from bustle.core.document.file import load_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import Project
from bustle.core.starting.starting_walkers import SHAPES
from bustle.formats import write_table
from tests.projects import ROOT, start

RECORD = Path(__file__).parent / "recorded" / "tables.json"


def shipped() -> dict[str, Callable[[], Project]]:
    """By name: the demo walkers, the faulty and sound projects, and every starting shape at its usual size."""
    files = {path.name.removesuffix(".bustle.json"): path for path in sorted((ROOT / "demo").rglob("*.bustle.json"))}
    found: dict[str, Callable[[], Project]] = {n: partial(load_project, p.read_bytes()) for n, p in files.items()}
    return found | {s.name: partial(start, s.name, "Recorded", s.usual_mm) for s in SHAPES.values()}


def hashes(names: Iterable[str]) -> dict[str, str]:
    """Project, motion and format → SHA-256 of the file."""
    found, projects = {}, shipped()
    for name in names:
        project = projects[name]()
        for motion in project.motions:
            plan = evaluate(project, motion.name)
            for kind in ("csv", "c"):
                found[f"{name}/{motion.name}.{kind}"] = hashlib.sha256(write_table(plan, kind, anyway=True)).hexdigest()
    return found
