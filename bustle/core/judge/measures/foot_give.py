"""How a foot gives under the weight, what moves with it as it lands, and how far the body sags.

A foot's joints give: with C the compliance of its drives, a newton up on the foot moves it by c = J·C·Jᵀ (mm/N, see
`drive_springs`). The body sags by the load of one standing foot times the mean c of those that stand.

What moves with the foot as it meets the ground weighs m = 1/(J_z·M⁻¹·J_zᵀ), M the inertia of the leg's joints,
M = Σ mᵢ·Jᵢᵀ·Jᵢ + diag(I), I a servo's own inertia as its joint sees it.

Where a drive's stiffness is not stated it is assumed: a servo holds with its stall torque where it is STALL_AT_DEG from
where it should be; its inertia is assumed from its sheet.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.at_rest.drive_springs import STALL_AT_DEG, Bent, gives
from bustle.core.judge.measures.mid_stance import MidStance, mid_stances
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class Footing:
    """A leg at mid-stance. give_mm_per_n: up; mass_kg: what moves with the foot; assumed: no stiffness was stated."""

    limb: int
    give_mm_per_n: float
    mass_kg: float
    assumed: bool


def footings(r: Reading) -> list[Footing]:
    """One per leg that steps, at the middle of its stance; none where the motion is no gait."""
    legs = r.of(mid_stances)
    unstated = r.kit.unstated_stiffness
    bends = gives(r.project, [Bent(leg.limb, leg.joints, leg.slope) for leg in legs], STALL_AT_DEG)
    return [
        Footing(
            leg.member,
            max(float(bend[2]), 1e-6) + (leg.limb.gives_mm_per_n or 0.0) + r.project.floor.gives_mm_per_n,
            mass,
            leg.limb.name in unstated,
        )
        for leg, bend, mass in zip(legs, bends, _moving_kg(r, legs), strict=True)
        if bend is not None
    ]


def _moving_kg(r: Reading, legs: list[MidStance]) -> list[float]:
    """m = 1/(J_z·M⁻¹·J_zᵀ); a mass at share s of the way from hip to foot is taken to move s as far as the foot."""
    found = []
    for leg in legs:
        at, riding = leg.points, r.assembled.riding.get(leg.member)
        span = max(float(np.linalg.norm(at[-1] - at[0])), 1.0)
        # Every one of its masses moves along with the foot: together they are one mass at the foot.
        along = 0.0
        if riding:
            places = at[riding.link] + riding.along[:, None] * (at[riding.link + 1] - at[riding.link])
            share = np.minimum(1.0, np.linalg.norm(places - at[0], axis=1) / span)
            along = float(riding.mass_kg @ share**2)
        slope = leg.slope / 1000
        inertia = along * slope.T @ slope + np.diag(r.kit.rotor_inertia[leg.columns] + 1e-6)
        up = slope[2]
        found.append(float(1.0 / max(up @ np.linalg.solve(inertia, up), 1e-9)))
    return found


def sag_mm(r: Reading, sample: int) -> float:
    """How far the body has sunk there under its own weight, as against all feet sharing it alike."""
    standing = [f for f in r.of(footings) if r.course.contact[f.limb, sample]]
    if not standing:
        return 0.0
    load = r.assembled.total_kg * GRAVITY / max(1, int(r.course.contact[:, sample].sum()))
    return load * float(np.mean([f.give_mm_per_n for f in standing]))
