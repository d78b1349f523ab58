"""The clearance budget of a swing: lift − sag − backlash droop − unevenness = what is left where the foot should be
clear. With the sag goes what a lifted leg bends its own mount by, hanging from it: m·g·c.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.extremes import greatest
from bustle.core.geometry.planar_twist import carry
from bustle.core.judge.measures.feet.foot_give import sag_mm
from bustle.core.judge.measures.feet.foot_play import foot_plays
from bustle.core.judge.measures.gait_phase import gait_phases
from bustle.core.loads.giving.lifted_foot import lower_mm
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading, waits_for_rest

# What goes by less elsewhere than planned is lifted as planned.
OFF_MM = 0.5


@dataclass(frozen=True)
class Swing:
    """A leg's, as planned. height_mm: the foot's path at its highest; over_obstacle_mm: where the obstacle lies.
    under_mm: how far a foot whose joints leave its height to its stroke goes under those that stand, in the middle half
    of its swing, less than 0 where it is over them; None of all others."""

    limb: int
    sample: int
    height_mm: float
    droop_mm: float
    uneven_mm: float
    over_obstacle_mm: float | None
    over_obstacle_sample: int
    assumed: bool
    under_mm: float | None


@dataclass(frozen=True)
class SwingClearance(Swing):
    """And how far it sags there."""

    sag_mm: float

    @property
    def left_mm(self) -> float:
        return self.height_mm - self.sag_mm - self.droop_mm - self.uneven_mm


@waits_for_rest
def clearances(r: Reading) -> list[SwingClearance]:
    """One per leg that steps, the least left first. None where the motion is no gait."""
    found, tops = [], r.of(swings)
    for swing, lower in zip(tops, lower_mm(r, [(s.limb, s.sample) for s in tops]), strict=True):
        # Where it does not balance as it stands, as if all feet that are down shared its weight alike.
        sag = (sag_mm(r, swing.sample) if lower is None else lower) + _hangs_mm(r, swing.limb)
        found.append(SwingClearance(**vars(swing), sag_mm=sag))
    return sorted(found, key=lambda b: round(b.left_mm, 6))


def swings(r: Reading) -> list[Swing]:
    """One per leg that steps, as the design's feet go; of one that leaves its height to its stroke, as that goes."""
    floor = r.project.floor
    droops = {p.limb: p.up_mm for p in r.of(foot_plays)}
    assumed, heights = not r.kit.unstated_stiffness.isdisjoint(r.timing), _own_heights_mm(r)
    found = []
    for i, limb in enumerate(r.project.walker.limbs):
        leg = r.timing.get(limb.name)
        if leg is None or leg.duty >= 1:
            continue
        own = heights.get(i)
        height = r.course.target_ground_mm[i, : r.samples, 2] if own is None else own
        under = None if own is None else -float(own[_middle(_in_the_air(r, i))].min(initial=np.inf))
        top = greatest(height)
        over, at = None, top
        if floor.obstacle_mm is not None:
            over, at = _over(r, i, height, floor.obstacle_at)
        uneven = floor.unevenness_mm or 0.0
        found.append(Swing(i, top, float(height[top]), droops.get(i, 0.0), uneven, over, at, assumed, under))
    return found


def _hangs_mm(r: Reading, limb: int) -> float:
    """How far a lifted leg bends its mount and links under its own weight, where their give was said."""
    gives = r.project.walker.limbs[limb].gives_mm_per_n
    if not gives:
        return 0.0
    return gives * GRAVITY * sum(entry.mass_kg for entry in r.assembled.masses if entry.limb == limb)


def _own_heights_mm(r: Reading) -> dict[int, Array]:
    """(N,) of each limb whose joints leave its height to its stroke, as a lone swinging joint does: how high its foot
    is over what stands with it, as the body rides on the legs that stand. Nothing of legs lifted as planned."""
    n, walker = r.samples, r.project.walker
    planned, solved = (ground[:, :n, 2] for ground in (r.course.target_ground_mm, r.course.feet_ground_mm))
    down = r.course.contact[:, :n]
    off = np.where(down, 0.0, np.abs(solved - planned)).max(axis=1, initial=0.0)
    own = np.flatnonzero(off >= OFF_MM).tolist()
    if not own:
        return {}
    stands = down & np.array([limb.steps for limb in walker.limbs])[:, None]
    floor = np.where(stands, solved, 0.0).sum(axis=0) / np.maximum(stands.sum(axis=0), 1)
    measured = {leg.limb for leg in walker.as_built.limbs}
    return {i: np.where(down[i], 0.0, solved[i] - floor) for i in own if walker.limbs[i].name not in measured}


def _in_the_air(r: Reading, limb: int) -> Indices:
    """The rows at which it is in the air, in the order of its swing."""
    leg = r.timing[r.project.walker.limbs[limb].name]
    phase = (r.of(gait_phases) - leg.phase) % 1.0
    air = np.flatnonzero(~r.course.contact[limb, : r.samples])
    found: Indices = air[np.argsort(phase[air])]
    return found


def _middle(rows: Indices) -> Indices:
    return rows[len(rows) // 4 : len(rows) - len(rows) // 4]


def _over(r: Reading, limb: int, heights: Array, share: float) -> tuple[float, int]:
    """The height of the path over a share of its way across, and the sample nearest to it: over a swing, row by row.

    A march in place has no way across; there it is the share of the time.
    """
    air = _in_the_air(r, limb)
    if not len(air):
        return 0.0, 0
    at, height = r.course.target_ground_mm[limb, air, :2], heights[air]
    # A swing that runs over the end of the cycle is continued where the next one is.
    jump = np.flatnonzero(np.diff(air) < 0)
    if len(jump):
        fresh = slice(jump[0] + 1, None)
        at = at.copy()
        at[fresh] = np.stack(carry(r.goes_on, *at[fresh].T), axis=-1)
    way = at[-1] - at[0]
    size = float(way @ way)
    along = (at - at[0]) @ way / size if size > 1e-6 else np.linspace(0.0, 1.0, len(air))
    near = int(np.argmin(np.abs(along - share)))
    order = np.argsort(along)
    return float(np.interp(share, along[order], height[order])), int(air[near])
