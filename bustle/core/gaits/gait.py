"""What a named gait has to say: for which machines, when each leg touches down, how long it stays."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal

Place = tuple[str, int]  # ("L" or "R", row counted from the front, from 0)


@dataclass(frozen=True)
class Gait:
    """phases(places) → the touchdown phase of each place; all legs share one duty."""

    name: str
    label: str
    legs: int
    duty: float
    balance: Literal["static", "dynamic"]
    phases: Callable[[Sequence[Place]], list[float]]
    about: str


def places(mounts: Sequence[tuple[float, float]]) -> list[Place]:
    """Side and row of each leg from its mount (x, y): left is y ≥ 0, row 0 is the front."""
    sides: dict[str, list[int]] = {"L": [], "R": []}
    for i, (_, y) in enumerate(mounts):
        sides["L" if y >= 0 else "R"].append(i)
    found: list[Place] = [("L", 0)] * len(mounts)
    for side, members in sides.items():
        for row, i in enumerate(sorted(members, key=lambda i: -mounts[i][0])):
            found[i] = (side, row)
    return found


def by_order(order: Sequence[Place]) -> Callable[[Sequence[Place]], list[float]]:
    """Touchdowns in this order, evenly spread over the cycle: φₖ = k/n."""
    return lambda legs: [order.index(leg) / len(order) for leg in legs]


def in_groups(groups: Sequence[Sequence[Place]]) -> Callable[[Sequence[Place]], list[float]]:
    """Groups that touch down together, evenly spread over the cycle."""

    def phases(legs: Sequence[Place]) -> list[float]:
        return [next(i for i, g in enumerate(groups) if leg in g) / len(groups) for leg in legs]

    return phases
