"""What an arm, a head or a moving mass does to the balance as it moves.

Its share of the machine's mass, accelerated, pushes the point about which the machine is balanced (its zero-moment
point) away by h·m·a/(M·g), h its height over the floor (d'Alembert's force on it, moments about the floor), level
parts only.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.extremes import least
from bustle.core.machine.masses import GRAVITY, Weights, centre_of_mass, total_kg
from bustle.core.machine.tracks import to_ground
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing

# A push less than this moves nothing worth telling.
LEAST_MM = 0.5


@dataclass(frozen=True)
class ArmPush:
    """At the worst instant: the limb, how far the push moves the balance, the margin there without it."""

    limb: str
    sample: int
    push_mm: float
    margin_mm: float

    @property
    def left_mm(self) -> float:
        return self.margin_mm - self.push_mm


def arm_pushes(r: Reading) -> list[ArmPush]:
    """Of each limb that a static gait moves besides stepping."""
    if not r.gait or not r.gait.moves_of_arms:
        return []
    held = r.of(standing)
    found, total = [], r.assembled.total_kg
    margin = np.where(held.supported, held.margin_mm, -np.inf)[: r.samples]
    for name in dict.fromkeys(m.limb for m in r.gait.moves_of_arms):
        index = next(i for i, limb in enumerate(r.project.walker.limbs) if limb.name == name)
        own = [entry for entry in r.assembled.masses if entry.limb == index]
        if not own:
            continue
        at = centre_of_mass(Weights.of(own), r.course.solved)
        # Against the body, which is carried along smoothly: what the arm's own move adds.
        ground = to_ground(r.course.body, at)[: r.samples]
        local = at[: r.samples]
        dt = r.row_s
        pull = (np.roll(local, -1, axis=0) - 2 * local + np.roll(local, 1, axis=0)) / dt**2
        push = total_kg(own) * np.linalg.norm(pull[:, :2], axis=1) * np.maximum(ground[:, 2], 0.0)
        push = push / (total * GRAVITY * 1000)
        if push.max() < LEAST_MM:
            continue
        worst = least(np.where(push >= LEAST_MM, margin - push, np.inf))
        found.append(ArmPush(name, worst, float(push[worst]), float(margin[worst])))
    return sorted(found, key=lambda k: round(k.left_mm, 6))
