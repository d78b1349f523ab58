"""Links as rods with a thickness, to measure between."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.machine.limb_groups import Group
from bustle.core.project.walker import Walker

# What is shorter is no rod, but a place where two axes meet.
SHORT_MM = 1.0
# A limb without links is as thick as this.
BARE_MM = 6.0


@dataclass(frozen=True)
class Rod:
    """A link as a capsule: between points `hinge` and `hinge` + 1 of a limb (by its place among the limbs)."""

    limb: str
    section: str
    name: str
    first: bool
    member: int
    hinge: int
    radius: float


def rods(walker: Walker, parts: Sequence[Group]) -> tuple[Rod, ...]:
    """Every link with a length, or that slides, as it is built."""
    chains = {int(member): (group.built, row) for group in parts for row, member in enumerate(group.members)}
    found = []
    for i, limb in enumerate(walker.limbs):
        chain, row = chains[i]
        radii = [k.radius_mm for k in limb.links]
        lengths = np.linalg.norm(chain.offsets[row], axis=-1)
        fresh = True
        for h in [h for h in range(len(lengths)) if lengths[h] >= SHORT_MM or chain.slide(h)]:
            # Stiff parts and ankles have no link of their own; they are as thick as the nearest.
            k = min(max(0, h - (len(lengths) - len(radii))), len(radii) - 1) if radii else -1
            name = limb.links[k].name if radii else "arm"
            found.append(Rod(limb.name, limb.section, name, fresh, i, h, radii[k] if radii else BARE_MM))
            fresh = False
    return tuple(found)
