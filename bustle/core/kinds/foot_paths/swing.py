"""One foot's swing: a path with its lifts, its lead, and how it lands."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.foot_paths.foot_path import FootPath, Points


@dataclass(frozen=True)
class Swing:
    """lift_mm: at the start, in the middle and at the end of the swing; the height between goes over smoothly.

    early: how far the foot runs ahead of its path's own way across, as a share of it, at mid-swing; below 0 it lags.
    matched: the time along the path is eased so that the foot lifts and lands with no speed over the ground.
    landing_mm_s: with what speed downwards a foot lands that would otherwise land with none.
    """

    path: FootPath
    lift_mm: tuple[float, float, float]
    points: Points = ()
    early: float = 0.0
    matched: bool = False
    landing_mm_s: float = 0.0

    @property
    def soft(self) -> bool:
        """Whether it would land without speed."""
        return self.path.smooth or self.matched

    def _time(self, u: Array) -> Array:
        """Matched: w = u − sin(2πu)/2π, which begins and ends without speed."""
        return u - np.sin(2 * np.pi * u) / (2 * np.pi) if self.matched and not self.path.smooth else u

    def along(self, u: Array) -> Array:
        """Share of the way at share u of the swing; w + early·sin²(πw) goes in, whose slope at the ends is 1."""
        w = self._time(u)
        if self.early:
            w = w + self.early * np.sin(np.pi * w) ** 2
        return self.path.along(w, self.points)

    def height_mm(self, u: Array, swing_s: Array | float) -> Array:
        """lift(w)·height(w), and v·swing time·u²(1 − u) on top, which lands at v: its slope at 1 is −v·swing time."""
        w = self._time(u)
        first, middle, last = self.lift_mm
        height = self.path.height(w, self.points)
        if first == middle == last:
            height = middle * height
        else:
            ahead = np.clip(2 * np.where(w < 0.5, w, w - 0.5), 0.0, 1.0)
            eased = ahead**2 * (3 - 2 * ahead)
            low, high = np.where(w < 0.5, first, middle), np.where(w < 0.5, middle, last)
            height = (low + eased * (high - low)) * height
        if self.landing_mm_s:
            height = height + self.landing_mm_s * swing_s * u**2 * (1 - u)
        return height

    def landing(self, step_mm: float, swing_s: float) -> tuple[float, float]:
        """Speeds over the ground as it lands, mm/s: across, and down."""
        if self.soft:
            return 0.0, self.landing_mm_s
        across, up = self.path.end(self.points)
        return abs(across) * step_mm / swing_s, abs(up) * self.lift_mm[2] / swing_s
