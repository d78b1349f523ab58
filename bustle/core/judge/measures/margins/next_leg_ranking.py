"""Every standing leg of a walk at an instant, ranked by the rule of which should lift next."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.gaits import spots_of
from bustle.core.walk.motions.lifting_rule import Stance, beside_each_other, left_s
from bustle.core.walk.motions.pace import velocity
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class Candidate:
    """A leg that stands. left_s: until it has gone half a stroke beyond neutral; margin_mm: of the others without
    it.
    """

    leg: str
    left_s: float
    margin_mm: float
    beside_air: bool

    def may(self, margin_mm: float) -> bool:
        return not self.beside_air and self.margin_mm >= margin_mm


def candidates(r: Reading, sample: int, twist: tuple[float, float, float] | None = None) -> list[Candidate]:
    """Every standing leg at a sample, the next to lift first. twist (mm/s, mm/s, rad/s): the new way; None: as it
    walks.
    """
    gait = r.gait
    if not gait:
        return []
    twist = twist or velocity(gait)
    limbs = r.project.walker.limbs
    legs = [i for i, m in enumerate(limbs) if m.name in r.timing and m.neutral_mm is not None]
    x, y, theta = (float(v[sample]) for v in r.course.body.travel)
    c, s = np.cos(theta), np.sin(theta)
    back = np.array([[c, -s], [s, c]])

    def seen(points: Array) -> Array:
        found: Array = (points - np.array([x, y])) @ back
        return found

    contact = r.course.contact[:, sample]
    others = [i for i in range(len(limbs)) if i not in legs and contact[i]]
    feet = r.course.feet_ground_mm[:, sample, :2]
    stance = Stance(
        seen(feet[legs]),
        contact[legs],
        seen(feet[others]),
    )
    neutral = np.array([limbs[i].neutral_mm for i in legs], dtype=float).reshape(-1, 2)
    duty = np.array([r.timing[limbs[i].name].duty for i in legs])
    left = left_s(stance.at_mm, neutral, duty * gait.cycle_s, twist)
    standing = [int(n) for n in np.flatnonzero(stance.down)]
    com = seen(r.of(over_floor)[sample : sample + 1])
    margin = stance.margin_without(standing, np.repeat(com, len(standing), axis=0))
    neighbours = beside_each_other(spots_of([limbs[i].mount.at_mm[:2] for i in legs]))
    beside = np.flatnonzero((neighbours & ~stance.down).any(axis=1))
    found = [
        Candidate(limbs[legs[n]].name, max(0.0, float(left[n])), float(m), n in beside)
        for n, m in zip(standing, margin, strict=True)
    ]
    keep = r.project.limits.margin_mm
    return sorted(found, key=lambda k: (not k.may(keep), round(k.left_s, 6), -k.margin_mm))
