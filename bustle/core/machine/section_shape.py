"""A section of the frame as a body in space: a box, or a round of the same height standing on end."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.capsule_distance import segment_to_box, segment_to_cylinder
from bustle.core.project.walker import Section

# Points on the rim of a round; the chord between two of them lies within half a percent of the radius from it.
RIM = 32


def outline_mm(section: Section) -> Array:
    """(2K, 3) mm about its own middle: the rim of its underside counter-clockwise, then that of its upper side.

    A box begins at its right corner behind, a round right behind.
    """
    half = np.array(section.size_mm) / 2
    if section.shape == "round":
        turn = np.pi + np.arange(RIM) * 2 * np.pi / RIM
        rim = np.stack([np.cos(turn), np.sin(turn)], axis=-1)
    else:
        rim = np.array([(-1.0, -1.0), (1.0, -1.0), (1.0, 1.0), (-1.0, 1.0)])
    sides = (np.column_stack([rim, np.full(len(rim), side)]) for side in (-1.0, 1.0))
    return np.asarray(np.concatenate(list(sides)) * half)


def underside_mm(section: Section) -> Array:
    """(K, 3) mm: the lower half of the outline."""
    outline = outline_mm(section)
    return outline[: len(outline) // 2]


def segment_to_section(start: Array, end: Array, section: Section) -> Array:
    """Distances (R, S) mm from segments (3, R, S), seen from the section; below 0 the depth of the deepest point."""
    half = np.array(section.size_mm) / 2
    if section.shape == "round":
        return segment_to_cylinder(start, end, float(half[0]), float(half[2]))
    return segment_to_box(start, end, half)
