"""A foot that does not meet the ground where the plan has it: how far it may still reach, and how the body leans
meanwhile.

Where the floor is e lower than planned and the foot reaches only d further, the body has to lean until the foot
meets it: by atan((r − d)/a), a the distance from that foot to the middle of those that stand. A foot that comes down
at speed v is late by e/v; each millisecond leans the body by v·1 ms/a.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.kinds.foot_paths import Swing
from bustle.core.machine.limb_groups import limits_of
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
    standing, places = score.contacts(times, True), score.feet_at(times)[0]
    found = []
    # Legs mostly swing alike.
    speeds: dict[tuple[Swing | None, float], float] = {}
    for n, (i, leg) in enumerate(legs):
        alike = (score.feet[i].swing, (1 - leg.duty) * gait.cycle_s)
        if alike not in speeds:
            speeds[alike] = _descent(*alike, near)
        t = times[n : n + 1]
        down, feet = standing[:, n], places[:, n, :2]
        others = feet[down & (np.arange(len(down)) != i)]
        arm = float(np.linalg.norm(feet[i] - others.mean(axis=0))) if len(others) else 0.0
        found.append(LateFoot(i, float(t[0]), float(reach[n]), arm, speeds[alike]))
    return found


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
    start = np.cumsum([0, *(len(m.joints) for m in r.project.walker.limbs)])
    for n, i in enumerate(legs):
        low, high = (np.array(v) for v in limits_of(r.project.walker.limbs[i]))
        joints = solved.joints[n :: len(legs), start[i] : start[i + 1]]
        good = (solved.miss_mm[i, n :: len(legs)] <= MISS_MM) & ((joints >= low - 1e-9) & (joints <= high + 1e-9)).all(
            1
        )
        good[0] = True
        last = len(good) if good.all() else int(np.argmin(good))
        reach[n] = depths[last - 1]
    return reach
