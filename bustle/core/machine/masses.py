"""The mass ledger: what weighs how much, where, and the centre of mass as the legs move."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from bustle.core.geometry.arrays import Array, Indices
from bustle.core.kinds.drives import DRIVES
from bustle.core.machine.limb_groups import Group, chain_of
from bustle.core.machine.limb_solution import Solved
from bustle.core.machine.sections import Place
from bustle.core.project.parts import ServoType
from bustle.core.project.walker import Drive, DriveServo, Limb, Walker

GRAVITY = 9.80665

# How dense servos and cells are, kg/m³: what has a mass and no size is taken as a cube of it.
COMPACT_KG_M3 = 1800.0

NOWHERE = (0.0, 0.0, 0.0)


@dataclass(frozen=True)
class Entry:
    """One mass. limb −1 rides on the body at `at` (mm); otherwise behind hinge `link` of the limb's chain.

    On a link, `along` is the share of the link at which it sits and `at` is added in the link's own frame.
    on: the part that carries it, by its path. box_mm: its size, or zero; rod_mm: the radius of a link, or zero; round:
    whether its size is that of a round standing on end; servo: whether it is one.
    """

    name: str
    mass_kg: float
    limb: int
    link: int
    along: float
    at: tuple[float, float, float]
    on: str
    box_mm: tuple[float, float, float] = (0.0, 0.0, 0.0)
    rod_mm: float = 0.0
    round: bool = False
    servo: bool = False


def ledger(
    walker: Walker, servo_types: Sequence[ServoType], parts: list[Group], sections: Mapping[str, Place]
) -> list[Entry]:
    """Every mass of the walker: the listed ones, the links (at their middles) and the servos.

    A servo sits at the joint it turns, on the part that its drive or its own `sits_on` says. What rides on a section
    is placed where the section is.
    """
    chains = chain_of(parts)
    places = {
        f"{m.name}/{k.name}": (i, chains[i].hinge_of_link(n))
        for i, m in enumerate(walker.limbs)
        for n, k in enumerate(m.links)
    }
    types = {s.name: s for s in servo_types}
    entries = []
    for mass in walker.masses:
        if mass.on in places:
            entries.append(
                Entry(mass.name, mass.mass_g / 1000, *places[mass.on], 0.0, mass.at_mm, mass.on, mass.size_mm)
            )
        else:
            spot = sections[mass.on].carry(np.array(mass.at_mm))
            section = next(s for s in walker.sections if s.name == mass.on)
            size, shape = (section.size_mm, section.shape) if mass.fills else (mass.size_mm, "box")
            entries.append(_on_frame(mass.name, mass.mass_g / 1000, spot, mass.on, size, shape == "round"))
    for i, limb in enumerate(walker.limbs):
        for n, part in enumerate(limb.links):
            if part.mass_g:
                hinge = chains[i].hinge_of_link(n)
                name, path = f"{limb.name} {part.name}", f"{limb.name}/{part.name}"
                entries.append(
                    Entry(name, part.mass_g / 1000, i, hinge, 0.5, NOWHERE, path, rod_mm=max(part.radius_mm, 0.5))
                )
    joints = {f"{m.name}/{j.name}": (i, n) for i, m in enumerate(walker.limbs) for n, j in enumerate(m.joints)}
    for drive in walker.drives:
        for k, servo in enumerate(drive.servos):
            at, joint = joints[drive.joints[min(k, len(drive.joints) - 1)]]
            leg = walker.limbs[at]
            carrier = servo_carrier(leg, drive, servo, joint)
            mass_kg = types[servo.type].mass_g / 1000
            if carrier in sections:
                mount = sections[leg.section].carry(np.array(leg.mount.at_mm))
                entries.append(replace(_on_frame(servo.name, mass_kg, mount, carrier), servo=True))
                continue
            on, hinge = places[carrier]
            # At the joint: the far end of the link before it, the near end of the link it moves.
            near = on == at and hinge >= chains[at].hinge_of_joint(joint)
            entries.append(Entry(servo.name, mass_kg, on, hinge, 0.0 if near else 1.0, NOWHERE, carrier, servo=True))
    return [e for e in entries if e.mass_kg > 0]


def _on_frame(
    name: str, mass_kg: float, at: Array, on: str, box_mm: tuple[float, float, float] = NOWHERE, round_: bool = False
) -> Entry:
    x, y, z = (float(v) for v in at)
    return Entry(name, mass_kg, -1, 0, 0.0, (x, y, z), on, box_mm, round=round_)


def inertia_kg_m2(entry: Entry, along_mm: Array) -> Array:
    """(3, 3) about the entry's own middle, in its part's axes; along_mm (3,): from its link's joint to the next.

    A box of sides a, b, c: m·(b² + c²)/12 about a. A rod of length L and radius r, or a round of height L: m·r²/2
    about itself and m·(3r² + L²)/12 across. What has no size is a cube as heavy as servos and cells are for their
    size, assumed. Source: solid bodies in any text on mechanics.
    """
    length = float(np.linalg.norm(along_mm))
    if entry.rod_mm and length > 2 * entry.rod_mm:
        way, r = along_mm / length, entry.rod_mm / 1000
        across, about = (3 * r**2 + (length / 1000) ** 2) / 12, r**2 / 2
        rod: Array = entry.mass_kg * (across * np.eye(3) + (about - across) * np.outer(way, way))
        return rod
    sides = np.array(entry.box_mm) / 1000
    if not sides.any():
        sides = np.full(3, (entry.mass_kg / COMPACT_KG_M3) ** (1 / 3))
    if entry.round:
        across, about = sides[0] ** 2 / 16 + sides[2] ** 2 / 12, sides[0] ** 2 / 8
        disc: Array = entry.mass_kg * np.diag([across, across, about])
        return disc
    box: Array = entry.mass_kg * np.diag(sides @ sides - sides**2) / 12
    return box


def servo_carrier(leg: Limb, drive: Drive, servo: DriveServo, joint: int) -> str:
    """The part that carries a servo's body: as said, else by the kind of drive; the frame where the leg has no link
    before the joint."""
    if servo.sits_on:
        return servo.sits_on
    sits = DRIVES[drive.kind].sits
    links = [k.name for k in leg.links]
    # The link that a joint moves: they are listed alike, but for what is stiff before the first joint.
    own = min(joint + max(0, len(links) - len(leg.joints)), len(links) - 1)
    before = own - 1
    if sits == "frame" or not links or (sits == "before" and before < 0):
        return leg.section
    return f"{leg.name}/{links[own if sits == 'own' else before]}"


@dataclass(frozen=True)
class Riding:
    """The masses of one limb as arrays (M,): each behind hinge `link`, `along` of the way to the next point."""

    mass_kg: Array
    link: Indices
    along: Array


def riding(entries: Sequence[Entry]) -> dict[int, Riding]:
    """By limb."""
    by_limb: dict[int, list[Entry]] = {}
    for entry in entries:
        by_limb.setdefault(entry.limb, []).append(entry)
    return {
        limb: Riding(
            np.array([e.mass_kg for e in own]), np.array([e.link for e in own]), np.array([e.along for e in own])
        )
        for limb, own in by_limb.items()
        if limb >= 0
    }


def total_kg(entries: Sequence[Entry]) -> float:
    return sum(e.mass_kg for e in entries)


@dataclass(frozen=True)
class Weights:
    """Masses by what moves them: kg of all; of sections, what each weighs and its masses' moment (3,), kg·mm; of limbs,
    what each point of theirs weighs, kg; and what rides beside a link: limb, link, and its moment (3,) there."""

    kg: float
    sections: Mapping[str, tuple[float, Array]]
    limbs: Mapping[int, Array]
    beside: Sequence[tuple[int, int, Array]]

    @staticmethod
    def of(entries: Sequence[Entry]) -> Weights:
        sections: dict[str, tuple[float, Array]] = {}
        limbs: dict[int, Array] = {}
        beside, most = [], 2 + max((entry.link for entry in entries), default=0)
        for entry in entries:
            at = np.array(entry.at)
            if entry.limb < 0:
                kg, moment = sections.get(entry.on, (0.0, np.zeros(3)))
                sections[entry.on] = kg + entry.mass_kg, moment + entry.mass_kg * at
                continue
            points = limbs.setdefault(entry.limb, np.zeros(most))
            points[entry.link] += entry.mass_kg * (1 - entry.along)
            points[entry.link + 1] += entry.mass_kg * entry.along
            if any(entry.at):
                beside.append((entry.limb, entry.link, entry.mass_kg * at))
        return Weights(total_kg(entries), sections, limbs, beside)


def centre_of_mass(weights: Weights, solved: Solved) -> Array:
    """c = Σ mᵢ·pᵢ / Σ mᵢ, (S, 3) mm in the body frame. Without any mass: the body's origin."""
    moment = np.zeros((len(solved.joints), 3))
    if weights.kg == 0:
        return moment
    for limb, points in weights.limbs.items():
        # What weighs nothing may be further out than all that does.
        own = solved.points[limb][:, : len(points)]
        moment += points[: own.shape[1]] @ own
    for limb, link, beside in weights.beside:
        moment += solved.frames[limb][:, link] @ beside
    for section, (kg, own) in weights.sections.items():
        moment += kg * solved.swung[section].carry(own[None] / kg) if kg and section in solved.swung else own
    centre: Array = moment / weights.kg
    return centre


def place_of(entry: Entry, solved: Solved) -> Array:
    """(S, 3) mm in the body frame: where one mass is."""
    if entry.limb < 0:
        if entry.on in solved.swung:
            return solved.swung[entry.on].carry(np.array(entry.at)[None])
        return np.broadcast_to(np.array(entry.at), (len(solved.joints), 3))
    points = solved.points[entry.limb]
    along: Array = (1 - entry.along) * points[:, entry.link] + entry.along * points[:, entry.link + 1]
    if any(entry.at):
        along = along + solved.frames[entry.limb][:, entry.link] @ np.array(entry.at)
    return along
