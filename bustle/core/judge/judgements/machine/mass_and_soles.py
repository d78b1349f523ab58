"""Figures of the machine that no finding is about: what it weighs, and how its soles lie."""

from __future__ import annotations

import numpy as np

from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.measures.foot_slip import sole_tilt
from bustle.core.kinds.legs import FAMILIES
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


def _tilt_read(r: Reading) -> Told | None:
    if not any(FAMILIES[limb.family].pose for limb in r.project.walker.legs):
        return None
    return float(np.degrees(r.of(sole_tilt).max(initial=0.0))), None


def _tilt_working(r: Reading) -> Lines:
    name = r.project.walker.limbs[int(np.argmax(r.of(sole_tilt).max(axis=1)))].name
    return (f"{name}: the turn left over between its sole and how it should lie, at its most in stance",)


MASS = FigureSpec(
    "mass_g",
    "Mass",
    "g",
    0,
    lambda r: (r.assembled.total_kg * 1000, None),
    _mass_working,
    ("frame", "rail"),
    better=-1,
)
SOLE_TILT = FigureSpec("sole_tilt_deg", "Sole out of true", "°", 1, _tilt_read, _tilt_working, better=-1)

FIGURES = (MASS, SOLE_TILT)
