"""The walker as rigid parts: what moves with each hinge of each limb, and with the frame, as one mass each."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.machine.limb_groups import Group
from bustle.core.machine.masses import Entry, inertia_kg_m2
from bustle.core.machine.sections import Place


@dataclass(frozen=True)
class RigidPart:
    """kg; centre (3,) m and inertia (3, 3) kg·m² about it, in the part's own frame."""

    kg: float
    centre: Array
    inertia: Array


NOTHING = RigidPart(0.0, np.zeros(3), np.zeros((3, 3)))


def together(parts: Iterable[RigidPart]) -> RigidPart:
    """Several parts that move as one: by the parallel axis theorem, I = Σ Iᵢ + mᵢ·(|d|²·1 − d·dᵀ), d from the common
    centre."""
    listed = [part for part in parts if part.kg > 0]
    kg = sum(part.kg for part in listed)
    if not kg:
        return NOTHING
    centre = np.asarray(sum(part.kg * part.centre for part in listed) / kg)
    inertia = np.zeros((3, 3))
    for part in listed:
        d = part.centre - centre
        inertia = inertia + part.inertia + part.kg * (d @ d * np.eye(3) - np.outer(d, d))
    return RigidPart(kg, centre, inertia)


def frame_part(entries: Sequence[Entry], sections: Mapping[str, Place]) -> RigidPart:
    """All that rides on the frame's sections, where they are put together, in the body's axes."""
    riding = ((e, sections[e.on].turn) for e in entries if e.limb < 0)
    return together(
        RigidPart(e.mass_kg, np.array(e.at) / 1000, turn @ inertia_kg_m2(e, np.zeros(3)) @ turn.T) for e, turn in riding
    )


@dataclass(frozen=True)
class PartsOfGroup:
    """A group's limbs, hinge by hinge: kg (L, H), centres (L, H, 3) m and inertias (L, H, 3, 3) kg·m² about them, in
    the frame behind the hinge."""

    kg: Array
    centres: Array
    inertias: Array


def limb_parts(group: Group, entries: Sequence[Entry]) -> PartsOfGroup:
    """What moves with each hinge of each limb."""
    limbs, hinges = len(group.members), group.built.offsets.shape[1]
    kg, centres, inertias = np.zeros((limbs, hinges)), np.zeros((limbs, hinges, 3)), np.zeros((limbs, hinges, 3, 3))
    rows = {member: row for row, member in enumerate(group.members.tolist())}
    listed: dict[tuple[int, int], list[RigidPart]] = {}
    for e in entries:
        if e.limb in rows and e.link < hinges:
            offset = group.built.offsets[rows[e.limb], e.link]
            centre = (e.along * offset + np.array(e.at)) / 1000
            part = RigidPart(e.mass_kg, centre, inertia_kg_m2(e, offset))
            listed.setdefault((rows[e.limb], e.link), []).append(part)
    for at, parts in listed.items():
        whole = together(parts)
        kg[at], centres[at], inertias[at] = whole.kg, whole.centre, whole.inertia
    return PartsOfGroup(kg, centres, inertias)
