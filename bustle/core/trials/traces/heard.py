"""A trace beside its plan: how it leans, what its feet read, and how far footfalls shake it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.trials.traces.as_told import leans_told, steps_a_cycle
from bustle.core.trials.traces.felt import Felt, felt
from bustle.core.trials.traces.shaken import Shaken, shaken
from bustle.core.trials.traces.spectrum import comes_again
from bustle.core.trials.traces.trace import PHASES, Laid, Trace, laid_over, over_the_cycle
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class Lean:
    """Over the cycle, degrees, (PHASES,) each, both about their means: as told and as seen, and how far that spreads.
    moves_deg: how far each way, no quicker than its steps; again: which share of that comes again each cycle. told_deg,
    seen_deg: each way, with the stride."""

    way: str
    told: Array
    seen: Array
    spread: Array
    moves_deg: float
    again: float
    told_deg: float
    seen_deg: float


@dataclass(frozen=True)
class Heard:
    """A trace beside its plan. told_s: how long a cycle takes by the plan."""

    laid: Laid
    told_s: float
    leans: tuple[Lean, ...]
    feet: tuple[Felt, ...]
    shaken: tuple[Shaken, ...]


def heard(trace: Trace, r: Reading, full_scale: float | None = None, more: bool | None = None) -> Heard:
    """full_scale: what a foot's converter reads at the supply's voltage. more, and what is refused: as `laid_over`."""
    laid = laid_over(trace, r, more)
    told, steps = leans_told(r, PHASES), steps_a_cycle(r)
    return Heard(
        laid,
        r.score.duration_s,
        tuple(_lean(way, told[way], trace, laid, steps) for way in trace.leans_deg),
        tuple(felt(trace, laid, r, full_scale)),
        tuple(shaken(trace, laid, steps)),
    )


def _lean(way: str, told: Array, trace: Trace, laid: Laid, steps: int) -> Lean:
    values = trace.leans_deg[way]
    seen, spread = over_the_cycle(laid.phase, values)
    moves, again = comes_again(trace.time_s, values, laid, steps)
    return Lean(way, told - told.mean(), seen - seen.mean(), spread, moves, again, _first(told), _first(seen))


def _first(values: Array) -> float:
    """How far each way with the stride: the first harmonic of a cycle."""
    return float(2 * abs(np.fft.rfft(values)[1]) / len(values))
