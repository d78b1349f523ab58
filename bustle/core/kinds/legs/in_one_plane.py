"""Whether a limb moves fore and aft alone."""

from __future__ import annotations

from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.walker import Limb

# The sine of how far an axis may be off its plane's, and a slide off its plane.
OFF = 1e-6


def in_one_plane(limb: Limb) -> bool:
    """As all of its family do, or as a free chain does whose hinges turn about y and whose slides lie across it."""
    family = FAMILIES[limb.family]
    if not family.open:
        return family.planar
    return all(_keeps_the_plane(joint.kind == "slide", joint.axis or (0.0, 0.0, 1.0)) for joint in limb.joints)


def _keeps_the_plane(slides: bool, axis: tuple[float, float, float]) -> bool:
    x, y, z = axis
    off = y * y if slides else x * x + z * z
    return off <= OFF * OFF * (x * x + y * y + z * z)
