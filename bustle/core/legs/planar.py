"""The two-link triangle that every knee is: the one place where it is solved."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]


def two_link(a: float, b: float, sign: float, u: Array, v: Array) -> tuple[Array, Array]:
    """Angles of a two-link arm whose tip is at (u, v), or as near as it gets, in place of nothing.

    Law of cosines: cos β = (u² + v² − a² − b²)/(2ab), clipped to [−1, 1], so a target outside the annulus
    |a − b| … a + b gives the straight or the folded arm pointing at it, which is the nearest tip position.
    α = atan2(v, u) − atan2(b·sin β, a + b·cos β).

    Args: a, b in mm, above 0; sign ±1 picks the knee: the sign of β. u, v: (S,) mm.
    Returns: α, β (S,) rad. At u = v = 0, α is measured from the u axis.
    """
    cos_b = u * u
    work = v * v
    cos_b += work
    cos_b -= a * a + b * b
    cos_b *= 1.0 / (2.0 * a * b)
    np.minimum(cos_b, 1.0, out=cos_b)
    np.maximum(cos_b, -1.0, out=cos_b)
    np.multiply(cos_b, cos_b, out=work)
    np.subtract(1.0, work, out=work)
    sin_b = np.sqrt(work, out=work)
    if sign < 0:
        np.negative(sin_b, out=sin_b)
    beta = np.arctan2(sin_b, cos_b)
    alpha = np.arctan2(v, u)
    sin_b *= b
    cos_b *= b
    cos_b += a
    alpha -= np.arctan2(sin_b, cos_b, out=sin_b)
    return alpha, beta


def wrapped(angle: Array) -> Array:
    """The same direction in (−π, π], without touching angles that are there already."""
    outside = np.abs(angle) > np.pi
    if outside.any():
        angle = np.where(outside, angle - 2 * np.pi * np.round(angle / (2 * np.pi)), angle)
    return angle
