"""The named gaits. A new gait is one entry in a file here and one line in this registry."""

from bustle.core.kinds.gaits import four_legs, six_legs, two_legs, wave
from bustle.core.kinds.gaits.gait import Gait, Spot, spots_of

CUSTOM = "custom"
GAITS: dict[str, Gait] = {gait.name: gait for gait in (*six_legs.GAITS, *four_legs.GAITS, *two_legs.GAITS, *wave.GAITS)}

__all__ = ["CUSTOM", "GAITS", "Gait", "Spot", "spots_of"]
