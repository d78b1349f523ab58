"""How a servo comes to rest with what it swings: whether it overshoots.

A servo is a spring K with a damper b = stall/ω₀, since its torque falls by so much for its speed. With the inertia I of
all that it moves, what it swings and its rotor where that is told,
    ζ = b/(2·√(K·I)),   K and b a radian, I about its horn,
and a friction ring that holds τ_f adds what takes as much out of a swing of the size at which the servo gives its stall
torque: Δζ = 2·τ_f/(π·stall). A maker sees to it that a servo alone comes to rest well, so that a rotor nobody told of
is left out. Source: the damped oscillator, and the equivalent damping of dry friction, in any text on vibrations.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.compiled import FLAG, compiled_for, flags
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.by_servo import own_servos, servo_levers
from bustle.core.loads.foot_gives import servo_stiffness
from bustle.core.loads.inertial_wrenches import laid
from bustle.core.loads.newton_euler import most_swung
from bustle.core.walk.reading import Reading

# Where it certainly overshoots, and where it may: a step in a motor's angle runs on by a quarter of itself at ζ = 0.4
# and by an eighth at 0.55.
WILL, MAY = 0.4, 0.55
# Inertia changes little from row to row of a swing.
MOST_ROWS = 9


@dataclass(frozen=True)
class Overshoot:
    """(servos,) each. inertia_kg_m2: the most that each swings while its leg is in the air; damping: ζ, infinite of one
    that never swings a leg or an arm."""

    inertia_kg_m2: Array
    damping: Array


def overshoot(r: Reading) -> Overshoot:
    servos, sheet = r.kit.servos, r.of(at_its_voltage)
    rows, found = r.of(_in_the_air), np.zeros(len(servos))
    for group, parts, lies, own in zip(r.assembled.parts, r.assembled.rigid, r.of(laid), r.of(own_servos), strict=True):
        chain = lies.origins, lies.axes, group.built.sliding, lies.centres, lies.turns, own.by_hinge
        np.maximum.at(found, own.servos, most_swung(rows[group.members], *chain, parts.kg, parts.inertias))
    inertia = np.where(found > 0, found + r.kit.rotors_told, 0.0)
    levers = r.of(servo_levers)
    rings = np.abs(levers).max(axis=0, initial=0.0) @ r.kit.friction_nm
    b = sheet.stall_nm / sheet.speed_rad_s
    with np.errstate(divide="ignore"):
        damping = b / (2 * np.sqrt(r.of(servo_stiffness) * inertia))
    return Overshoot(inertia, damping + 2 * rings / (np.pi * sheet.stall_nm))


def _in_the_air(r: Reading) -> Indices:
    """(L, MOST_ROWS): rows at which each limb is in the air, from its lift on, evenly over all of them; −1 where there
    are fewer."""
    found: Indices = _swung(r.course.contact[:, : r.samples], r.score.periodic)
    return found


@compiled_for(flags(2), FLAG)
def _swung(contact: Flags, goes_round: bool) -> Indices:
    limbs, rows = contact.shape
    found, air = np.full((limbs, MOST_ROWS), -1), np.empty(rows, np.intp)
    for limb in range(limbs):
        down, first, count = contact[limb], 0, 0
        # The swing that runs over the end begins before it.
        while goes_round and not (down[0] or down[-1]) and first < rows and not down[rows - 1 - first]:
            first += 1
        for n in range(rows):
            row = (n - first) % rows if first < rows else n
            if not down[row]:
                air[count], count = row, count + 1
        most = min(count, MOST_ROWS)
        for k in range(most):
            found[limb, k] = air[round(k * (count - 1) / max(most - 1, 1))]
    return found
