"""A leg of two joints: a plane turned by one axis, with one stiff link in it. Its foot lives on a surface.

Coordinates as in `hip_and_knee_solution`, without the knee: r = c + ℓ·cos α, W = e + ℓ·sin α. Two coordinates of a
target can be met, the third is left over and is what the foot slips. W is always kept (asin), and one direction ν
across it:

    X·cos ν + Y·sin ν = ρ·cos(ψ + γ − ν),   ρ = √(r² + s²),   γ = atan2(s, r)

so ψ = ν − γ ± acos(t/ρ), on the target's side. Without a direction to keep, the foot goes to the surface's nearest
point.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.legs.family import REACHED_MM, Solution, miss
from bustle.core.kinds.legs.hip_and_knee_solution import nearest_angle
from bustle.core.kinds.legs.two_link_triangle import wrapped


@dataclass(frozen=True)
class OneLink:
    """One leg's dimensions in mm. keep: the direction ν that is met, rad, or None for the nearest point."""

    out: float
    side: float
    along: float
    length: float
    keep: float | None


def solve_sticks(legs: Sequence[OneLink], points: Array, upright: bool = False) -> Solution:
    """points (L, S, 3) mm in each mount's frame → joints ψ, α (L, S, 2), the residual, and where all three were met."""
    residual = np.zeros((*points.shape[:2], 6))
    short = np.empty(points.shape[:2])
    joints = np.empty((*points.shape[:2], 2))
    for i, leg in enumerate(legs):
        x, y, w = points[i].T
        if upright:
            x, w = -points[i, :, 2], points[i, :, 0]
        joints[i] = _solve(leg, x, y, w)
        gap = np.stack([x, y, w], axis=-1) - _tip(leg, joints[i])
        short[i] = _short(leg, gap)
        residual[i, :, :3] = np.stack([gap[:, 2], gap[:, 1], -gap[:, 0]], axis=-1) if upright else gap
    return Solution(joints, residual, miss(residual) <= REACHED_MM, short)


def _short(leg: OneLink, gap: Array) -> Array:
    """How much of the gap (S, 3) is in the coordinates that are kept; height alone where the nearest point is."""
    if leg.keep is None:
        return np.abs(gap[:, 2])
    return np.hypot(gap[:, 2], gap[:, 0] * np.cos(leg.keep) + gap[:, 1] * np.sin(leg.keep))


def _tip(leg: OneLink, q: Array) -> Array:
    turn, pitch = q.T
    r = leg.out + leg.length * np.cos(pitch)
    c, s = np.cos(turn), np.sin(turn)
    return np.stack([r * c - leg.side * s, r * s + leg.side * c, leg.along + leg.length * np.sin(pitch)], axis=-1)


def _solve(leg: OneLink, x: Array, y: Array, w: Array) -> Array:
    if leg.keep is None:
        pitch = nearest_angle(leg.out, leg.side, leg.length, np.hypot(x, y), w - leg.along)
        r = leg.out + leg.length * np.cos(pitch)
        return np.column_stack([wrapped(np.arctan2(y, x) - np.arctan2(leg.side, r)), pitch])
    pitch = np.arcsin(np.clip((w - leg.along) / leg.length, -1.0, 1.0))
    r = leg.out + leg.length * np.cos(pitch)
    rho = np.hypot(r, leg.side)
    wanted = x * np.cos(leg.keep) + y * np.sin(leg.keep)
    across = y * np.cos(leg.keep) - x * np.sin(leg.keep)
    turn = np.arccos(np.clip(wanted / np.where(rho > 0, rho, 1.0), -1.0, 1.0))
    turn = np.where(across < 0, -turn, turn)
    return np.column_stack([wrapped(leg.keep - np.arctan2(leg.side, r) + turn), pitch])
