"""Which leg should lift next when the way changes in mid-walk: a rule a small controller can follow.

Of the legs that stand, leave out those beside a leg in the air, and those without which the margin of the rest would
be below what is to be kept. Of what is left lift the one with the least time until it has gone the whole stroke
from its neutral place; of two alike the one whose loss leaves more margin.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bustle.core.evidence import Evidence
from bustle.core.gaits import places
from bustle.core.support import support

Array = NDArray[np.float64]

RULE = (
    "Leave out every leg beside one that is in the air.",
    "Leave out every leg whose lifting leaves less margin than is to be kept.",
    "Of the rest lift the leg with the least time left: (half its stroke − its way along it from neutral) / speed.",
    "Of two alike, the one that leaves more margin.",
)


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


def candidates(e: Evidence, sample: int, twist: tuple[float, float, float] | None = None) -> list[Candidate]:
    """Every standing leg at a sample, the next to lift first. twist (mm/s, mm/s, rad/s): the new way; None: as it
    walks.
    """
    gait = e.gait
    if not gait:
        return []
    vx, vy, omega = twist or (gait.twist.vx_mm_s, gait.twist.vy_mm_s, float(np.radians(gait.twist.omega_deg_s)))
    x, y, theta = (float(v[sample]) for v in e.course.body.travel)
    limbs = e.project.walker.limbs
    legs = [(i, m) for i, m in enumerate(limbs) if m.name in e.timing and m.neutral_mm is not None]
    spots = places([m.mount.at_mm[:2] for _, m in legs])
    down = {i: bool(e.course.contact[i, sample]) for i, _ in legs}
    found = []
    for (i, limb), spot in zip(legs, spots, strict=True):
        if not down[i]:
            continue
        dx, dy = e.course.feet_ground_mm[i, sample, 0] - x, e.course.feet_ground_mm[i, sample, 1] - y
        c, s = np.cos(theta), np.sin(theta)
        assert limb.neutral_mm is not None
        at = np.array([c * dx + s * dy, -s * dx + c * dy])
        away = at - np.array(limb.neutral_mm)
        # The foot moves against the body's way over the floor.
        way = -np.array([vx - omega * at[1], vy + omega * at[0]])
        speed = float(np.hypot(*way))
        half = speed * e.timing[limb.name].duty * gait.cycle_s / 2
        left = (half - float(away @ way) / speed) / speed if speed > 1e-9 else np.inf
        beside = any(
            not down[j] and other[0] == spot[0] and abs(other[1] - spot[1]) == 1
            for (j, _), other in zip(legs, spots, strict=True)
        )
        found.append(Candidate(limb.name, max(0.0, left), _margin_without(e, i, sample), beside))
    keep = e.project.limits.margin_mm
    return sorted(found, key=lambda k: (not k.may(keep), round(k.left_s, 6), -k.margin_mm))


def _margin_without(e: Evidence, leg: int, sample: int) -> float:
    contact = e.course.contact[:, sample].copy()
    contact[leg] = False
    feet = e.course.feet_ground_mm[:, sample : sample + 1, :2]
    held = support(feet, contact[:, None], e.course.com_ground_mm[sample : sample + 1, :2])
    return float(held.margin_mm[0]) if held.supported[0] else -np.inf
