"""The leg families. A new family is one file here and one line in this registry."""

from bustle.core.legs.family import Family, JointSpec, LinkSpec, Solution
from bustle.core.legs.sprawled import SPRAWLED
from bustle.core.legs.upright import UPRIGHT

FAMILIES: dict[str, Family] = {family.name: family for family in (SPRAWLED, UPRIGHT)}

__all__ = ["FAMILIES", "Family", "JointSpec", "LinkSpec", "Solution"]
