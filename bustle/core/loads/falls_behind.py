"""Which servos cannot keep up, and what that does to the foot.

Under a load τ a servo turns at most at ω₀·(1 − τ/stall), at ω₀ where the load helps it. Told to go faster it falls
behind, and catches up as soon as less is asked of it:
    b ← max(0, b + (|θ̇| − ω)·Δt)   in the direction it goes.
A foot that comes down while a servo is behind by b lands off its place by |∂p/∂θ|·b.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.rates import to_next
from bustle.core.loads.by_servo import foot_moves, foot_ways, own_servos
from bustle.core.loads.held_against_sag import sent_servos
from bustle.core.loads.joint_torques import servo_loads
from bustle.core.loads.told import not_balanced
from bustle.core.walk.reading import Reading

# Slower than this share of its free speed, a servo is not looked at: one that turns no faster than half and yet falls
# behind holds over half its stall torque, which is told as heat before.
LOOKED_AT = 0.5
# A foot that lands nearer to its place lands in time, mm.
IN_PLACE_MM = 1.0


@dataclass(frozen=True)
class Behind:
    """over (N, servos) rad/s: by how much each is asked to go faster than it can, from a row to the next; available
    (N, servos). in_stance: servos that are, while their leg stands. lands_late_mm: how far off its place a servo's foot
    comes down, by servo, where that is told."""

    over: Array
    available: Array
    in_stance: frozenset[int]
    lands_late_mm: dict[int, float]


def falls_behind(r: Reading) -> Behind:
    angles = r.of(sent_servos)
    rates = to_next(angles, np.zeros(angles.shape[1], dtype=bool), r.score.periodic) / r.row_s
    available = np.broadcast_to(r.kit.servo_speed, rates.shape)
    quick = np.flatnonzero((np.abs(rates) > LOOKED_AT * r.kit.servo_speed).any(axis=0))
    if not len(quick):
        return Behind(np.zeros(rates.shape), available, frozenset(), {})
    if not not_balanced(r):
        share = r.of(servo_loads).share[:, quick] * np.sign(rates[:, quick])
        available = available.copy()
        # Load against the way it goes takes speed; what is left of one that stalls is told elsewhere.
        available[:, quick] *= 1.0 - np.clip(share, 0.0, 1.0)
    over = np.maximum(np.abs(rates) - available, 0.0)
    over[np.abs(rates) <= LOOKED_AT * r.kit.servo_speed] = 0.0
    slow = np.flatnonzero(over.any(axis=0))
    standing, late = set(), {}
    for servo in slow.tolist():
        limb = r.kit.limb_of_servo[servo]
        down = r.course.contact[limb, : r.samples] if r.project.walker.limbs[limb].feet else np.zeros(r.samples, bool)
        if (down & (over[:, servo] > 0)).any():
            standing.add(servo)
            continue
        before = np.roll(down, 1) if r.score.periodic else np.concatenate([down[:1], down[:-1]])
        lands = np.flatnonzero(down & ~before)
        if len(lands):
            off = _behind_by(rates[:, servo], available[:, servo], r.row_s, r.score.periodic)
            # What lacks at the row of touchdown was left over from the step to it.
            arm = np.linalg.norm(foot_moves(r, limb, lands)[:, servo], axis=1)
            worst = float((arm * off[lands]).max())
            if worst > IN_PLACE_MM:
                late[servo] = worst
    return Behind(over, available, frozenset(standing), late)


def _behind_by(rates: Array, available: Array, row_s: float, round_and_round: bool) -> Array:
    """(N,) rad: how far behind it is at each row, either way, by b ← max(0, b + excess)."""
    found = np.zeros(len(rates))
    for way in (1.0, -1.0):
        excess = (way * rates - available) * row_s
        twice = np.concatenate([excess, excess]) if round_and_round else excess
        run = np.concatenate([[0.0], np.cumsum(twice)[:-1]])
        behind = run - np.minimum(np.minimum.accumulate(run), 0.0)
        found = np.maximum(found, behind[-len(rates) :])
    return found


def foot_lag_mm(r: Reading) -> Array:
    """(L, N) mm: how far each foot lags behind its place, as all servos of its leg lag; 0 of limbs without one."""
    lag = np.radians(r.of(servo_loads).lag_deg).T
    found = np.zeros((len(r.project.walker.limbs), r.samples))
    for group, own, ways in zip(r.assembled.parts, r.of(own_servos), r.of(foot_ways), strict=True):
        off = 1000 * (ways * lag[own.servos]).sum(axis=2)
        found[group.members] = np.linalg.norm(off, axis=0)
    found[[not limb.steps for limb in r.project.walker.limbs]] = 0.0
    return found
