"""What a motion asks for: where each foot steps and when, and where the body is, as functions of time.

A score is the same thing for every kind of motion, so what follows it need not know the kind.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bustle.core.foot_paths import FOOT_PATHS

Array = NDArray[np.float64]

# A phase this near to an event is that event.
PHASE_TOLERANCE = 1e-9


@dataclass(frozen=True)
class Steps:
    """The steps of one foot in time order; step k swings from footprint k to footprint k+1.

    lift_s, land_s: (K,) s. footprints: (K+1, 2) mm in the ground frame. Before the first lift and after the
    last landing the foot stands. K may be 0: a planted foot.
    """

    lift_s: Array
    land_s: Array
    footprints: Array
    lift_mm: float
    path: str


@dataclass(frozen=True)
class BodyTrack:
    """Body poses in the ground frame. at: (S, 3) mm; turn: (S, 3, 3). travel: x, y, θ of the travel frame."""

    at: Array
    turn: Array
    travel: tuple[Array, Array, Array]


@dataclass(frozen=True)
class Score:
    """duration_s: one cycle, or the whole. feet: one entry per limb. body(t (S,)) → BodyTrack.

    stroke_mm: (L,), the foot's travel in stance as seen from the travel frame: speed × duty × T.
    """

    duration_s: float
    periodic: bool
    feet: tuple[Steps, ...]
    body: Callable[[Array], BodyTrack]
    stroke_mm: Array

    @property
    def tolerance_s(self) -> float:
        return PHASE_TOLERANCE * self.duration_s

    def events(self) -> Array:
        """Times in [0, duration) at which some foot lifts or lands, each once."""
        times = [t for foot in self.feet for t in (*foot.lift_s, *foot.land_s)]
        inside = np.array(sorted(t for t in times if -self.tolerance_s <= t < self.duration_s - self.tolerance_s))
        if inside.size:
            apart = np.concatenate([[True], np.diff(inside) > self.tolerance_s])
            inside = np.maximum(inside[apart], 0.0)
        return inside

    def contacts(self, t: Array, before: NDArray[np.bool_] | bool = False) -> NDArray[np.bool_]:
        """(L, S): which feet stand at t; where t is an event, just after it, or just before where `before`."""
        shifted = t + np.where(before, -self.tolerance_s, self.tolerance_s)
        return np.array([~_swinging(foot, shifted)[0] for foot in self.feet])

    def targets(self, t: Array) -> Array:
        """(L, S, 3) mm: where each foot should be, in the ground frame."""
        return np.array([_positions(foot, t, self.tolerance_s) for foot in self.feet])


def _swinging(foot: Steps, t: Array) -> tuple[NDArray[np.bool_], NDArray[np.intp]]:
    """Whether the foot is in the air at t, and which step it is in or had last (−1: none yet)."""
    step = np.searchsorted(foot.lift_s, t, side="right") - 1
    if not len(foot.lift_s):
        return np.zeros(t.shape, dtype=bool), step
    return (step >= 0) & (t < foot.land_s[np.maximum(step, 0)]), step


def _positions(foot: Steps, t: Array, tolerance_s: float) -> Array:
    out = np.zeros((len(t), 3))
    air, step = _swinging(foot, t + tolerance_s)
    out[:, :2] = foot.footprints[step + 1]
    if air.any():
        k = step[air]
        lift, land = foot.lift_s[k], foot.land_s[k]
        u = np.clip((t[air] - lift) / (land - lift), 0.0, 1.0)
        path = FOOT_PATHS[foot.path]
        start, end = foot.footprints[k], foot.footprints[k + 1]
        out[air, :2] = start + path.along(u)[:, None] * (end - start)
        out[air, 2] = foot.lift_mm * path.height(u)
    return out
