"""One leg after another, for legs in places that no gait is told for."""

from __future__ import annotations

from collections.abc import Sequence
from math import atan2, gcd

# A leg is in the air for this share of its turn, and for so long.
IN_THE_AIR, SWING_S = 0.6, 0.36


def phases_in_turn(mounts: Sequence[tuple[float, float]]) -> list[float]:
    """The touchdown phase of each leg, told by where it is mounted (x, y): the next to step is always about as far
    round the body as can be. Of n legs in a circle the k-th is the (k·s)-th modulo n to step, s the greatest up to n/2
    that has no divisor in common with n."""
    count = len(mounts)
    step = next(s for s in range(max(1, count // 2), 0, -1) if gcd(s, count) == 1)
    round_the_body = sorted(range(count), key=lambda n: atan2(mounts[n][1], mounts[n][0]))
    found = [0.0] * count
    for turn in range(count):
        found[round_the_body[turn * step % count]] = turn / count
    return found


def duty_in_turn(legs: int) -> float:
    """So that never two are in the air."""
    return round(1.0 - IN_THE_AIR / legs, 3)


def cycle_in_turn_s(legs: int) -> float:
    return round(SWING_S * legs / IN_THE_AIR, 2)
