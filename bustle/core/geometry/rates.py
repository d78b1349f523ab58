"""Rates of what is known at evenly spaced instants: central differences, one-sided at the ends of what has ends.

    ẋ_k = (x_{k+1} − x_{k−1})/2h,   ẍ_k = (x_{k+1} − 2x_k + x_{k−1})/h²

For orientations R the steps are the rotation vectors between one and the next, as the body itself has them:
    ω_k = log(R_{k−1}ᵀ·R_{k+1})/2h,   α_k = (log(R_kᵀ·R_{k+1}) − log(R_{k−1}ᵀ·R_k))/h²
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.compiled import (
    FLAG,
    REAL,
    Vector,
    compiled,
    compiled_for,
    flags,
    floats,
    matrix,
    minus,
    product,
    put,
    through,
    times,
    turn_between,
)


def rates(before_and_after: Array, step_s: float) -> tuple[Array, Array]:
    """(N + 2, ...) with one instant before and one after → first and second rates (N, ...)."""
    x = before_and_after
    first: Array = (x[2:] - x[:-2]) / (2 * step_s)
    second: Array = (x[2:] - 2 * x[1:-1] + x[:-2]) / step_s**2
    return first, second


def gradient(values: Array, step_s: float) -> Array:
    """First rates of values (N, ...) at least two long: one-sided at the ends."""
    found = np.empty_like(values)
    np.subtract(values[2:], values[:-2], out=found[1:-1])
    found[1:-1] /= 2
    found[0], found[-1] = values[1] - values[0], values[-1] - values[-2]
    found /= step_s
    return found


@compiled
def _short(angle: float) -> float:
    """The short way round, −π … π."""
    return angle if abs(angle) < np.pi else (angle + np.pi) % (2 * np.pi) - np.pi


@compiled_for(floats(2), flags(1), FLAG)
def to_next(values: Array, straight: Flags, goes_round: bool) -> Array:
    """(N, J): how far columns go from each row to the next, angles the short way round, but for those that are straight
    (J,), lengths that slide; the last row goes to the first, or nowhere."""
    rows, columns = values.shape
    found = np.zeros((rows, columns))
    for n in range(rows if goes_round else rows - 1):
        after = n + 1 if n + 1 < rows else 0
        for k in range(columns):
            step = values[after, k] - values[n, k]
            found[n, k] = step if straight[k] else _short(step)
    return found


@compiled_for(floats(2), flags(1), REAL)
def rates_round(values: Array, straight: Flags, step_s: float) -> tuple[Array, Array]:
    """First and second rates of columns (N, J) whose first row follows their last, as `to_next` has them."""
    rows, columns = values.shape
    speeds, speeding = np.empty((rows, columns)), np.empty((rows, columns))
    for n in range(rows):
        before, after = n - 1 if n else rows - 1, n + 1 if n + 1 < rows else 0
        for k in range(columns):
            come, go = values[n, k] - values[before, k], values[after, k] - values[n, k]
            if not straight[k]:
                come, go = _short(come), _short(go)
            speeds[n, k], speeding[n, k] = (come + go) / (2 * step_s), (go - come) / step_s**2
    return speeds, speeding


@compiled
def _way(one: Array, other: Array) -> Vector:
    """log(Rᵀ·R'): axis times angle."""
    return turn_between(matrix(other.T), matrix(one.T))


@compiled
def _turning(before_and_after: Array, step_s: float) -> tuple[Array, Array]:
    """Orientations (N + 2, 3, 3) → ω and α (N, 3), rad/s and rad/s², in the ground frame."""
    r = before_and_after
    count = len(r) - 2
    spin, spinning_up = np.empty((count, 3)), np.empty((count, 3))
    before = _way(r[0], r[1])
    for n in range(count):
        own, after = r[n + 1], _way(r[n + 1], r[n + 2])
        put(spin[n], through(own, times(_way(r[n], r[n + 2]), 0.5 / step_s)))
        put(spinning_up[n], through(own, times(minus(after, before), 1.0 / step_s**2)))
        before = after
    return spin, spinning_up


@compiled_for(floats(2), floats(3), REAL, REAL, REAL, FLAG, REAL)
def body_rates(
    at: Array, turn: Array, x: float, y: float, theta: float, goes_round: bool, step_s: float
) -> tuple[Array, Array, Array, Array]:
    """Of a body at (N, 3), turned by (N, 3, 3): speed, acceleration, spin and spinning-up, (N, 3) each. What goes round
    comes from the end of a cycle, which took it on by x, y and θ, and goes on into the next; else it goes on evenly."""
    rows = len(at)
    places, turns = np.empty((rows + 2, 3)), np.empty((rows + 2, 3, 3))
    for n in range(rows):
        places[n + 1], turns[n + 1] = at[n], turn[n]
    if goes_round:
        c, s, last, first = np.cos(theta), np.sin(theta), at[rows - 1], at[0]
        u, v = last[0] - x, last[1] - y
        places[0, 0], places[0, 1], places[0, 2] = c * u + s * v, c * v - s * u, last[2]
        places[rows + 1, 0], places[rows + 1, 1] = x + c * first[0] - s * first[1], y + s * first[0] + c * first[1]
        places[rows + 1, 2] = first[2]
        for k in range(3):
            u, v = turn[rows - 1, 0, k], turn[rows - 1, 1, k]
            turns[0, 0, k], turns[0, 1, k], turns[0, 2, k] = c * u + s * v, c * v - s * u, turn[rows - 1, 2, k]
            u, v = turn[0, 0, k], turn[0, 1, k]
            turns[rows + 1, 0, k], turns[rows + 1, 1, k] = c * u - s * v, s * u + c * v
            turns[rows + 1, 2, k] = turn[0, 2, k]
    else:
        for end, own, beside in ((0, 0, min(1, rows - 1)), (rows + 1, rows - 1, max(rows - 2, 0))):
            turns[end] = product(product(turn[own], turn[beside].T), turn[own])
            for i in range(3):
                places[end, i] = 2 * at[own, i] - at[beside, i]
    speed, acceleration = np.empty((rows, 3)), np.empty((rows, 3))
    for n in range(rows):
        for i in range(3):
            come, go = places[n + 1, i] - places[n, i], places[n + 2, i] - places[n + 1, i]
            speed[n, i], acceleration[n, i] = (come + go) / (2 * step_s), (go - come) / step_s**2
    spin, spinning_up = _turning(turns, step_s)
    return speed, acceleration, spin, spinning_up


def continued(values: Array) -> Array:
    """(N, ...) of what has ends → (N + 2, ...): the ends gone on evenly, so that nothing speeds up there."""
    return with_ends(2 * values[0] - values[1], values, 2 * values[-1] - values[-2])


def with_ends(before: Array, values: Array, after: Array) -> Array:
    """(N, ...) → (N + 2, ...)"""
    found = np.empty((len(values) + 2, *values.shape[1:]))
    found[0], found[1:-1], found[-1] = before, values, after
    return found
