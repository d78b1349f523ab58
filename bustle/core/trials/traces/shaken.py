"""F26: what an attitude sensor tells is footfalls, not the lean.

By the powers of its spectrum, P₁ about the stride's frequency f₁ = 1/p and P at and above that of its steps, f_s: it is
swamped where ΣP > P₁. A low-pass of n poles at f_c leaves of a frequency f the share 1/(1 + (f/f_c)²)ⁿ and is late by
n·atan(f₁/f_c) at the stride. The widest that leaves ΣP at no more than a quarter of P₁ is told; it fits where it is
late by no more than a twelfth of a cycle (assumed: what a controller does about a lean it does that much too late).
Source: the first-order low-pass of any text on signals.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.trials.traces.spectrum import powers
from bustle.core.trials.traces.trace import TELLS_DEG, Laid, Trace

# What is left of the steps' power beside the stride's, after the filter.
LEFT = 0.25
# How late a filter may tell the lean, degrees of the cycle.
MOST_LATE_DEG = 30.0
# The stride's own band, and where the steps' begins, as shares of their frequencies.
BAND, FROM = 0.35, 0.9


@dataclass(frozen=True)
class Filter:
    """A low-pass of so many poles; late_deg of the cycle, late_ms."""

    poles: int
    corner_hz: float
    late_deg: float
    late_ms: float


@dataclass(frozen=True)
class Shaken:
    """way: "roll" or "pitch". lean_deg: how far it leans each way with the stride; shake_deg: how far steps shake it
    each way, on the whole; share: of their power. filter: None where none that is not too late leaves the lean over."""

    way: str
    lean_deg: float
    shake_deg: float
    share: float
    filter: Filter | None


def shaken(trace: Trace, laid: Laid, steps: int) -> list[Shaken]:
    """What leans with its stride at all, the most shaken first."""
    found = []
    for way, values in trace.leans_deg.items():
        frequency, power = powers(trace.time_s, values, laid)
        stride, step = 1.0 / laid.period_s, max(2, steps) / laid.period_s
        own = float(power[np.abs(frequency - stride) <= BAND * stride].sum())
        over = frequency >= FROM * step
        if math.sqrt(2 * own) < TELLS_DEG:
            continue
        high = float(power[over].sum())
        found.append(
            Shaken(way, math.sqrt(2 * own), math.sqrt(2 * high), high / own,
                   _quieted(frequency[over], power[over], own, stride))
        )  # fmt: skip
    return sorted(found, key=lambda s: -s.share)


def _quieted(frequency: Array, power: Array, own: float, stride: float) -> Filter | None:
    for poles in (1, 2):
        for corner in stride * np.geomspace(40.0, 0.2, 160):
            high = float((power / (1 + (frequency / corner) ** 2) ** poles).sum())
            late = poles * math.degrees(math.atan(stride / corner))
            if late > MOST_LATE_DEG:
                break
            if high <= LEFT * own / (1 + (stride / corner) ** 2) ** poles:
                return Filter(poles, float(corner), late, 1000 * late / 360 / stride)
    return None
