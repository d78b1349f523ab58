"""Whether loads can be told of a motion, and what they rest on that nobody has measured."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.geometry.arrays import Flags
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.foot_forces import FootForces, foot_forces, standing_forces
from bustle.core.loads.inertial_wrenches import held_still, wrenches
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading

# Feet that leave over as much of the weight's moment about a foot's breadth tell nothing of their load.
ENOUGH_MM = 1.0


# Why what lives by its timing is not judged.
STOPS_ANYWHERE = "it may be stopped anywhere, and is judged by where its mass is"

# A servo that stalls at less (N·m), turns slower without load (rad/s) or gives its torque nearer (rad) is none.
LEAST_SHEET = 1e-6


def not_worked_out(r: Reading) -> str | None:
    """Why no torque can be worked out here; None where it can."""
    # Nearly every figure of loads asks.
    return r.of(_lacks)


def _lacks(r: Reading) -> str | None:
    if not r.kit.servos:
        return "no servo is told"
    if not r.assembled.total_kg:
        return "nothing weighs anything"
    if r.course.com_ground_mm[:, 2].min() <= 0.0:
        return "its mass lies below the floor"
    given = r.of(at_its_voltage)
    if min(given.stall_nm.min(), given.speed_rad_s.min(), r.kit.full_torque_at.min()) < LEAST_SHEET:
        return "a servo's sheet has next to no torque, speed or give"
    if r.kit.horn_give.max() > 1 / LEAST_SHEET:
        return "a horn has next to no stiffness"
    return "its frame bends while it moves" if r.course.solved.swung else None


def not_told(r: Reading) -> str | None:
    """Why nothing can be said of loads here; None where it can."""
    return not_worked_out(r) or r.of(_nothing_down)


def _nothing_down(r: Reading) -> str | None:
    return None if r.course.contact[:, : r.samples].any() else "no foot is down"


def not_pushed(r: Reading) -> str | None:
    """Why nothing can be said of what its feet push, or of how it speeds up."""
    why = not_told(r)
    if why or r.course.implied is None:
        return why
    return "its feet drag it on, and how it speeds up is not known"


FALLS_ON = "somewhere its feet do not balance it: it falls on"


def not_standing(r: Reading) -> str | None:
    """Why what it holds cannot be judged: frozen somewhere, no feet that only press balance it."""
    return not_told(r) or r.of(_falls_standing)


def not_balanced(r: Reading) -> str | None:
    """Why its load cannot be judged: somewhere in the motion no feet that only press balance it."""
    return not_told(r) or r.of(_falls_moving)


# Feet that carry so much of the weight carry it, whether they balance it or not.
CARRIED = 0.95


def not_carried(r: Reading) -> str | None:
    """Why nothing is told of what its joints hold: somewhere no feet carry it. On two feet that do not balance it the
    nearest forces still carry its weight."""
    return not_told(r) or r.of(_missing_standing)


def not_carried_moving(r: Reading) -> str | None:
    """The same as it moves."""
    return not_told(r) or r.of(_missing_moving)


def fallen(feet: FootForces, kg: float) -> Flags:
    """(N,): where what stands leaves over as much as tells nothing of its load, weight or its moment."""
    weight = kg * GRAVITY
    lost = (feet.unbalanced_nm > weight * ENOUGH_MM / 1000) | (np.abs(feet.unbalanced[:, 0]) > (1 - CARRIED) * weight)
    return lost | ~feet.balanced(weight).any()


def _missing_standing(r: Reading) -> str | None:
    return _missing(r.of(standing_forces), r.of(held_still).kg)


def _missing_moving(r: Reading) -> str | None:
    return _missing(r.of(foot_forces), r.of(wrenches).kg)


def _falls_standing(r: Reading) -> str | None:
    return _falls(r.of(standing_forces), r.of(held_still).kg)


def _falls_moving(r: Reading) -> str | None:
    return _falls(r.of(foot_forces), r.of(wrenches).kg)


def _missing(feet: FootForces, kg: float) -> str | None:
    missing = np.abs(feet.unbalanced[:, 0]).max(initial=0.0)
    return "somewhere no feet carry it" if missing > (1 - CARRIED) * kg * GRAVITY else None


def _falls(feet: FootForces, kg: float) -> str | None:
    weight = kg * GRAVITY
    if (feet.unbalanced_nm > weight * ENOUGH_MM / 1000).any() or not feet.balanced(weight).any():
        return FALLS_ON
    return None


def assumed_of_loads(r: Reading) -> Iterator[str]:
    """What nobody has measured or said."""
    if any(s.sheet.full_torque_at_deg is None for s in r.kit.servos):
        yield "a servo gives its stall torque 5° off its place"
    if r.project.floor.friction is None:
        yield "a floor that holds 0.6 of what a foot carries"
    if any(s.sheet.rotor is None for s in r.kit.servos):
        yield "rotors that come up to speed in 30 ms"
