"""Legs that were measured and are other than drawn: how far from the planned floor that has their feet stand."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.extremes import greatest, least
from bustle.core.judge.measures.feet.foot_slip import planted
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class Uneven:
    """The two legs (places among the limbs) whose feet stand furthest apart in height, the lower first; by how much,
    mm; and the angle of the line between those feet, degrees."""

    low: int
    high: int
    apart_mm: float
    lean_deg: float


def measured(r: Reading) -> bool:
    """Whether anything is known of the built legs that shifts their feet."""
    return any(truth.link_length_mm or truth.joint_zero_deg for truth in r.project.walker.as_built.limbs)


def uneven(r: Reading) -> Uneven | None:
    """None where fewer than two feet stand still at any time."""
    down = r.of(planted)
    legs = np.flatnonzero(down.any(axis=1))
    if not r.of(measured) or len(legs) < 2:
        return None
    weights = down[legs, :, None] / down[legs].sum(axis=1)[:, None, None]
    feet = r.course.feet_body_mm[legs, : r.samples]
    x, y = (feet * weights).sum(axis=1)[:, :2].T
    z = (r.course.feet_ground_mm[legs, : r.samples] * weights).sum(axis=1)[:, 2]
    low, high = least(z), greatest(z)
    between = float(np.hypot(x[high] - x[low], y[high] - y[low]))
    lean = float(np.degrees(np.arctan2(z[high] - z[low], between)))
    return Uneven(int(legs[low]), int(legs[high]), float(z[high] - z[low]), lean)
