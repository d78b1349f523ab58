"""How high a level body lies when its joints are given: as low as its feet, its links or its belly let it."""

from __future__ import annotations

import numpy as np

from bustle.core.at_rest.turned_sections import turned_sections
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward
from bustle.core.machine import soles as sole
from bustle.core.machine.limb_groups import groups
from bustle.core.machine.section_shape import outline_mm
from bustle.core.machine.sections import section_places
from bustle.core.project.walker import Walker


def frame_below_mm(walker: Walker, bends_deg: dict[str, float]) -> float:
    """How far the frame reaches below the middle of the body."""
    places = section_places(walker, bends_deg)
    return -min(float(places[s.name].carry(outline_mm(s))[:, 2].min()) for s in walker.sections)


def resting_height_mm(walker: Walker, joints: Array, bends_deg: dict[str, float]) -> Array:
    """(S,) mm: the ride height at which the lowest part touches the floor, joints (S, J)."""
    places, swung = section_places(walker, bends_deg), turned_sections(walker, joints, bends_deg)
    below = np.full(len(joints), frame_below_mm(walker, bends_deg))
    for section in walker.sections:
        if section.name in swung:
            rim = places[section.name].carry(outline_mm(section))[:, None]
            below = np.maximum(below, -swung[section.name].carry(rim)[..., 2].min(axis=0))
    for group in groups(walker, bends_deg):
        points, _ = forward(group.build.chain, np.moveaxis(joints[:, group.columns], 1, 0))
        for row, member in enumerate(group.members):
            limb = walker.limbs[int(member)]
            if limb.section in swung:
                points[row] = np.swapaxes(swung[limb.section].carry(np.swapaxes(points[row], 0, 1)), 0, 1)
            foot = sole.height_mm(limb) if limb.feet else max((k.radius_mm for k in limb.links), default=0.0)
            below = np.maximum(below, foot - points[row, :, -1, 2])
            thick = max((k.radius_mm for k in limb.links), default=0.0)
            if points.shape[2] > 2:
                below = np.maximum(below, thick - points[row, :, 1:-1, 2].min(axis=1))
    return below
