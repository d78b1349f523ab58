"""What a fall comes to: how far the mass drops until the machine lies on its frame, and with what energy, m·g·Δh."""

from __future__ import annotations

from dataclasses import dataclass

from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import length, number

# Heavier or taller, it is caught by more than a hand.
HEAVY_KG, TALL_MM = 3.0, 400.0


@dataclass(frozen=True)
class Fall:
    drop_mm: float
    energy_j: float
    kg: float
    tall_mm: float


def fall(r: Reading) -> Fall | None:
    """Of a motion that keeps moving; None of one that may be stopped anywhere, and of what weighs nothing."""
    kg = r.assembled.total_kg
    if r.balance == "static" or not kg or r.project.walker.held != "free":
        return None
    high = float(r.course.com_ground_mm[: r.samples, 2].max())
    lies = min(r.project.walker.sections[0].size_mm) / 2
    drop = max(high - lies, 0.0)
    return Fall(drop, kg * GRAVITY * drop / 1000, kg, float(r.course.body.at[: r.samples, 2].max()))


def fall_told(r: Reading) -> tuple[str, ...]:
    """The caution in words, for paper and files."""
    found = r.of(fall)
    if found is None:
        return ()
    said = f"If it falls it drops {length(found.drop_mm)} with {number(found.energy_j)} J"
    if found.kg > HEAVY_KG or found.tall_mm > TALL_MM:
        return (f"{said}: a tether or a second person, a clear floor, nobody underneath, pets out.",)
    return (f"{said}: a clear floor, a hand near it, nobody underneath.",)
