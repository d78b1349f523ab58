"""A stand-in for the sensors on a machine, for whoever has none yet: what they might tell of a motion.

The leans that the plan tells, and at every touchdown a ring that dies away, shake·exp(−δt)·sin(2π·f·t); feet that read
RESTING in the air and LOADED on the floor, both with noise. None of it is a simulation of the machine.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.trials.traces.as_told import contacts_told, is_down, leans_told
from bustle.core.trials.traces.trace import Trace
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import refuse

PHASES = 360
RING_HZ, DIES_PER_S = 9.0, 14.0
RESTING, LOADED, NOISE = 60.0, 610.0, 25.0
NOISE_DEG = 0.1


def stand_in(
    r: Reading,
    seed: int,
    *,
    cycles: float = 8.0,
    rate_hz: float = 100.0,
    clock: float = 1.0,
    begins: float = 0.0,
    shake_deg: float = 0.6,
    late_s: Mapping[str, float] | None = None,
) -> Trace:
    """clock: how much longer a cycle takes than planned; begins: where in it the trace does, as a share; late_s: by
    limb, how much later than planned its foot is felt. Raises InputRefused for a motion with an end."""
    if not r.score.periodic:
        raise refuse("motion", f"{r.motion.name} has an end; a trace is of a motion that goes on")
    random = np.random.default_rng(seed)
    period = r.score.duration_s * clock
    time = np.arange(int(cycles * period * rate_hz)) / rate_hz
    at = time / period + begins
    leans = {
        way: _at(told, at) + _rings(r, at, period, shake_deg) + random.normal(0.0, NOISE_DEG, len(time))
        for way, told in leans_told(r, PHASES).items()
    }
    feet = {
        limb: RESTING
        + (LOADED - RESTING) * np.clip(_at(share, at - (late_s or {}).get(limb, 0.0) / period), 0.0, 1.0)
        + random.normal(0.0, NOISE, len(time))
        for limb, share in contacts_told(r, PHASES).items()
    }
    return Trace(time, leans, feet)


def _at(values: Array, cycles: Array) -> Array:
    found: Array = np.interp(cycles % 1.0 * PHASES, np.arange(PHASES), values, period=PHASES)
    return found


def _rings(r: Reading, at: Array, period: float, shake_deg: float) -> Array:
    found = np.zeros(len(at))
    for down in is_down(r, PHASES).values():
        for phase in np.flatnonzero(down & ~np.roll(down, 1)) / PHASES:
            since = (at - phase) % 1.0 * period
            found += shake_deg * np.exp(-DIES_PER_S * since) * np.sin(2 * np.pi * RING_HZ * since)
    return found
