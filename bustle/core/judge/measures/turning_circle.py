"""The smallest circle the legs can walk: arcs of ever smaller radius, each tried at the ends and middle of its strokes.

For an arc of radius R about a centre to the left, the body moves with ξ = (v, 0, v/R); the pace v is such that the
furthest-moving foot makes the motion's own longest stroke. In stance a foot is then at exp(ξT(duty/2 − p))·neutral
in the travel frame; it is solved for at p = 0, ½, 1 of its stance, and the arc is good where every leg reaches
within its stops and slips no more than allowed.
"""

from __future__ import annotations

from math import cos, sin

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.compiled import (
    REAL,
    WHOLE,
    back_of,
    compiled_for,
    dot,
    floats,
    indices,
    matrix,
    minus,
    put,
    vector,
)
from bustle.core.geometry.serial_chain import turns
from bustle.core.machine.limb_groups import needs_aims
from bustle.core.machine.limb_solution import lacking, solve
from bustle.core.walk.reading import Reading

# Share of the way from in place (0) to straight ahead (1) that is tried.
STEPS = 25
MISS_MM = 0.01


def turning_radius_mm(r: Reading) -> float | None:
    """The least radius of the body's middle; 0 turns in place. None for a motion that does not walk, or walks no
    arc.
    """
    legs = [limb for limb in r.project.walker.limbs if limb.steps]
    stroke = float(r.score.stroke_mm.max(initial=0.0))
    if stroke < 1e-6 or not legs or not r.gait:
        return None
    size = max(float(np.hypot(*limb.neutral_mm)) for limb in legs if limb.neutral_mm)
    # Radii 0 … far, closer together where they are small.
    share = np.linspace(0.0, 1.0, STEPS)
    radii = size * share / np.maximum(1.0 - share, 1e-3) * 0.7
    good = _good(r, radii, stroke)
    if not good.any():
        return None
    # The least radius from which on every wider arc is good too.
    bad = np.flatnonzero(~good)
    first = int(bad[-1]) + 1 if len(bad) else 0
    return float(radii[first]) if first < len(radii) else None


def _good(r: Reading, radii: Array, stroke: float) -> Flags:
    """Which arcs every leg can walk: (R,)."""
    walker = r.project.walker
    legs = [i for i, limb in enumerate(walker.limbs) if limb.name in r.timing and limb.neutral_mm]
    limbs = [walker.limbs[i] for i in legs]
    neutral = np.array([limb.neutral_mm for limb in limbs])
    duty = np.array([r.timing[limb.name].duty for limb in limbs])
    # As it lies at the motion's beginning.
    at, turned = r.course.body.at[0], r.course.body.turn[0]
    own, angle = _along_arcs(radii, neutral, duty, stroke, at, turned)
    wanted = np.broadcast_to(-turned.T @ at, (len(walker.limbs), *own.shape[1:])).copy()
    wanted[legs] = own
    aims = None
    if needs_aims(r.assembled.parts):
        headings = np.zeros(wanted.shape[:2])
        headings[legs] = angle + np.radians([[limb.toe_deg] for limb in limbs])
        aims = turned.T @ turns(np.array([0.0, 0.0, 1.0]), headings)
    parts = r.assembled.parts
    if r.kit.ties or walker.as_built.limbs:
        solved = solve(parts, r.kit.ties, wanted, aims)
        joints, miss = solved.joints, solved.miss_mm
        away = wanted - np.stack([points[:, -1] for points in solved.points])
    else:
        joints, miss, away = lacking(parts, wanted, aims)
    steps = np.array([n for n, j in enumerate(r.kit.joints) if j.limb.name in r.timing], np.intp)
    walks = [i for i, limb in enumerate(walker.limbs) if limb.steps]
    limits = r.kit.low, r.kit.high, MISS_MM, r.project.limits.slip_mm
    return _walked(joints, steps, miss, away[walks], *limits, len(radii))


@compiled_for(floats(1), floats(2), floats(1), REAL, floats(1), floats(2))
def _along_arcs(
    radii: Array, neutral: Array, duty: Array, stroke: float, at: Array, turn: Array
) -> tuple[Array, Array]:
    """Where feet (L, 2) mm are on arcs (R,) at the beginning, middle and end of their stances, (L, 3·R, 3) mm as a body
    at (3,), turned by (3, 3), sees it, and by how much each arc has turned then, (L, 3·R) rad. On every arc the
    furthest-moving foot makes the whole stroke."""
    legs, arcs = len(neutral), len(radii)
    found, angles, lies, body = np.empty((legs, 3 * arcs, 3)), np.empty((legs, 3 * arcs)), matrix(turn), vector(at)
    for r in range(arcs):
        most = 0.0
        for n in range(legs):
            most = max(most, np.hypot(radii[r] - neutral[n, 1], neutral[n, 0]) * duty[n])
        for n in range(legs):
            for k in range(3):
                # ω·T·duty; a turn about a centre to the left takes the frame to R·(sin α, 1 − cos α).
                angle, (x, y) = stroke / most * duty[n] * 0.5 * (k - 1), (neutral[n, 0], neutral[n, 1])
                c, s = cos(angle), sin(angle)
                ahead, aside = radii[r] * s + c * x - s * y, radii[r] * (1.0 - c) + s * x + c * y
                put(found[n, 3 * r + k], back_of(lies, minus((ahead, aside, 0.0), body)))
                angles[n, 3 * r + k] = angle
    return found, angles


@compiled_for(floats(2), indices(1), floats(2), floats(3), floats(1), floats(1), REAL, REAL, WHOLE)
def _walked(
    joints: Array, steps: Indices, miss: Array, away: Array, low: Array, high: Array, miss_mm: float, slip_mm: float,
    arcs: int,
) -> Flags:  # fmt: skip
    """(R,): which arcs keep within the stops of joints (S, J) that step, miss (L, S) by no more and slip by no more, of
    legs whose ends are (L, S, 3) mm away from where they should be; as many samples of each in a row."""
    good, each = np.ones(arcs, np.bool_), len(joints) // arcs
    for s in range(len(joints)):
        arc, first = s // each, s // each * each
        for j in steps:
            good[arc] = good[arc] and low[j] - 1e-9 <= joints[s, j] <= high[j] + 1e-9
        for n in range(len(miss)):
            good[arc] = good[arc] and miss[n, s] <= miss_mm
        for n in range(len(away)):
            for other in range(first, s):
                slips = minus(vector(away[n, s]), vector(away[n, other]))
                good[arc] = good[arc] and dot(slips, slips) <= slip_mm * slip_mm
    return good
