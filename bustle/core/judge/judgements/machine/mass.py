"""A figure of the machine that no finding is about: what it weighs."""

from __future__ import annotations

from bustle.core.judge.figure import FigureSpec, Lines
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number

# Masses told one by one.
TOLD = 8


def _mass_working(r: Reading) -> Lines:
    groups: dict[str, float] = {}
    for entry in r.assembled.masses:
        kind = "legs and their servos" if entry.limb >= 0 else entry.name
        groups[kind] = groups.get(kind, 0.0) + entry.mass_kg * 1000
    largest = sorted(groups.items(), key=lambda item: -item[1])
    lines = [f"{name}: {number(grams, 0)} g" for name, grams in largest[:TOLD]]
    if len(largest) > TOLD:
        lines.append(f"{len(largest) - TOLD} more: {number(sum(g for _, g in largest[TOLD:]), 0)} g")
    return *lines, f"together {number(r.assembled.total_kg * 1000, 0)} g"


MASS = FigureSpec(
    "mass_g",
    "Mass",
    "g",
    0,
    lambda r: (r.assembled.total_kg * 1000, None),
    _mass_working,
    ("frame", "rail"),
    better=-1,
    compared=True,
)
FIGURES = (MASS,)
