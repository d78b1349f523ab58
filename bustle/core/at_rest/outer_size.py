"""How large the walker is with its joints in a pose."""

from __future__ import annotations

import numpy as np

from bustle.core.at_rest.turned_sections import turned_sections
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward
from bustle.core.machine.limb_groups import Group, groups
from bustle.core.machine.section_shape import outline_mm
from bustle.core.machine.sections import section_places
from bustle.core.project.walker import Walker


def extents_mm(walker: Walker, joints: Array, parts: list[Group] | None = None) -> Array:
    """Length, width and height (S, 3) of the walker with joints (S, J), links' thickness and frame included.

    parts: the walker's limbs on a straight frame, for whoever has them.
    """
    low, high = np.full((len(joints), 3), np.inf), np.full((len(joints), 3), -np.inf)
    places, swung = section_places(walker, {}), turned_sections(walker, joints, {})
    for section in walker.sections:
        corners = places[section.name].carry(outline_mm(section))[:, None]
        if section.name in swung:
            corners = swung[section.name].carry(corners)
        low, high = np.minimum(low, corners.min(axis=0)), np.maximum(high, corners.max(axis=0))
    for group in parts or groups(walker, {}):
        points, _ = forward(group.build.chain, np.moveaxis(joints[:, group.columns], 1, 0))
        for row, member in enumerate(group.members.tolist()):
            own = swung.get(walker.limbs[member].section)
            if own:
                points[row] = np.swapaxes(own.carry(np.swapaxes(points[row], 0, 1)), 0, 1)
        thick = np.array([max((k.radius_mm for k in walker.limbs[m].links), default=0.0) for m in group.members])
        edge = thick[:, None, None]
        low = np.minimum(low, (points.min(axis=2) - edge).min(axis=0))
        high = np.maximum(high, (points.max(axis=2) + edge).max(axis=0))
    return high - low
