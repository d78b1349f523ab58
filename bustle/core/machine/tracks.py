"""Where the body is, and joints that are given, at many instants."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.serial_chain import rotated

# x and y in mm, θ in rad, (S,) each, of the travel frame in the ground frame.
Travel = tuple[Array, Array, Array]


@dataclass(frozen=True)
class BodyTrack:
    """Body poses in the ground frame. at: (S, 3) mm; turn: (S, 3, 3). travel: x, y, θ of the travel frame."""

    at: Array
    turn: Array
    travel: Travel


@dataclass(frozen=True)
class JointTrack:
    """Joints that are given instead of solved for. values: (S, J) rad or mm; given: (S, J) which they are."""

    values: Array
    given: Flags


def to_ground(body: BodyTrack, points: Array) -> Array:
    """Body-frame points (..., S, 3) seen from the ground."""
    return rotated(body.turn, points) + body.at


def to_body(body: BodyTrack, points: Array) -> Array:
    """Ground points (..., S, 3) seen from the body frame."""
    return rotated(np.swapaxes(body.turn, -1, -2), points - body.at)
