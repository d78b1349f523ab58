"""The leg families. A new family is one file here and one line in this registry."""

from bustle.core.kinds.legs.biped import BIPEDS
from bustle.core.kinds.legs.biped_two_servo import BIPED_TWO_SERVO
from bustle.core.kinds.legs.family import Build, Family, JointSpec, LinkSpec, Solution
from bustle.core.kinds.legs.fixed import FIXED
from bustle.core.kinds.legs.free_chain import SERIAL
from bustle.core.kinds.legs.one_joint import ONE_JOINT
from bustle.core.kinds.legs.parallelogram import PARALLELOGRAMS
from bustle.core.kinds.legs.rocker import ROCKER
from bustle.core.kinds.legs.sprawled_three import SPRAWLED
from bustle.core.kinds.legs.sprawled_two import SPRAWLED_TWO
from bustle.core.kinds.legs.upright_three import UPRIGHT
from bustle.core.kinds.legs.upright_two import UPRIGHT_TWO

FAMILIES: dict[str, Family] = {
    family.name: family
    for family in (
        SPRAWLED,
        UPRIGHT,
        SPRAWLED_TWO,
        UPRIGHT_TWO,
        *PARALLELOGRAMS,
        *BIPEDS,
        BIPED_TWO_SERVO,
        ROCKER,
        ONE_JOINT,
        SERIAL,
        FIXED,
    )
}

__all__ = ["FAMILIES", "Build", "Family", "JointSpec", "LinkSpec", "Solution"]
