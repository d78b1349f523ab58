"""What a named gait has to say: for which machines, when each leg touches down, how long it stays."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

Spot = tuple[str, int]  # ("L" or "R", row counted from the front, from 0)


@dataclass(frozen=True)
class Gait:
    """touchdowns: the phase of each place, as a share of the cycle; all legs share one duty."""

    name: str
    label: str
    touchdowns: Mapping[Spot, float]
    duty: float
    balance: Literal["static", "dynamic"]
    about: str

    @property
    def legs(self) -> int:
        return len(self.touchdowns)

    @property
    def kind(self) -> tuple[object, ...]:
        """What gaits share that differ in the order of their legs alone."""
        return self.duty, tuple(sorted(self.touchdowns)), tuple(sorted(self.touchdowns.values()))

    def fits(self, legs: Sequence[Spot]) -> bool:
        """Whether each place it speaks of has a leg: not with, say, one leg left and three right."""
        return sorted(legs) == sorted(self.touchdowns)

    def phases(self, legs: Sequence[Spot]) -> list[float]:
        """The touchdown phase of each of these places, where it fits them."""
        return [self.touchdowns[leg] for leg in legs]


def spots_of(mounts: Sequence[tuple[float, float]]) -> list[Spot]:
    """Side and row of each leg from its mount (x, y): left is y ≥ 0, row 0 is the front."""
    sides: dict[str, list[int]] = {"L": [], "R": []}
    for i, (_, y) in enumerate(mounts):
        sides["L" if y >= 0 else "R"].append(i)
    found: list[Spot] = [("L", 0)] * len(mounts)
    for side, members in sides.items():
        for row, i in enumerate(sorted(members, key=lambda i: -mounts[i][0])):
            found[i] = (side, row)
    return found


def by_order(order: Sequence[Spot]) -> dict[Spot, float]:
    """Touchdowns in this order, evenly spread over the cycle: φₖ = k/n."""
    return in_groups([[leg] for leg in order])


def in_groups(groups: Sequence[Sequence[Spot]]) -> dict[Spot, float]:
    """Groups that touch down together, evenly spread over the cycle."""
    return {leg: k / len(groups) for k, group in enumerate(groups) for leg in group}
