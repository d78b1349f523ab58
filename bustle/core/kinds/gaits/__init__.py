"""The named gaits. A new gait is one entry in a file here and one line in this registry."""

from bustle.core.kinds.gaits import four_legs, six_legs, two_legs, wave
from bustle.core.kinds.gaits.gait import Gait, Spot, spots_of

CUSTOM = "custom"
GAITS: dict[str, Gait] = {gait.name: gait for gait in (*six_legs.GAITS, *four_legs.GAITS, *two_legs.GAITS, *wave.GAITS)}


def orders_of(gait: Gait) -> list[Gait]:
    """The static gaits that differ from this one in nothing but the order of its legs, itself first. Itself alone where
    another of them stands first here: then this order was asked for."""
    alike = [other for other in GAITS.values() if other.kind == gait.kind and other.balance == "static"]
    return alike if alike and alike[0] is gait else [gait]


__all__ = ["CUSTOM", "GAITS", "Gait", "Spot", "orders_of", "spots_of"]
