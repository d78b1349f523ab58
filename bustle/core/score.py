"""What a motion asks for: where each foot steps and when, and where the body is, as functions of time.

A score is the same thing for every kind of motion, so what follows it need not know the kind.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from bustle.core.foot_paths import FOOT_PATHS

Array = NDArray[np.float64]

# A phase this near to an event is that event.
PHASE_TOLERANCE = 1e-9


@dataclass(frozen=True)
class Steps:
    """The steps of one foot in time order; step k swings from footprint k to footprint k+1.

    lift_s, land_s: (K,) s. footprints: (K+1, 2) mm in the ground frame; headings: (K+1,) rad, which way the toes point.
    Before the first lift and after the last landing the foot stands. K may be 0: a planted foot.
    role: "steps" (planted included); "track" for a foot that rolls along with the body, its place (S, 2) mm and
    heading (S,) given by `track`; "rolls" for a support on the frame that stands wherever it touches; "none" for a
    limb without a foot.
    """

    lift_s: Array
    land_s: Array
    footprints: Array
    headings: Array
    lift_mm: float
    path: str
    role: Literal["steps", "track", "rolls", "none"] = "steps"
    track: Callable[[Array], tuple[Array, Array]] | None = None


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
        return np.array([_standing(foot, shifted) for foot in self.feet])

    def targets(self, t: Array) -> Array:
        """(L, S, 3) mm: where each foot should be, in the ground frame."""
        return np.array([_positions(foot, t, self.tolerance_s) for foot in self.feet])

    def headings(self, t: Array) -> Array:
        """(L, S) rad: which way the toes of each foot should point, in the ground frame."""
        return np.array([_headings(foot, t, self.tolerance_s) for foot in self.feet])


def _standing(foot: Steps, t: Array) -> NDArray[np.bool_]:
    if foot.role == "steps":
        return ~_swinging(foot, t)[0]
    return np.full(t.shape, foot.role == "track")


def _swinging(foot: Steps, t: Array) -> tuple[NDArray[np.bool_], NDArray[np.intp]]:
    """Whether the foot is in the air at t (S,), and which step it is in or had last (−1: none yet)."""
    step = np.searchsorted(foot.lift_s, t, side="right") - 1
    if not len(foot.lift_s):
        return np.zeros(t.shape, dtype=bool), step
    return (step >= 0) & (t < foot.land_s[np.maximum(step, 0)]), step


def _positions(foot: Steps, t: Array, tolerance_s: float) -> Array:
    out = np.zeros((len(t), 3))
    if foot.track:
        out[:, :2] = foot.track(t)[0]
        return out
    air, step = _swinging(foot, t + tolerance_s)
    out[:, :2] = foot.footprints[step + 1]
    if air.any():
        k, u = step[air], _swing_share(foot, t[air], step[air])
        path = FOOT_PATHS[foot.path]
        start, end = foot.footprints[k], foot.footprints[k + 1]
        out[air, :2] = start + path.along(u)[:, None] * (end - start)
        out[air, 2] = foot.lift_mm * path.height(u)
    return out


def _headings(foot: Steps, t: Array, tolerance_s: float) -> Array:
    if foot.track:
        return foot.track(t)[1]
    air, step = _swinging(foot, t + tolerance_s)
    out: Array = foot.headings[step + 1].copy()
    if air.any():
        k, u = step[air], _swing_share(foot, t[air], step[air])
        start, end = foot.headings[k], foot.headings[k + 1]
        out[air] = start + FOOT_PATHS[foot.path].along(u) * (end - start)
    return out


def _swing_share(foot: Steps, t: Array, k: NDArray[np.intp]) -> Array:
    lift, land = foot.lift_s[k], foot.land_s[k]
    share: Array = np.clip((t - lift) / (land - lift), 0.0, 1.0)
    return share
