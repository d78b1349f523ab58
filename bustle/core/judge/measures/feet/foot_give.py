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
from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.compiled import (
    compiled_for,
    dot,
    factored,
    floats,
    indices,
    minus,
    plus,
    solved,
    times,
    vector,
)
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
        found[rows] = _felt_kg(
            np.array([leg.points for leg in own]),
            np.array([leg.slope for leg in own]),
            np.array([m.link for m in ridings]),
            np.array([m.along for m in ridings]),
            np.array([m.mass_kg for m in ridings]),
            r.kit.rotor_inertia[np.array([leg.columns for leg in own])] + 1e-6,
        )
    told: list[float] = found.tolist()
    return told


@compiled_for(floats(3), floats(3), indices(2), floats(2), floats(2), floats(2))
def _felt_kg(points: Array, slopes: Array, links: Indices, along: Array, kg: Array, rotors: Array) -> Array:
    """(L,) of legs with points (L, P, 3) mm, slopes (L, 3, J) mm and rotors (L, J) kg·m², and M masses on links, (L, M)
    each: how far along it and how heavy."""
    legs, joints = rotors.shape
    found, inertia, up = np.empty(legs), np.empty((joints, joints)), np.empty(joints)
    for n in range(legs):
        first = vector(points[n, 0])
        away = minus(vector(points[n, points.shape[1] - 1]), first)
        span, foot_kg = max(np.sqrt(dot(away, away)), 1.0), 0.0
        # Every one of a leg's masses moves along with the foot: together they are one mass at the foot.
        for k in range(links.shape[1]):
            begins = vector(points[n, links[n, k]])
            goes = minus(vector(points[n, links[n, k] + 1]), begins)
            off = minus(plus(begins, times(goes, along[n, k])), first)
            share = min(1.0, np.sqrt(dot(off, off)) / span)
            foot_kg += kg[n, k] * share * share
        for a in range(joints):
            up[a] = slopes[n, 2, a] / 1000
            for b in range(joints):
                inertia[a, b] = rotors[n, a] if a == b else 0.0
                for i in range(3):
                    inertia[a, b] += foot_kg * slopes[n, i, a] * slopes[n, i, b] / 1e6
        factored(inertia)
        solved(inertia, up)
        lifted = 0.0
        for a in range(joints):
            lifted += slopes[n, 2, a] / 1000 * up[a]
        found[n] = 1.0 / max(lifted, 1e-9)
    return found


def sag_mm(r: Reading, sample: int) -> float:
    """How far the body has sunk there under its own weight, as against all feet sharing it alike."""
    standing = [f for f in r.of(footings) if r.course.contact[f.limb, sample]]
    if not standing:
        return 0.0
    load = r.assembled.total_kg * GRAVITY / max(1, int(r.course.contact[:, sample].sum()))
    return load * float(np.mean([f.give_mm_per_n for f in standing]))
