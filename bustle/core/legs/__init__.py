"""The leg families. A new family is one file here and one line in this registry."""

from bustle.core.legs.biped import BIPEDS
from bustle.core.legs.biped_two_servo import BIPED_TWO_SERVO
from bustle.core.legs.family import Build, Family, JointSpec, LinkSpec, Solution
from bustle.core.legs.fixed import FIXED
from bustle.core.legs.one_joint import ONE_JOINT
from bustle.core.legs.parallelogram import PARALLELOGRAMS
from bustle.core.legs.rocker import ROCKER
from bustle.core.legs.serial import SERIAL
from bustle.core.legs.sprawled import SPRAWLED
from bustle.core.legs.sprawled_two import SPRAWLED_TWO
from bustle.core.legs.upright import UPRIGHT
from bustle.core.legs.upright_two import UPRIGHT_TWO

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
