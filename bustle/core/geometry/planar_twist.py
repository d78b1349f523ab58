"""Planar rigid motion: the exact path of a body that moves with a constant twist."""

from __future__ import annotations

from math import cos, sin

import numpy as np
from numpy.typing import ArrayLike

from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.compiled import REAL, compiled_for, floats, indices


def displacement(
    vx: Array | float, vy: Array | float, omega: Array | float, t: ArrayLike
) -> tuple[Array, Array, Array]:
    """exp(ξt) as (x, y, θ): where the body frame has got to after time t, seen from where it was.

    With θ = ωt:  x = t·(vx·sinc θ − vy·cosc θ),  y = t·(vx·cosc θ + vy·sinc θ),
    sinc θ = sin θ/θ = sinc(θ/2)·cos(θ/2) and cosc θ = (1 − cos θ)/θ = (θ/2)·sinc²(θ/2), both smooth through θ = 0.
    Source: the exponential map of SE(2), in any text on rigid motion.

    Args: vx, vy in mm/s, omega in rad/s, t in s, of one shape or numbers. Returns arrays of it: mm, mm, rad.
    """
    parts = [np.asarray(v, dtype=np.float64) for v in (vx, vy, omega, t)]
    shape = max((part.shape for part in parts), key=len)
    x, y, theta = _gone(*[part.ravel() for part in parts])
    return (x, y, theta) if len(shape) == 1 else (x.reshape(shape), y.reshape(shape), theta.reshape(shape))


@compiled_for(floats(1), floats(1), floats(1), floats(1))
def _gone(vx: Array, vy: Array, omega: Array, t: Array) -> tuple[Array, Array, Array]:
    """Of as many, or one for all; of none, where one of them has none."""
    least = min(len(vx), len(vy), len(omega), len(t))
    count = max(len(vx), len(vy), len(omega), len(t)) if least else 0
    x, y, theta = np.empty(count), np.empty(count), np.empty(count)
    for n in range(count):
        u, v = vx[n if len(vx) > 1 else 0], vy[n if len(vy) > 1 else 0]
        time, rate = t[n if len(t) > 1 else 0], omega[n if len(omega) > 1 else 0]
        half = 0.5 * rate * time
        share = sin(half) / half if half != 0.0 else 1.0
        sinc, cosc = share * cos(half), half * share * share
        x[n], y[n], theta[n] = time * (u * sinc - v * cosc), time * (u * cosc + v * sinc), rate * time
    return x, y, theta


def twist_of(x: Array, y: Array, theta: Array) -> tuple[Array, Array, Array]:
    """The logarithm of SE(2), for |θ| < π: the constant twist that takes (x, y, θ) to come about in a time of 1.

    With h = θ/2 and c = h·cot h:  vx = c·x + h·y,  vy = c·y − h·x. The inverse of `displacement`.
    """
    half: Array = np.asarray(theta) / 2
    small = np.abs(half) < 1e-6
    # 1 − h²/3 to the order that counts there.
    c = np.where(small, 1 - half**2 / 3, half / np.tan(np.where(small, 1.0, half)))
    return c * x + half * y, c * y - half * x, np.asarray(theta, dtype=float)


PlanarPose = tuple[Array | float, Array | float, Array | float]


def carry(pose: PlanarPose, x: Array | float, y: Array | float) -> tuple[Array, Array]:
    """A point of the moving frame, seen from the fixed one: pose · (x, y)."""
    px, py, theta = pose
    u: Array
    v: Array
    if not _turns(theta):
        u, v = np.asarray(px + x), np.asarray(py + y)
        return u, v
    c, s = np.cos(theta), np.sin(theta)
    u = px + c * x - s * y
    v = py + s * x + c * y
    return u, v


def bring_back(pose: PlanarPose, x: Array | float, y: Array | float) -> tuple[Array, Array]:
    """A point of the fixed frame, seen from the moving one: pose⁻¹ · (x, y)."""
    px, py, theta = pose
    dx, dy = np.asarray(x) - px, np.asarray(y) - py
    if not _turns(theta):
        return dx, dy
    c, s = np.cos(theta), np.sin(theta)
    return c * dx + s * dy, -s * dx + c * dy


def _turns(theta: Array | float) -> bool:
    """Whether a pose is turned at all; most that are walked go straight ahead."""
    return bool(theta.any()) if isinstance(theta, np.ndarray) else theta != 0.0


@compiled_for(floats(2), indices(1), REAL)
def told_beside(ways: Array, rows: Indices, theta: float) -> Array:
    """Ways (N, 2) or (N, 3) over the ground of a cycle, at rows (K,) counted on over its ends: turned by theta for each
    cycle on."""
    count, axes = ways.shape
    found = np.empty((len(rows), axes))
    for k in range(len(rows)):
        row, cycle = rows[k] % count, rows[k] // count
        u, v = ways[row, 0], ways[row, 1]
        if cycle:
            c, s = cos(theta * cycle), sin(theta * cycle)
            u, v = c * u - s * v, s * u + c * v
        found[k, 0], found[k, 1] = u, v
        if axes > 2:
            found[k, 2] = ways[row, 2]
    return found
