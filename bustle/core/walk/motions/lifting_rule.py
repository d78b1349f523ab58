"""Which leg should lift next when the way changes in mid-walk: a rule a small controller can follow.

Of the legs that stand, leave out those beside a leg in the air, and those without which the margin of the rest would
be below what is to be kept. Of what is left lift the one with the least time until it has gone the whole stroke
from its neutral place; of two alike the one whose loss leaves more margin. `motions.free_walk` walks by it.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.support_polygon import support
from bustle.core.kinds.gaits.gait import Spot

RULE = (
    "Leave out every leg beside one that is in the air.",
    "Leave out every leg whose lifting leaves less margin than is to be kept.",
    "Of the rest lift the leg with the least time left: (half its stroke − its way along it from neutral) / speed.",
    "Of two alike, the one that leaves more margin.",
)

# What walking by the rule adds to it.
WALKING_BY_IT = (
    "A leg that has not come as far as neutral waits.",
    "A leg lands half a stroke ahead of where neutral will be.",
    "With a leg at the end of its stroke the body waits.",
    "Where no leg may lift, the body leans until one may.",
)


@dataclass(frozen=True)
class Stance:
    """What the rule looks at, in the travel frame: where n legs are (n, 2) mm, which stand (n,), and where else it
    stands (m, 2)."""

    at_mm: Array
    down: Flags
    others_mm: Array

    def margin_without(self, legs: Sequence[int], com_mm: Array) -> Array:
        """(K,) mm: the margin with one of K legs in the air, the centre of mass at com_mm (K, 2); −∞ where none
        stands."""
        feet = np.concatenate([self.at_mm, self.others_mm])
        contact = np.concatenate([self.down, np.ones(len(self.others_mm), dtype=bool)])
        contact = np.repeat(contact[:, None], len(legs), axis=1)
        contact[np.asarray(legs, dtype=int), np.arange(len(legs))] = False
        held = support(np.repeat(feet[:, None], len(legs), axis=1), contact, com_mm)
        margin: Array = np.where(held.supported, held.margin_mm, -np.inf)
        return margin


def left_s(at_mm: Array, neutral_mm: Array, stance_s: Array, twist: tuple[float, float, float]) -> Array:
    """(n,) s: until a foot has gone half a stroke beyond neutral, (half − way along it)/speed; ∞ where it stays.

    A foot at p moves by −(vx − ω·y, vy + ω·x); half its stroke is its speed × half the time it stands.
    """
    vx, vy, omega = twist
    way = -np.stack([vx - omega * at_mm[:, 1], vy + omega * at_mm[:, 0]], axis=-1)
    speed = np.hypot(way[:, 0], way[:, 1])
    moves = speed > 1e-9
    safe = np.where(moves, speed, 1.0)
    along = ((at_mm - neutral_mm) * way).sum(axis=-1) / safe
    left: Array = np.where(moves, stance_s / 2 - along / safe, np.inf)
    return left


def beside_each_other(spots: Sequence[Spot]) -> Flags:
    """(n, n): legs next to each other on one side."""
    return np.array([[a[0] == b[0] and abs(a[1] - b[1]) == 1 for b in spots] for a in spots], dtype=bool)
