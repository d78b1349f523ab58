"""F27: what a foot's sensor reads loaded and unloaded, the threshold between, and when it tells that the foot is down.

Loaded is what it reads while its plan has it down, unloaded while it is up, both well away from touchdown and lift-off.
A threshold t misreads
    e(t) = ½·(share of loaded readings on t's wrong side + share of unloaded ones);
the middle of those that misread least is told, a quarter of their span to each side of it the foot is down and up
again. As no machine walks quite as planned, some is misread of the best: past MISREADS nothing can be told by it.
A divider of R under a sensor of R_s reads R/(R + R_s) of its full scale, turned round where the sensor lies below:
loaded and unloaded are furthest apart with R = √(R_s,loaded·R_s,unloaded).
Source: the voltage divider of any text; the best R from its derivative.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.trials.traces.as_told import contacts_told
from bustle.core.trials.traces.trace import PHASES, Laid, Trace, over_the_cycle
from bustle.core.walk.reading import Reading

# Off touchdown and lift-off by so long, s, or this share of a stance or a swing where that is less.
CLEAR_S, CLEAR = 0.06, 0.25
# From … to: the middle of its readings.
MIDDLE = (5.0, 95.0)
# So much may be misread, so much more by a threshold that is told by still; thresholds that are tried.
MISREADS, AS_GOOD, TRIED = 0.1, 0.01, 201
# How far from its plan a touchdown is looked for, of the cycle.
NEAR = 0.25
# A divider is worth changing past this many times as much, or as little.
WORTH = 1.5
FULL = 0.998


@dataclass(frozen=True)
class Felt:
    """limb. seen, down: over the cycle, (PHASES,), what it reads, in its own unit, and whether it is told down. loaded,
    unloaded: its readings, none where its plan never has it down, or up. misread: by the best threshold. threshold and
    off_by: told down past threshold + off_by and up again past threshold − off_by, the other way round where loaded
    reads less; None where nothing can be told by it. lands_ms: how much later than the feet on the whole, None where
    that cannot be told. divider: times the resistor, None where it is not known or good as it is."""

    limb: str
    seen: Array
    down: Flags
    loaded: Array
    unloaded: Array
    more: bool
    misread: float = 0.0
    threshold: float | None = None
    off_by: float | None = None
    lands_ms: float | None = None
    divider: float | None = None

    @property
    def known(self) -> bool:
        """Whether it was seen both loaded and unloaded."""
        return bool(len(self.loaded) and len(self.unloaded))

    @property
    def told_down_at(self) -> float | None:
        """What it reads as it is told down."""
        return self._past(1.0)

    @property
    def told_up_at(self) -> float | None:
        """What it reads as it is told up again."""
        return self._past(-1.0)

    def _past(self, way: float) -> float | None:
        if self.threshold is None or self.off_by is None:
            return None
        return self.threshold + (way if self.more else -way) * self.off_by

    def misreads(self, threshold: float) -> float:
        up, down = (self.loaded, self.unloaded) if self.more else (self.unloaded, self.loaded)
        return (float(np.mean(up < threshold)) + float(np.mean(down >= threshold))) / 2

    def fits(self, threshold: float) -> bool:
        """Whether another threshold misreads hardly more."""
        return not self.known or self.misreads(threshold) <= self.misread + MISREADS / 2

    def thresholded(self) -> Felt:
        """With the threshold that misreads least."""
        if not self.known:
            return self
        both = np.concatenate([self.loaded, self.unloaded])
        tried = np.linspace(both.min(), both.max(), TRIED)
        misread = np.array([self.misreads(t) for t in tried.tolist()])
        least = int(np.argmin(misread))
        bad = np.flatnonzero(misread > misread[least] + AS_GOOD)
        low, high = bad[bad < least].max(initial=-1) + 1, bad[bad > least].min(initial=TRIED) - 1
        found = replace(self, misread=float(misread[least]))
        if found.misread > MISREADS:
            return found
        span = float(tried[high] - tried[low])
        return replace(found, threshold=float(tried[low] + tried[high]) / 2, off_by=span / 4)


def span(readings: Array) -> tuple[float, float]:
    """From … to, of the middle of some readings."""
    low, high = np.percentile(readings, MIDDLE)
    return float(low), float(high)


def felt(trace: Trace, laid: Laid, r: Reading, full_scale: float | None = None) -> list[Felt]:
    """Of every foot with a sensor. full_scale: what its converter reads at the supply's voltage."""
    told = contacts_told(r, PHASES)
    found, lands = [], {}
    for limb, values in trace.feet.items():
        seen = over_the_cycle(laid.phase, values)[0]
        # One that lands late or early all the same stands for most of what it is told to.
        down = told[limb] > 0.5
        stands = np.roll(down, _own_shift(seen if laid.more else -seen, told[limb]))
        loaded, unloaded = (values[_clear(which, laid.period_s)[laid.bins]] for which in (stands, ~stands))
        each = Felt(limb, seen, down, loaded, unloaded, laid.more).thresholded()
        if each.threshold is not None:
            late = _late(seen, each.threshold, laid.more, told[limb])
            if late is not None:
                lands[limb] = 1000 * late * laid.period_s
        found.append(each)
    return [replace(f, lands_ms=_beside(lands, f.limb), divider=_divider(f, full_scale)) for f in found]


def _beside(lands: Mapping[str, float], limb: str) -> float | None:
    """How much later it lands than the feet on the whole; of two, than the other."""
    others = [v for name, v in lands.items() if name != limb or len(lands) > 2]
    return lands[limb] - float(np.median(others)) if limb in lands and others else None


def _own_shift(seen: Array, told: Array) -> int:
    """By how many of PHASES it goes with its plan best, within NEAR."""
    near = int(NEAR * PHASES)
    ways = np.arange(-near, near + 1)
    return int(ways[np.argmax([float(seen @ np.roll(told, by)) for by in ways])])


def _clear(down: Flags, period_s: float) -> Flags:
    """(PHASES,): without what is near its ends."""
    if down.all() or not down.any():
        return down
    off = int(min(math.ceil(CLEAR_S / period_s * PHASES), CLEAR * down.sum()))
    found = down.copy()
    for by in range(1, off + 1):
        found &= np.roll(down, by) & np.roll(down, -by)
    return found


def _late(seen: Array, threshold: float, more: bool, told: Array) -> float | None:
    """How much later than planned it passes the threshold as it lands, as a share of the cycle; on the mean cycle."""
    down = told > 0.5
    lands = np.flatnonzero(down & ~np.roll(down, 1))
    if len(lands) != 1:
        return None
    order = (lands[0] + np.arange(-int(NEAR * PHASES), int(NEAR * PHASES) + 1)) % PHASES
    planned = _rises(told[order] - 0.5)
    found = _rises((seen - threshold)[order] * (1 if more else -1))
    return None if planned is None or found is None else (found - planned) / PHASES


def _rises(values: Array) -> float | None:
    """Where it goes through 0 upwards, in places, the nearest to the middle."""
    before = np.flatnonzero((values[:-1] < 0) & (values[1:] >= 0))
    at = before + values[before] / (values[before] - values[before + 1])
    return float(at[np.argmin(np.abs(at - len(values) // 2))]) if len(at) else None


def _divider(f: Felt, full_scale: float | None) -> float | None:
    if f.threshold is None or not full_scale:
        return None
    shares = [float(np.clip(np.median(v) / full_scale, 1 - FULL, FULL)) for v in (f.loaded, f.unloaded)]
    times = math.sqrt(math.prod((1 - x) / x for x in shares))
    times = times if f.more else 1 / times
    return times if not 1 / WORTH <= times <= WORTH else None
