"""The sections of the frame as the joints that turn them have them."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.machine.limb_groups import joint_columns
from bustle.core.machine.sections import Swung, swung_sections
from bustle.core.project.walker import Walker


def turned_sections(walker: Walker, joints: Array, bends_deg: Mapping[str, float]) -> dict[str, Swung]:
    """By the joints (S, J), rad: how each section that a joint turns, and what hangs on it, is moved from where it is
    put together by the bends alone."""
    turners = {s.name: s.hinge.turned_by for s in walker.sections if s.hinge and s.hinge.turned_by}
    if not turners:
        return {}
    columns = joint_columns(walker)
    moving = {}
    for section, path in turners.items():
        limb, _, joint = path.partition("/")
        moving[section] = np.degrees(joints[:, columns[limb, joint][0]])
    return swung_sections(walker, bends_deg, moving)
