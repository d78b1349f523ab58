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

from bustle.core.at_rest.drive_springs import Bent, gives
from bustle.core.geometry.arrays import Array
from bustle.core.judge.measures.feet.mid_stance import MidStance, mid_stances
from bustle.core.machine.masses import GRAVITY, Riding
from bustle.core.walk.reading import Reading

NOTHING = Riding(np.zeros(0), np.zeros(0, dtype=np.intp), np.zeros(0))


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
    bends = gives(r.project, [Bent(leg.limb, leg.joints, leg.slope) for leg in legs], assumed=True)
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
    found = np.zeros(len(legs))
    alike: dict[tuple[int, ...], list[int]] = {}
    for n, leg in enumerate(legs):
        riding = r.assembled.riding.get(leg.member, NOTHING)
        alike.setdefault((*leg.slope.shape, len(leg.points), len(riding.link)), []).append(n)
    for rows in alike.values():
        own = [legs[n] for n in rows]
        ridings = [r.assembled.riding.get(leg.member, NOTHING) for leg in own]
        at, slope = np.array([leg.points for leg in own]), np.array([leg.slope for leg in own]) / 1000
        span = np.maximum(_long(at[:, -1] - at[:, 0]), 1.0)
        each = np.arange(len(own))[:, None]
        link, share = np.array([m.link for m in ridings]), np.array([m.along for m in ridings])
        places = at[each, link] + share[..., None] * (at[each, link + 1] - at[each, link])
        share = np.minimum(1.0, _long(places - at[:, :1]) / span[:, None])
        # Every one of a leg's masses moves along with the foot: together they are one mass at the foot.
        along = (np.array([m.mass_kg for m in ridings]) * share**2).sum(axis=1)
        rotors = r.kit.rotor_inertia[np.array([leg.columns for leg in own])] + 1e-6
        inertia = along[:, None, None] * (slope.swapaxes(1, 2) @ slope) + rotors[:, None] * np.eye(rotors.shape[1])
        up = slope[:, 2]
        lifted = (up * np.linalg.solve(inertia, up[..., None])[..., 0]).sum(axis=1)
        found[rows] = 1.0 / np.maximum(lifted, 1e-9)
    told: list[float] = found.tolist()
    return told


def _long(v: Array) -> Array:
    found: Array = np.sqrt((v * v).sum(axis=-1))
    return found


def sag_mm(r: Reading, sample: int) -> float:
    """How far the body has sunk there under its own weight, as against all feet sharing it alike."""
    standing = [f for f in r.of(footings) if r.course.contact[f.limb, sample]]
    if not standing:
        return 0.0
    load = r.assembled.total_kg * GRAVITY / max(1, int(r.course.contact[:, sample].sum()))
    return load * float(np.mean([f.give_mm_per_n for f in standing]))
