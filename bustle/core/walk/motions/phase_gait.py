"""A periodic walk: leg phases and duties over a constant twist of the body, with pauses if wanted."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.project.motion import Pause, PhaseGait
from bustle.core.project.project import Project
from bustle.core.walk.motions.pace import Journey, Stretch
from bustle.core.walk.motions.stepping import Clock, Stepping, told
from bustle.core.walk.score import Scored

# Easing into a pause and out of it takes this share of the cycle, or less for a short one.
EASE_SHARE = 0.04


def compile_gait(project: Project, gait: PhaseGait) -> Scored:
    """The steady gait over one cycle; see `stepping` for where its feet stand."""
    return with_pauses(told(Stepping(project, Journey((Stretch(gait),)), 0.0), gait.cycle_s, None, True), gait, 0.0)


def with_pauses(score: Scored, gait: PhaseGait, tau_s: float) -> Scored:
    """The gait told from τ = tau_s on, standing still at its pauses."""
    if not gait.pauses:
        return score
    clock, unclock, _ = paused(gait.cycle_s, gait.pauses)
    start = float(unclock(np.array(tau_s)))
    return replace(
        score,
        duration_s=float(unclock(np.array(tau_s + score.duration_s))) - start,
        clock=lambda t: clock(t + start) - tau_s,
        unclock=lambda tau: unclock(tau + tau_s) - start,
    )


def duration_s(gait: PhaseGait) -> float:
    """One cycle with its pauses."""
    return gait.cycle_s + sum(p.hold_s + _ease_s(gait.cycle_s, len(gait.pauses)) for p in gait.pauses)


def _ease_s(cycle_s: float, pauses: int) -> float:
    return cycle_s * min(EASE_SHARE, 0.4 / max(1, pauses))


def paused(cycle_s: float, pauses: tuple[Pause, ...]) -> tuple[Clock, Clock, float]:
    """Time → gait time, its inverse, and the whole duration.

    Before a pause dτ/dt falls evenly from 1 to 0 over r, and rises again after it: each ramp takes r and walks r/2.
    The knots are places where τ and dτ/dt are known; between them τ is a quadratic, so that the body's speed is
    continuous.
    """
    r = _ease_s(cycle_s, len(pauses))
    real, gait, rate = [0.0], [0.0], [1.0]
    for pause in sorted(pauses, key=lambda p: p.at):
        at = max(pause.at * cycle_s, gait[-1] + r / 2)
        walked = at - r / 2 - gait[-1]
        for passes, goes, then in ((walked, walked, 1.0), (r, r / 2, 0.0), (pause.hold_s, 0.0, 0.0), (r, r / 2, 1.0)):
            if passes > 0:
                real.append(real[-1] + passes)
                gait.append(gait[-1] + goes)
                rate.append(then)
    left = cycle_s - gait[-1]
    if left > 0:
        real.append(real[-1] + left)
        gait.append(cycle_s)
        rate.append(1.0)
    knots, taus, rates = np.array(real), np.array(gait), np.array(rate)
    duration = float(knots[-1])

    def clock(t: Array) -> Array:
        turns, rest = np.divmod(t, duration)
        k = np.clip(np.searchsorted(knots, rest, side="right") - 1, 0, len(knots) - 2)
        ahead = rest - knots[k]
        slope = (rates[k + 1] - rates[k]) / (knots[k + 1] - knots[k])
        tau: Array = turns * taus[-1] + taus[k] + rates[k] * ahead + slope * ahead**2 / 2
        return tau

    def unclock(tau: Array) -> Array:
        turns, rest = np.divmod(tau, taus[-1])
        k = np.clip(np.searchsorted(taus, rest, side="right") - 1, 0, len(knots) - 2)
        slope = (rates[k + 1] - rates[k]) / (knots[k + 1] - knots[k])
        gone = rest - taus[k]
        # Solve slope/2·x² + rate·x = gone for the smaller root, in the form that also holds for slope = 0.
        root = np.sqrt(np.maximum(rates[k] ** 2 + 2 * slope * gone, 0.0))
        ahead = 2 * gone / np.maximum(rates[k] + root, 1e-12)
        t: Array = turns * duration + knots[k] + np.minimum(ahead, knots[k + 1] - knots[k])
        return t

    return clock, unclock, duration
