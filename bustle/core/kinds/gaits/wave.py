"""The general wave gait, for any number of legs.

With as many legs on either side, duty β: the leg of row i (0 in front) touches down at frac(iβ), on the right half a
cycle later. Where the sides differ by a leg: one leg at a time, back to front on the left, then on the right, evenly.
β = (n − 1)/n, so that one leg of n is in the air at a time.

Source: "Machines That Walk: The Adaptive Suspension Vehicle" (1989), where the wave gait of 2m legs has these phases
for 3/(2m) ≤ β < 1 and the most longitudinal stability among gaits of its duty.
"""

from bustle.core.kinds.gaits.gait import Gait, Spot, by_order

SIDES = [(left, right) for left in range(1, 7) for right in range(1, 7) if abs(left - right) <= 1]


def wave(left: int, right: int) -> Gait:
    """The wave gait of that many legs left and right."""
    legs = left + right
    duty = (legs - 1) / legs
    if left == right:
        touchdowns: dict[Spot, float] = {}
        for row in range(left):
            # To a millionth, so that a row that comes to a whole cycle is at 0 and not just short of it.
            phase = round(row * duty, 6) % 1.0
            touchdowns[("L", row)] = phase
            touchdowns[("R", row)] = round(phase + 0.5, 6) % 1.0
    else:
        order: list[Spot] = [("L", row) for row in reversed(range(left))]
        touchdowns = by_order([*order, *(("R", row) for row in reversed(range(right)))])
    return Gait(
        name=f"wave_{left}_{right}",
        label="General wave",
        touchdowns=touchdowns,
        duty=duty,
        balance="static" if legs > 3 else "dynamic",
        about="A wave along each side from back to front; one leg in the air at a time.",
    )


# Two legs have gaits of their own.
GAITS = tuple(wave(left, right) for left, right in SIDES if left + right > 2)
