"""A trace: what a machine's own sensors told while it walked, laid over the cycle of its plan.

Samples t_i come round after p seconds. p is the one near the plan's T by which the first HARMONICS of all signals
together weigh most,
    Σ_k |⟨x·exp(−2πi·k·t/p)⟩|²,
as the controller's clock need not be the plan's. Where in the plan a trace begins is told by its feet: the shift, and
whether a loaded foot reads more or less, by which readings go with planned contacts best; without feet by its leans.
Source: the periodogram of any text on signals.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Indices
from bustle.core.trials.traces.as_told import contacts_told, leans_told
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import refuse

# Phases of the cycle at which it is looked at.
PHASES = 72
HARMONICS = 4
FINER = 41
# So far from the plan's own cycle is looked for, as a share of it, and so many cycles it takes.
CLOCK, LEAST_CYCLES = 0.1, 3.0
# So many samples a cycle show what happens in it.
LEAST_SAMPLES = 12
# Leans below it (degrees, from the mean to a side) tell no place in the cycle.
TELLS_DEG = 0.3
# A foot that reads less under load must fit its plan by so much better than one that reads more.
RATHER = 1.1


@dataclass(frozen=True)
class Trace:
    """time_s (N,), rising. leans_deg: by "roll" (to the right positive, as the right hand turns about the way ahead)
    and "pitch" (nose down positive), (N,); feet: what each foot's sensor read, by limb, (N,), in whatever unit."""

    time_s: Array
    leans_deg: Mapping[str, Array]
    feet: Mapping[str, Array]


@dataclass(frozen=True)
class Laid:
    """A trace over its plan's cycle. period_s: how long a cycle takes by the trace; cycles: how many there are; phase
    (N,): 0 … 1 of each sample in the plan; placed: whether anything tells where in the plan it begins; more: whether
    loaded feet read more."""

    period_s: float
    cycles: float
    phase: Array
    placed: bool
    more: bool

    @property
    def bins(self) -> Indices:
        return nearest(self.phase)


def laid_over(trace: Trace, r: Reading, more: bool | None = None) -> Laid:
    """more: whether loaded feet read more, where that is known: at half a cycle in the air the two look alike.

    Raises InputRefused where it shows too little of its cycle."""
    planned = r.score.duration_s
    if not r.score.periodic:
        raise refuse(
            "motion", f"{r.motion.name} has an end, and comes round to nothing that a trace could be laid over"
        )
    lasts = float(trace.time_s[-1] - trace.time_s[0])
    if lasts < LEAST_CYCLES * planned:
        raise refuse(
            "time_s", f"it lasts {lasts:.1f} s, {lasts / planned:.1f} cycles of {planned:.2f} s; it takes 3 to compare"
        )
    if len(trace.time_s) < LEAST_SAMPLES * lasts / planned:
        raise refuse(
            "time_s",
            f"it has {len(trace.time_s) * planned / lasts:.0f} lines a cycle; {LEAST_SAMPLES} show how feet land",
        )
    signals = [_plain(values) for values in (*trace.leans_deg.values(), *trace.feet.values())]
    signals = [values for values in signals if values.any()]
    if not signals:
        raise refuse("", "Nothing moves in it: every column but the time holds one value.")
    period = _period(trace.time_s, np.array(signals), planned)
    phase = (trace.time_s - trace.time_s[0]) / period % 1.0
    shift, placed, reads_more = _placed(trace, phase, r, more)
    return Laid(period, lasts / period, (phase - shift) % 1.0, placed, reads_more)


def nearest(phase: Array) -> Indices:
    """(N,): which of PHASES each is nearest to."""
    found: Indices = np.round(phase * PHASES).astype(np.intp) % PHASES
    return found


def over_the_cycle(phase: Array, values: Array) -> tuple[Array, Array]:
    """(PHASES,) each: the mean at each phase of samples (N,), and how far it spreads from cycle to cycle."""
    bins = nearest(phase)
    count = np.bincount(bins, minlength=PHASES)
    mean = np.bincount(bins, values, PHASES) / np.maximum(count, 1)
    known = np.flatnonzero(count)
    mean = np.interp(np.arange(PHASES), known, mean[known], period=PHASES)
    off = np.bincount(bins, np.square(values - mean[bins]), PHASES) / np.maximum(count, 1)
    return mean, np.interp(np.arange(PHASES), known, np.sqrt(off[known]), period=PHASES)


def _plain(values: Array) -> Array:
    """About 0, by its own spread; 0 of what does not move."""
    off = values - values.mean()
    spread = float(np.sqrt(np.mean(off**2)))
    return off / spread if spread > 1e-9 else np.zeros_like(off)


def _period(time_s: Array, signals: Array, planned: float) -> float:
    lasts = float(time_s[-1] - time_s[0])
    # First as fine as so long a trace tells cycles apart, by a quarter; then between the neighbours of the best.
    tried = int(np.clip(np.ceil(8 * 2 * CLOCK * lasts / planned), 21, 401)) | 1
    found, room = planned, CLOCK * planned
    for count in (tried, FINER):
        periods = found + room * np.linspace(-1.0, 1.0, count)
        found, room = float(periods[np.argmax([_weighs(time_s, signals, p) for p in periods])]), 2 * room / (count - 1)
    return found


def _weighs(time_s: Array, signals: Array, period: float) -> float:
    turn = np.exp(-2j * np.pi * time_s / period)
    turns = np.cumprod(np.broadcast_to(turn, (HARMONICS, len(turn))), axis=0)
    return float(np.square(np.abs(signals @ turns.T)).sum())


def _placed(trace: Trace, phase: Array, r: Reading, more: bool | None) -> tuple[float, bool, bool]:
    """How far into the plan the trace begins, as a share of the cycle, counted back; whether that is known; and whether
    loaded feet read more."""
    told, leans = contacts_told(r, PHASES), leans_told(r, PHASES)
    feet = [(told[limb], values) for limb, values in trace.feet.items()]
    lean = [(leans[way], values) for way, values in trace.leans_deg.items() if np.ptp(leans[way]) > 2 * TELLS_DEG]
    for pairs in (feet, lean):
        fits = np.zeros(PHASES)
        for plan, values in pairs:
            seen = _plain(over_the_cycle(phase, values)[0])
            # All shifts at once: a correlation round the cycle.
            fits += np.fft.irfft(np.fft.rfft(seen) * np.conj(np.fft.rfft(_plain(plan))), PHASES)
        if np.abs(fits).max() <= 1e-9:
            continue
        if pairs is lean:
            more = True
        elif more is None:
            more = float(-fits.min()) <= RATHER * float(fits.max())
        return float(np.argmax(fits if more else -fits)) / PHASES, True, more
    return 0.0, False, more is not False
