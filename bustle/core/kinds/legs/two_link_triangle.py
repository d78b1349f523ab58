"""The two-link triangle that every knee is: the one place where it is solved."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags

# From here on a knee counts as nearly folded, rad.
NEARLY_FOLDED = 3.0


def two_link(a: float, b: float, sign: float, u: Array, v: Array) -> tuple[Array, Array, Flags | None]:
    """Angles of a two-link arm whose tip is at (u, v), or as near as it gets.

    Law of cosines: cos β = (u² + v² − a² − b²)/(2ab), clipped to [−1, 1], so a target outside the annulus
    |a − b| … a + b gives the straight or the folded arm pointing at it, which is the nearest tip position.
    α = atan2(v, u) − atan2(b·sin β, a + b·cos β), as the one arc tangent of their difference.

    Args: a, b in mm, above 0; sign ±1 picks the knee: the sign of β. u, v: (S,) mm.
    Near its folded pose that formula loses digits; there the half angles are used, cos² β/2 = (L² − (a − b)²)/4ab.

    Returns: α, β (S,) rad, α in (−π, π], and where the arm is straight or folded, so that the tip may have
    missed: (S,), or None for nowhere. At u = v = 0, α is 0.
    """
    cos_b = u * u
    work = v * v
    cos_b += work
    cos_b -= a * a + b * b
    cos_b *= 1.0 / (2.0 * a * b)
    np.multiply(cos_b, cos_b, out=work)
    sin_b = np.subtract(1.0, work, out=work)
    edge = None
    if not sin_b.min(initial=1.0) > 0.0:
        edge = sin_b <= 0.0
        np.maximum(sin_b, 0.0, out=sin_b)
        np.clip(cos_b, -1.0, 1.0, out=cos_b)
    np.sqrt(sin_b, out=sin_b)
    if sign < 0:
        np.negative(sin_b, out=sin_b)
    beta = np.arctan2(sin_b, cos_b)
    sin_b *= b
    cos_b *= b
    cos_b += a
    alpha = difference(u, v, cos_b, sin_b)
    folded = beta > NEARLY_FOLDED if sign > 0 else beta < -NEARLY_FOLDED
    if folded.any():
        alpha[folded], beta[folded] = _folded(a, b, sign, u[folded], v[folded])
    return alpha, beta, edge


def difference(x: Array, y: Array, u: Array, v: Array | float) -> Array:
    """atan2(y, x) − atan2(v, u) in (−π, π] as one arc tangent, atan2(y·u − x·v, x·u + y·v); 0 where a point is 0.

    u is worked on in place.
    """
    along = x * u
    along += y * v
    u *= y
    u -= x * v
    return np.arctan2(u, along, out=u)


def _folded(a: float, b: float, sign: float, u: Array, v: Array) -> tuple[Array, Array]:
    """α, β by half angles, for tips near the hip."""
    square = u * u + v * v
    cos_half = np.sqrt(np.clip((square - (a - b) ** 2) / (4 * a * b), 0.0, 1.0))
    sin_half = np.sqrt(np.clip(((a + b) ** 2 - square) / (4 * a * b), 0.0, 1.0))
    beta = sign * 2 * np.arctan2(sin_half, cos_half)
    inner = np.arctan2(sign * 2 * b * sin_half * cos_half, (a - b) + 2 * b * cos_half**2)
    return wrapped(np.arctan2(v, u) - inner), beta


def wrapped(angle: Array) -> Array:
    """The same direction in (−π, π], leaving angles that are there already as they are."""
    if angle.max(initial=0.0) > np.pi or angle.min(initial=0.0) < -np.pi:
        outside = np.abs(angle) > np.pi
        angle = np.where(outside, angle - 2 * np.pi * np.round(angle / (2 * np.pi)), angle)
    return angle
