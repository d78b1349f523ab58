"""A leg plane turned by one hip axis, with a hip and a knee in it: what sprawled and upright legs share.

Coordinates here: W along the first axis, X the way the leg plane points at zero, Y to its left. In the plane, u leads
outwards and v along W. The plane stands s to the side of the axis, its hip joint c out and e along:

    X = r·cos ψ − s·sin ψ,   Y = r·sin ψ + s·cos ψ,   r = c + u,   W = e + v
    u = a·cos α + b·cos(α + β),   v = a·sin α + b·sin(α + β)

so r = ±√(X² + Y² − s²), ψ = atan2(Y, X) − atan2(s, r), and α, β are one triangle (law of cosines, `planar.two_link`).
A sprawled leg has W = z, X = x, Y = y; an upright one has W = x, X = −z, Y = y.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.kinds.legs.family import BLOCK, REACHED_MM, Build, Solution
from bustle.core.kinds.legs.two_link_triangle import difference, two_link, wrapped

# Directions tried round each rim of the workspace, and halvings of the best one's neighbourhood.
RIM_TRIES = 90
GOLDEN_ROUNDS = 48
_GOLDEN = (5**0.5 - 1) / 2


@dataclass(frozen=True)
class HipAndKnee:
    """One leg's dimensions in mm; sign ±1 is the sign of the knee angle. nearest: as in `Build`."""

    out: float
    side: float
    along: float
    thigh: float
    shank: float
    sign: float
    nearest: bool = True


def solve_limbs(
    build: Build, leg_of: Callable[[Build, int], HipAndKnee], points: Array, upright: bool = False
) -> Solution:
    """Closed form for the build's limbs, one per row of points (L, S, 3) mm, in each mount's frame → joints ψ, α, β.
    Legs alike are solved as one that goes to all their points."""
    groups, shape = build.alike, points.shape[:2]
    found = []
    for rows in groups:
        own = points if len(groups) == 1 else points[rows]
        one = solve_leg(leg_of(build, rows[0]), own.reshape(-1, 3), upright)
        lead = len(rows), shape[1]
        joints = one.joints[0].T.reshape(3, *lead).transpose(1, 2, 0)
        found.append((joints, one.residual.reshape(*lead, 6), one.reached.reshape(lead), one.short.reshape(lead)))
    if len(groups) == 1:
        return Solution(*found[0])
    back = np.argsort(np.concatenate(groups))
    return Solution(*(np.concatenate(parts)[back] for parts in zip(*found, strict=True)))


def solve_leg(leg: HipAndKnee, points: Array, upright: bool = False) -> Solution:
    """The same for one leg and its points (S, 3)."""
    samples = len(points)
    joints = np.empty((1, 3, samples)).transpose(0, 2, 1)  # each joint's angles side by side in memory
    residual = np.zeros((1, samples, 6))
    reached, short = np.ones((1, samples), dtype=bool), np.zeros((1, samples))
    for rows, gap in _solve(leg, points, joints[0], upright):
        residual[0, rows, :3] = gap
        short[0, rows] = np.linalg.norm(gap, axis=-1)
        reached[0, rows] = short[0, rows] <= REACHED_MM
    return Solution(joints, residual, reached, short)


def _solve(leg: HipAndKnee, points: Array, q: Array, upright: bool) -> Iterator[tuple[Indices, Array]]:
    """One limb: points (S, 3) mm → q (S, 3) rad, block by block.

    Yields the rows that were missed or nearly so and their residual (R, 3) mm, in the points' axes. Out of reach: the
    nearest pose. On the hip axis, ψ = −atan2(s, r).
    """
    for start in range(0, len(points), BLOCK):
        p, block = points[start : start + BLOCK], q[start : start + BLOCK]
        edge = _in_front(leg, *_canonical(p, upright), block)
        if edge is not None:
            rows = np.flatnonzero(edge)
            pose = block[rows]
            gap = _reach_for(leg, np.stack(_canonical(p[rows], upright), axis=-1), pose)
            block[rows] = pose
            yield rows + start, np.stack([gap[:, 2], gap[:, 1], -gap[:, 0]], axis=-1) if upright else gap


def _canonical(points: Array, upright: bool) -> tuple[Array, Array, Array]:
    """X, Y, W as arrays of their own, free to be worked on in place."""
    x, y, z = np.array(points.T, order="C")
    if upright:
        np.negative(z, out=z)
        return z, y, x
    return x, y, z


def _in_front(leg: HipAndKnee, x: Array, y: Array, w: Array, q: Array) -> Flags | None:
    """r ≥ 0. Returns where it may miss."""
    r = x * x
    r += y * y
    inside = None
    if leg.side:
        r -= leg.side * leg.side
        if not r.min(initial=0.0) >= 0.0:
            inside = r < 0.0  # nearer to the axis than the plane is
            np.maximum(r, 0.0, out=r)
    np.sqrt(r, out=r)
    if leg.side:
        q[:, 0] = difference(x, y, r.copy(), leg.side)
    else:
        np.arctan2(y, x, out=q[:, 0])
    if leg.out:
        r -= leg.out
    if leg.along:
        w -= leg.along
    q[:, 1], q[:, 2], edge = two_link(leg.thigh, leg.shank, leg.sign, r, w)
    if inside is None or edge is None:
        return edge if inside is None else inside
    return inside | edge


def _tip(leg: HipAndKnee, q: Array) -> Array:
    """q (S, 3) → X, Y, W (S, 3) mm."""
    turn, pitch, bend = q.T
    r = leg.out + leg.thigh * np.cos(pitch) + leg.shank * np.cos(pitch + bend)
    w = leg.along + leg.thigh * np.sin(pitch) + leg.shank * np.sin(pitch + bend)
    c, s = np.cos(turn), np.sin(turn)
    return np.stack([r * c - leg.side * s, r * s + leg.side * c, w], axis=-1)


def _reach_for(leg: HipAndKnee, p: Array, q: Array) -> Array:
    """The better of in front, across the axis, and the nearest rim, for targets (S, 3) that q (S, 3) may miss.

    q is put right; the residual (S, 3) is returned.
    """
    residual = p - _tip(leg, q)
    best = np.linalg.norm(residual, axis=-1)

    def try_pose(rival: Array) -> None:
        missing = p - _tip(leg, rival)
        nearer = np.linalg.norm(missing, axis=-1) < best - REACHED_MM
        q[nearer], residual[nearer] = rival[nearer], missing[nearer]
        best[nearer] = np.linalg.norm(missing[nearer], axis=-1)

    far = np.maximum(p[:, 0] ** 2 + p[:, 1] ** 2 - leg.side**2, 0.0)
    try_pose(_posed(leg, p, -np.sqrt(far), p[:, 2]))
    if leg.nearest and leg.side and (best > REACHED_MM).any():
        for u, v in _rims(leg, p):
            try_pose(_posed(leg, p, u + leg.out, v + leg.along))
    return residual


def _posed(leg: HipAndKnee, p: Array, r: Array, w: Array) -> Array:
    """The pose that brings the foot to (r, w) of the plane, turned as near to p as it goes."""
    q = np.empty((len(p), 3))
    q[:, 0] = wrapped(np.arctan2(p[:, 1], p[:, 0]) - np.arctan2(leg.side, r))
    q[:, 1], q[:, 2], _ = two_link(leg.thigh, leg.shank, leg.sign, r - leg.out, w - leg.along)
    return q


def _rims(leg: HipAndKnee, p: Array) -> list[tuple[Array, Array]]:
    """Nearest points of the workspace's rims, as (u, v).

    With the plane beside the axis the workspace in (ρ, W), ρ = √(r² + s²), is no plain annulus: its outer and inner
    rim are searched by angle (golden section), and the cut r = 0 directly.
    """
    rho, w = np.hypot(p[:, 0], p[:, 1]), p[:, 2] - leg.along
    near, far = abs(leg.thigh - leg.shank), leg.thigh + leg.shank
    found = []
    for radius in (far, near):
        angle = nearest_angle(leg.out, leg.side, radius, rho, w)
        found.append((radius * np.cos(angle), radius * np.sin(angle)))
    if abs(leg.out) <= far:
        lowest, highest = max(near**2 - leg.out**2, 0.0) ** 0.5, (far**2 - leg.out**2) ** 0.5
        v = np.where(w < 0, -1.0, 1.0) * np.clip(np.abs(w), lowest, highest)
        found.append((np.full(len(p), -leg.out), v))
    return found


def nearest_angle(out: float, side: float, radius: float, rho: Array, w: Array) -> Array:
    """The angle at which a rim of that radius comes nearest to (ρ, w), (S,) each, by golden section."""

    def distance(angle: Array) -> Array:
        away = np.hypot(radius * np.cos(angle) + out, side)
        gap: Array = (away - rho[:, None]) ** 2 + (radius * np.sin(angle) - w[:, None]) ** 2
        return gap

    around = np.linspace(-np.pi, np.pi, RIM_TRIES, endpoint=False)
    tried = distance(around[None])
    # The two lowest valleys: a rim may come near in two places.
    valley = (tried <= np.roll(tried, 1, axis=1)) & (tried <= np.roll(tried, -1, axis=1))
    order = np.argsort(np.where(valley, tried, np.inf), axis=1)[:, :2]
    best = around[order]
    low, high = best - 2 * np.pi / RIM_TRIES, best + 2 * np.pi / RIM_TRIES
    for _ in range(GOLDEN_ROUNDS):
        first, second = high - _GOLDEN * (high - low), low + _GOLDEN * (high - low)
        left = distance(first) < distance(second)
        low, high = np.where(left, low, first), np.where(left, second, high)
    found = (low + high) / 2
    pick: Array = np.take_along_axis(found, np.argmin(distance(found), axis=1)[:, None], axis=1)[:, 0]
    return pick
