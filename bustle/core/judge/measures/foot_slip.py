"""How far feet that should stand still wander over the floor, for want of joints."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.width import width
from bustle.core.walk.course import Course


def wander(course: Course, samples: int) -> Array:
    """(L, S, 2) mm: where each foot is, less where it should stand, turned with its heading so that one stance is like
    the next."""
    gap = (course.feet_ground_mm - course.target_ground_mm)[:, :samples, :2]
    turn = course.headings[:, :samples]
    c, s = np.cos(turn), np.sin(turn)
    return np.stack([c * gap[..., 0] + s * gap[..., 1], c * gap[..., 1] - s * gap[..., 0]], axis=-1)


def slip_mm(wandering: Array, standing: Flags) -> Array:
    """(L,) mm: the widest distance between two places of one foot in stance."""
    return np.array([width(w[s]) for w, s in zip(wandering, standing, strict=True)])
