"""The mass ledger: what weighs how much, where, and the centre of mass as the legs move."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bustle.core.limbs import Solved
from bustle.core.project import Project

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Entry:
    """One mass. limb −1 rides on the body at `at` (mm); otherwise on link `link` of the limb.

    On a link, `along` is the share of the link at which it sits and `at` is added in the link's own frame.
    """

    name: str
    mass_kg: float
    limb: int
    link: int
    along: float
    at: tuple[float, float, float]


def ledger(project: Project) -> list[Entry]:
    """Every mass of the walker: the listed ones, the links (at their middles) and the servos.

    A servo sits at the joint it turns, on the part that carries the joint.
    """
    walker = project.walker
    places = {f"{m.name}/{k.name}": (i, n) for i, m in enumerate(walker.limbs) for n, k in enumerate(m.links)}
    joints = {f"{m.name}/{j.name}": (i, n) for i, m in enumerate(walker.limbs) for n, j in enumerate(m.joints)}
    types = {s.name: s for s in project.servo_types}
    entries = []
    for mass in walker.masses:
        limb, link = places.get(mass.on, (-1, 0))
        entries.append(Entry(mass.name, mass.mass_g / 1000, limb, link, 0.0, mass.at_mm))
    for i, limb_ in enumerate(walker.limbs):
        for n, part in enumerate(limb_.links):
            if part.mass_g:
                entries.append(Entry(f"{limb_.name} {part.name}", part.mass_g / 1000, i, n, 0.5, (0.0, 0.0, 0.0)))
    for drive in walker.drives:
        for servo, joint in zip(drive.servos, drive.joints, strict=False):
            i, n = joints[joint]
            weight = types[servo.type].mass_g / 1000
            if n == 0:
                entries.append(Entry(servo.name, weight, -1, 0, 0.0, walker.limbs[i].mount.at_mm))
            else:
                entries.append(Entry(servo.name, weight, i, n - 1, 1.0, (0.0, 0.0, 0.0)))
    return [e for e in entries if e.mass_kg > 0]


def total_kg(entries: list[Entry]) -> float:
    return sum(e.mass_kg for e in entries)


def centre_of_mass(entries: list[Entry], solved: Solved) -> Array:
    """c = Σ mᵢ·pᵢ / Σ mᵢ, (S, 3) mm in the body frame. Without any mass: the body's origin."""
    samples = len(solved.joints)
    moment = np.zeros((samples, 3))
    total = total_kg(entries)
    if total == 0:
        return moment
    weights = [np.zeros(points.shape[1]) for points in solved.points]
    for entry in entries:
        if entry.limb < 0:
            moment += entry.mass_kg * np.array(entry.at)
            continue
        weights[entry.limb][entry.link] += entry.mass_kg * (1 - entry.along)
        weights[entry.limb][entry.link + 1] += entry.mass_kg * entry.along
        if any(entry.at):
            moment += entry.mass_kg * solved.frames[entry.limb][:, entry.link] @ np.array(entry.at)
    for weight, points in zip(weights, solved.points, strict=True):
        if weight.any():
            moment += np.einsum("p,spa->sa", weight, points)
    centre: Array = moment / total
    return centre
