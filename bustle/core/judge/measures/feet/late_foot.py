"""A foot that does not meet the ground where the plan has it: how far it may still reach, and how the body leans
meanwhile.

Where the floor is e lower than planned and the foot reaches only d further, the body has to lean until the foot
meets it: by atan((r − d)/a), a the distance from that foot to the middle of those that stand. A foot that comes down
at speed v is late by e/v; each millisecond leans the body by v·1 ms/a.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from bustle.core.kinds.foot_paths import Swing
from bustle.core.walk.course import joints_of
from bustle.core.walk.reading import Reading
from bustle.core.walk.score import Scored

MISS_MM = 1e-3
DEPTHS = 9


@dataclass(frozen=True)
class LateFoot:
    """A leg as it lands. reach_mm: how far of the search depth below the plan it can go; arm_mm: a; speed_mm_s: v."""

    limb: int
    time_s: float
    reach_mm: float
    arm_mm: float
    speed_mm_s: float

    def lean_deg(self, lower_mm: float) -> float:
        return float(np.degrees(np.arctan2(max(0.0, lower_mm - self.reach_mm), max(self.arm_mm, 1.0))))

    @property
    def deg_per_ms(self) -> float:
        return float(np.degrees(self.speed_mm_s / 1000 / max(self.arm_mm, 1.0)))


def late_feet(r: Reading) -> list[LateFoot]:
    """One per leg that lifts in a gait. Speed: as it comes down through the floor's unevenness, or its last tenth."""
    gait, score = r.gait, r.score
    if not gait or not isinstance(score, Scored):
        return []
    legs = [(i, r.timing[m.name]) for i, m in enumerate(r.project.walker.limbs) if m.name in r.timing]
    legs = [(i, leg) for i, leg in legs if leg.duty < 1]
    if not legs:
        return []
    landing = np.array([leg.phase * gait.cycle_s for _, leg in legs])
    if score.unclock:
        landing = score.unclock(landing)
    reach = _reaches(r, score, [i for i, _ in legs], landing, gait.swing.search_mm)
    near = max(r.project.floor.unevenness_mm or 0.0, 0.1 * gait.lift_mm, 0.5)
    times = landing % score.duration_s
    standing, places = score.contacts(times, True), score.feet_at(times)[0][..., :2]
    # From each to the middle of the others that stand as it lands.
    own, each = np.array([i for i, _ in legs]), np.arange(len(legs))
    others = standing.astype(float)
    others[own, each] = 0.0
    count = others.sum(axis=0)
    away = places[own, each] - (others[..., None] * places).sum(axis=0) / np.maximum(count, 1.0)[:, None]
    arms = np.where(count > 0, np.hypot(away[:, 0], away[:, 1]), 0.0).tolist()
    found = []
    for (i, leg), time, arm, depth in zip(legs, times.tolist(), arms, reach.tolist(), strict=True):
        speed = _descent(score.feet[i].swing, (1 - leg.duty) * gait.cycle_s, near)
        found.append(LateFoot(i, time, depth, arm, speed))
    return found


@lru_cache(64)
def _descent(swing: Swing | None, swing_s: float, near_mm: float) -> float:
    """The mean speed, mm/s, at which a swing comes down through the last near_mm."""
    if swing is None:
        return 0.0
    left = np.linspace(0.0, 0.5, 51)
    height = swing.height_mm(1.0 - left, swing_s)
    high = np.flatnonzero(height >= near_mm)
    took = left[high[0]] if len(high) else 0.5
    return float(min(near_mm, height.max()) / max(took * swing_s, 1e-6))


def _reaches(r: Reading, score: Scored, legs: list[int], landing: np.ndarray, depth_mm: float) -> np.ndarray:
    """How far below the plan each leg reaches as it lands, within its stops, up to depth_mm."""
    if depth_mm <= 0:
        return np.zeros(len(legs))
    depths = np.linspace(0.0, depth_mm, DEPTHS)
    times = np.tile(landing % score.duration_s, DEPTHS)
    lower = np.repeat(depths, len(legs))
    solved = joints_of(r.project, score, times, lower)
    reach = np.zeros(len(legs))
    within = (solved.joints >= r.kit.low - 1e-9) & (solved.joints <= r.kit.high + 1e-9)
    for n, i in enumerate(legs):
        good = (solved.miss_mm[i, n :: len(legs)] <= MISS_MM) & within[n :: len(legs), r.kit.slices[i]].all(axis=1)
        good[0] = True
        last = len(good) if good.all() else int(np.argmin(good))
        reach[n] = depths[last - 1]
    return reach
