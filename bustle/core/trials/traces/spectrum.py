"""What a signal of a trace is made of, by frequency, and how much of that comes again from cycle to cycle.

What comes again lies at whole multiples of the stride's frequency alone; of what lies beside them none does.
Source: the Fourier series of any text on signals.
"""

from __future__ import annotations

import math

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.trials.traces.trace import Laid

# Up to so many times the steps' frequency: beyond it there is more of the sensor than of the walk.
UP_TO = 1.5


def powers(time_s: Array, values: Array, laid: Laid) -> tuple[Array, Array]:
    """Hz and degrees² (half an amplitude's square) of whole cycles, on an even grid as fine as the samples are."""
    cycles = math.floor(laid.cycles)
    count = max(8 * cycles, round(len(values) * cycles / laid.cycles))
    even = time_s[0] + np.arange(count) * cycles * laid.period_s / count
    seen = np.interp(even, time_s, values)
    # A slow drift of the sensor is no lean.
    line = np.polynomial.Polynomial.fit(even, seen, 1)
    spectrum = np.fft.rfft(seen - line(even)) / count
    power: Array = 2 * np.square(np.abs(spectrum))
    return np.asarray(np.fft.rfftfreq(count, cycles * laid.period_s / count)), power


def comes_again(time_s: Array, values: Array, laid: Laid, steps: int) -> tuple[float, float]:
    """How far it moves, degrees each way, slower than a little beyond its steps; and which share of that, by power, is
    the same every cycle."""
    frequency, power = powers(time_s, values, laid)
    slow = (frequency > 0) & (frequency <= UP_TO * max(2, steps) / laid.period_s)
    every = np.arange(len(power)) % math.floor(laid.cycles) == 0
    whole = float(power[slow].sum())
    return math.sqrt(2 * whole), float(power[slow & every].sum()) / whole if whole > 1e-12 else 1.0
