"""The smallest circle the legs can walk: arcs of ever smaller radius, each tried at the ends and middle of its strokes.

For an arc of radius R about a centre to the left, the body moves with ξ = (v, 0, v/R); the pace v is such that the
furthest-moving foot makes the motion's own longest stroke. In stance a foot is then at exp(ξT(duty/2 − p))·neutral
in the travel frame; it is solved for at p = 0, ½, 1 of its stance, and the arc is good where every leg reaches
within its stops and slips no more than allowed.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.planar_twist import carry
from bustle.core.geometry.serial_chain import turns
from bustle.core.machine.limb_groups import needs_aims
from bustle.core.machine.limb_solution import solve
from bustle.core.machine.tracks import to_body
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
    track = r.score.body(np.zeros(count))
    wanted = to_body(track, targets)
    aims = None
    if needs_aims(r.assembled.parts):
        aims = np.swapaxes(track.turn, -1, -2) @ turns(np.array([0.0, 0.0, 1.0]), headings)
    solved = solve(r.assembled.parts, r.kit.ties, wanted, aims)
    return _judged(r, solved.joints, solved.points, solved.miss_mm, wanted, len(radii))


def _arc(radii: Array, angle: Array) -> tuple[Array, Array, Array]:
    """Where a turn by `angle` about a centre `radius` to the left takes the frame, (x, y, θ)."""
    return radii * np.sin(angle), radii * (1.0 - np.cos(angle)), angle


def _judged(r: Reading, joints: Array, points: tuple[Array, ...], miss: Array, wanted: Array, arcs: int) -> Flags:
    low, high = r.kit.low, r.kit.high
    bad = (miss > MISS_MM).any(axis=0)
    steps = [n for n, j in enumerate(r.kit.joints) if j.limb.name in r.timing]
    bad |= ((joints < low - 1e-9) | (joints > high + 1e-9))[:, steps].any(axis=1)
    bad = bad.reshape(arcs, -1).any(axis=1)
    legs = [i for i, limb in enumerate(r.project.walker.limbs) if limb.steps]
    off = (np.stack([points[i][:, -1] for i in legs]) - wanted[legs]).reshape(len(legs), arcs, -1, 3)
    x, y, z = np.moveaxis(off[:, :, [0, 0, 1]] - off[:, :, [1, 2, 2]], -1, 0)
    wide = np.sqrt(x * x + y * y + z * z).max(axis=(0, 2))
    return np.asarray(~(bad | (wide > r.project.limits.slip_mm)))
