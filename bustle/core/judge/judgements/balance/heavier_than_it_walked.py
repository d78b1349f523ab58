"""F10: mass was added, or has moved up, and a walk that worked has not the room it had."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.falling.pushing_point import not_pushing, room_on_soles, sole_width_mm
from bustle.core.judge.finding import Finding, Severity
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.judge.ways import Found, Turn
from bustle.core.project.handling import Walked
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number

# A machine within these shares of the mass and height it walked with is the same machine.
MASS, HEIGHT = 0.02, 0.04
# Of a sole's width, as for the pushing point.
KEEP = 0.13


def _last(r: Reading) -> Walked | None:
    return next((w for w in r.project.walked if w.motion == r.motion.name and w.mass_g and w.com_height_mm), None)


def room_now(r: Reading) -> tuple[float, float] | None:
    """The room it has and the room to keep, mm; None where neither margin nor pushing point tells."""
    if r.balance == "static":
        worst = r.of(worst_margin)
        return (worst[0], r.project.limits.margin_mm) if worst else None
    if not_pushing(r):
        return None
    return float(np.min(r.of(room_on_soles))), KEEP * sole_width_mm(r)


def judged(r: Reading) -> str | None:
    if _last(r) is None:
        return "nobody has told that it walked like this, and how heavy it was"
    return None if room_now(r) else "neither its margin nor where it pushes tells whether it falls"


def heavier(r: Reading) -> Iterator[Finding]:
    """Stop where a changed machine has no room left, warn where less than is kept."""
    last, now = _last(r), room_now(r)
    assert last and now and last.mass_g and last.com_height_mm
    grams = 1000 * r.assembled.total_kg
    high = float(r.course.com_ground_mm[: r.samples, 2].mean())
    changed = abs(grams / last.mass_g - 1) > MASS or abs(high / last.com_height_mm - 1) > HEIGHT
    value, keep = now
    if not changed or value >= keep:
        return
    severity: Severity = "stop" if value <= 0 else "warn"
    had = "" if last.room_mm is None else f" of {length(last.room_mm)}"
    yield Finding(
        "F10", severity, "Its mass has changed since it walked",
        f"It weighed {number(last.mass_g, 0)} g with its mass {number(last.com_height_mm, 0)} mm up when it walked so, "
        f"and now {number(grams, 0)} g and {number(high, 0)} mm: {length(value)}{had} is left of its room; keep "
        f"{length(keep)}.", (), None, value, keep, "mm",
    )  # fmt: skip


JUDGEMENT = Judgement(
    "F10",
    "It weighs what it walked with",
    ("balance",),
    heavier,
    judged,
    ways=(Found("smallest_sway"), Found("pendulum_sway"), Turn("shift_x"), Turn("shift_y")),
)
