"""What a mass would do that is not there yet: to every motion's room and verdict, to the whole mass and its height."""

from __future__ import annotations

from dataclasses import dataclass

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.patches import patched
from bustle.core.evaluate import Plan, evaluate
from bustle.core.judge.judgements.balance.heavier_than_it_walked import room_now
from bustle.core.project.walker import Mass

# Of so many motions it is told.
MOST_MOTIONS = 16


@dataclass(frozen=True)
class Room:
    """Of one motion: its room before and after, mm, None where nothing tells it; what stops it after and did not."""

    motion: str
    before_mm: float | None
    after_mm: float | None
    stops: tuple[str, ...]


@dataclass(frozen=True)
class Part:
    """How far one mass moves the whole's mass: ahead, left and up, mm, against a machine without it."""

    name: str
    mass_g: float
    moves_mm: tuple[float, float, float]


@dataclass(frozen=True)
class WhatIf:
    mass_g: tuple[float, float]
    com_height_mm: tuple[float, float]
    motions: tuple[Room, ...]
    parts: tuple[Part, ...]
    project: CheckedProject


def what_if(project: CheckedProject, motion: str, mass: Mass) -> WhatIf:
    """With the mass added. Raises InputRefused naming what does not fit of it."""
    edit = {"op": "add", "path": "/walker/masses/-", "value": mass.model_dump(mode="json")}
    heavier = patched(project, [edit])
    one, other = evaluate(project, motion), evaluate(heavier, motion)
    rooms = []
    for name in [m.name for m in project.motions][:MOST_MOTIONS]:
        before, after = (evaluate(p, name) for p in (project, heavier))
        new = sorted({code for code, *_ in after.stops - before.stops})
        rooms.append(Room(name, _room(before), _room(after), tuple(new)))
    heights = tuple(float(p.reading.course.com_ground_mm[: p.reading.samples, 2].mean()) for p in (one, other))
    weights = tuple(1000 * p.reading.assembled.total_kg for p in (one, other))
    return WhatIf((weights[0], weights[1]), (heights[0], heights[1]), tuple(rooms), parts(other), heavier)


def parts(plan: Plan) -> tuple[Part, ...]:
    """Every mass of the frame, the one that moves the whole furthest first: m/(M − m)·(p − c)."""
    r = plan.reading
    whole, centre = r.assembled.total_kg, r.course.com_body_mm[: r.samples].mean(axis=0)
    found = []
    for entry in r.assembled.masses:
        if entry.limb >= 0 or entry.mass_kg >= whole:
            continue
        share = entry.mass_kg / (whole - entry.mass_kg)
        x, y, z = (float(share * (p - c)) for p, c in zip(entry.at, centre, strict=True))
        found.append(Part(entry.name, 1000 * entry.mass_kg, (x, y, z)))
    return tuple(sorted(found, key=lambda part: -round(sum(v * v for v in part.moves_mm), 6)))


def _room(plan: Plan) -> float | None:
    now = room_now(plan.reading)
    return now[0] if now else None
