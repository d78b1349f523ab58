"""The outlines of soles, to draw: what has a length or a breadth, and the rims of wheels."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.stacked_turns import put_at
from bustle.core.machine.soles import corners
from bustle.core.project.walker import CurvedSole, Foot, Sole

# A rim in so many points; of a curve that goes on as far as it rolls, so much to either side of its lowest point is
# drawn, rad, in so many points.
RIM, OPEN_RAD, CURVE = 24, 0.25, 9


def outlined(sole: Sole) -> int:
    """How many points its outline has; none of a tip, nor of a ball, which is as round from everywhere."""
    return {"rectangle": 4, "edge": 2, "curved": 2 * CURVE}.get(sole.kind, 0)


def outline(foot: Foot, at: Array, turn: Array) -> Array:
    """(K, S, 3) mm: round the sole of a foot at (S, 3), that lies as turned by (S, 3, 3)."""
    sole = foot.sole
    if not isinstance(sole, CurvedSole):
        return corners(foot, at, turn)
    fore, side = sole.radius_fore_mm, sole.radius_side_mm
    most = float(np.arcsin(min(1.0, sole.length_mm / 2 / fore))) if sole.length_mm else OPEN_RAD
    half = sole.width_mm / 2 if sole.width_mm else 0.0
    raised = side * (1.0 - np.sqrt(max(0.0, 1.0 - (half / side) ** 2)))
    angle = np.linspace(-most, most, CURVE)
    left = np.stack([fore * np.sin(angle), np.full(CURVE, half), fore * (1.0 - np.cos(angle)) + raised], axis=-1)
    local = np.concatenate([left, left[::-1] * [1.0, -1.0, 1.0]])
    return put_at(local, at, turn)


def rim(middle: Array, axle: Array, radius_mm: float) -> Array:
    """(RIM, S, 3) mm: a wheel about its middle (S, 3), upright, its axle (S, 2) over the floor."""
    size = np.linalg.norm(axle, axis=-1, keepdims=True)
    ahead = np.stack([axle[:, 1], -axle[:, 0], np.zeros(len(axle))], axis=-1) / np.where(size > 0, size, 1.0)
    angle = np.arange(RIM)[:, None, None] * 2 * np.pi / RIM
    found: Array = middle + radius_mm * (np.cos(angle) * ahead + np.sin(angle) * np.array([0.0, 0.0, 1.0]))
    return found
