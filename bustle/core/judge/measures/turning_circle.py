"""The smallest circle the legs can walk: arcs of ever smaller radius, each tried at the ends and middle of its strokes.

For an arc of radius R about a centre to the left, the body moves with ξ = (v, 0, v/R); the pace v is such that the
furthest-moving foot makes the motion's own longest stroke. In stance a foot is then at exp(ξT(duty/2 − p))·neutral
in the travel frame; it is solved for at p = 0, ½, 1 of its stance, and the arc is good where every leg reaches
within its stops and slips no more than allowed.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.compiled import REAL, WHOLE, compiled_for, dot, floats, indices, minus, vector
from bustle.core.geometry.planar_twist import carry
from bustle.core.geometry.serial_chain import rotated, turns
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
    shares = np.array([-0.5, 0.0, 0.5])
    count = len(radii) * len(shares)
    targets = np.zeros((len(walker.limbs), count, 3))
    headings = np.zeros((len(walker.limbs), count))
    legs = [i for i, limb in enumerate(walker.limbs) if limb.name in r.timing and limb.neutral_mm]
    limbs = [walker.limbs[i] for i in legs]
    x, y = np.array([limb.neutral_mm for limb in limbs]).T[..., None]
    duty = np.array([[r.timing[limb.name].duty] for limb in limbs])
    toe = np.radians([[limb.toe_deg] for limb in limbs])
    # ω·T, so that the furthest-moving foot makes the whole stroke.
    turn = stroke / (np.hypot(radii - y, x) * duty).max(axis=0)
    angle = ((turn * duty)[..., None] * shares).reshape(len(legs), count)
    targets[legs, :, :2] = np.stack(carry(_arc(np.repeat(radii, len(shares)), angle), x, y), axis=-1)
    headings[legs] = angle + toe
    at, turned = r.course.body.at[:1], r.course.body.turn[:1]
    # As it lies at the motion's beginning.
    wanted = rotated(np.broadcast_to(turned.swapaxes(1, 2), (count, 3, 3)), targets - at)
    aims = None
    if needs_aims(r.assembled.parts):
        aims = turned.swapaxes(1, 2) @ turns(np.array([0.0, 0.0, 1.0]), headings)
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


def _arc(radii: Array, angle: Array) -> tuple[Array, Array, Array]:
    """Where a turn by `angle` about a centre `radius` to the left takes the frame, (x, y, θ)."""
    return radii * np.sin(angle), radii * (1.0 - np.cos(angle)), angle


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
