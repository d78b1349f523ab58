"""Rates of what is known at evenly spaced instants: central differences, one-sided at the ends of what has ends.

    ẋ_k = (x_{k+1} − x_{k−1})/2h,   ẍ_k = (x_{k+1} − 2x_k + x_{k−1})/h²

For orientations R the steps are the rotation vectors between one and the next, as the body itself has them:
    ω_k = log(R_{k−1}ᵀ·R_{k+1})/2h,   α_k = (log(R_kᵀ·R_{k+1}) − log(R_{k−1}ᵀ·R_k))/h²
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array


def rates(before_and_after: Array, step_s: float) -> tuple[Array, Array]:
    """(N + 2, ...) with one instant before and one after → first and second rates (N, ...)."""
    x = before_and_after
    first: Array = (x[2:] - x[:-2]) / (2 * step_s)
    second: Array = (x[2:] - 2 * x[1:-1] + x[:-2]) / step_s**2
    return first, second


def turning(before_and_after: Array, step_s: float) -> tuple[Array, Array]:
    """Orientations (N + 2, 3, 3) → ω and α (N, 3), rad/s and rad/s², in the body's own axes."""
    r = before_and_after
    back = np.swapaxes(r, 1, 2)
    ahead = rotation_vector(back[:-1] @ r[1:])
    return rotation_vector(back[:-2] @ r[2:]) / (2 * step_s), (ahead[1:] - ahead[:-1]) / step_s**2


def continued(values: Array) -> Array:
    """(N, ...) of what has ends → (N + 2, ...): the ends gone on evenly, so that nothing speeds up there."""
    return np.concatenate([[2 * values[0] - values[1]], values, [2 * values[-1] - values[-2]]])


def rotation_vector(turn: Array) -> Array:
    """log R: axis times angle, (..., 3) of (..., 3, 3), for angles below π."""
    skew = np.stack(
        [turn[..., 2, 1] - turn[..., 1, 2], turn[..., 0, 2] - turn[..., 2, 0], turn[..., 1, 0] - turn[..., 0, 1]], -1
    )
    sine = np.linalg.norm(skew, axis=-1) / 2
    angle = np.arctan2(sine, (np.trace(turn, axis1=-2, axis2=-1) - 1) / 2)
    scale = np.where(sine > 1e-12, angle / np.where(sine > 1e-12, 2 * sine, 1.0), 0.5)
    vector: Array = skew * scale[..., None]
    return vector
