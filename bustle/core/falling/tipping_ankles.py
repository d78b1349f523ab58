"""How far a machine that tips from sole to sole by its ankles carries its pushing point to the side.

Ankles that swing by A·cos(ωt) tip all above them, its mass h over the floor, about axes a over it:

    y = (h − a)·sin A·(1 + ω²·h/g) + e,

e: how far its mass lies beside the middle of the soles on the average. Beyond 1.3 of half the spacing of the soles it
rolls over the outer border. Soles whose inner edges lie beyond 0.45 of that half from the middle it does not tip on to:
it shuffles on both, and falls short. Both numbers are fitted to tables played in one physics engine.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.falling.pushing_point import on_broad_soles, sideways, sole_width_mm
from bustle.core.falling.rocking import half_spacing_mm
from bustle.core.falling.sole_middles import beside_mm
from bustle.core.loads.inertial_wrenches import laid
from bustle.core.loads.told import not_worked_out
from bustle.core.machine.masses import GRAVITY
from bustle.core.project.motion import Swings
from bustle.core.walk.reading import Reading

MOST, INNER = 1.3, 0.45


@dataclass(frozen=True)
class Tipped:
    """limb, joint: the ankle that swings least far; swing_deg, cycle_s: of it. high_mm, ankle_mm: mass and axis over
    the floor. beside_mm: how far its mass lies off the middle. goes_mm, most_mm: how far the pushing point goes to the
    side where it goes most, and may; inner_mm, inner_most_mm: where the soles' inner edges are, and may be."""

    limb: str
    joint: str
    swing_deg: float
    cycle_s: float
    high_mm: float
    ankle_mm: float
    beside_mm: float
    goes_mm: float
    most_mm: float
    inner_mm: float
    inner_most_mm: float


def tipped(r: Reading) -> Tipped | None:
    """None where no motion of swings tips it on flat soles by its ankles."""
    legs = r.project.walker.legs
    if not isinstance(r.motion, Swings) or len(legs) != 2 or r.project.walker.held != "free":
        return None
    if not_worked_out(r) or not on_broad_soles(r):
        return None
    swings = {(s.limb, s.joint): s for s in r.motion.joints}
    found = []
    for group, lies in zip(r.assembled.parts, r.of(laid), strict=True):
        for row, member in enumerate(group.members.tolist()):
            limb = r.project.walker.limbs[member]
            turns = sideways(group)
            if not limb.steps or not turns.any():
                continue
            hinge = int(np.flatnonzero(turns)[-1])
            coupling = group.built.coupling
            joint = hinge if coupling is None else int(np.abs(coupling[hinge]).argmax())
            own = swings.get((limb.name, limb.joints[joint].name))
            if own:
                found.append((abs(own.swing), own, float(lies.origins[row, :, hinge, 2].mean()) * 1000))
    if len(found) < len(legs):
        return None
    swing, own, _ = min(found, key=lambda one: (round(one[0], 6), one[1].limb))
    ankle = float(np.mean([high for _, _, high in found]))
    high = float(r.course.com_ground_mm[: r.samples, 2].mean())
    cycle = r.motion.cycle_s / own.times
    thrown = 1.0 + (2 * np.pi / cycle) ** 2 * high / 1000 / GRAVITY
    half, beside = half_spacing_mm(r), beside_mm(r)
    goes = (high - ankle) * float(np.sin(np.radians(swing))) * thrown + beside
    inner = half - sole_width_mm(r) / 2
    return Tipped(
        own.limb, own.joint, swing, cycle, high, ankle, beside, goes, MOST * half, inner, INNER * half
    )  # fmt: skip
