"""What a servo's sheet comes to at the voltage it is given: torque and speed grow with it.

Between the voltages of its sheet it goes straight from one to the next; beyond them, and of a sheet that tells one
alone, both are in proportion to the voltage, as a motor's are.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, kept
from bustle.core.project.electrics import Bank, bank_of
from bustle.core.project.kept_by_identity import KeptByIdentity
from bustle.core.project.parts import ServoType
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class AtItsVoltage:
    """By servo, in the order of the kit's: volts, stall_nm, speed_rad_s. supplied: whether a supply is told of each."""

    volts: Array
    stall_nm: Array
    speed_rad_s: Array
    supplied: tuple[bool, ...]


# Of machines as they are wired: whatever they walk, and at every instant of it.
_known: KeptByIdentity[AtItsVoltage] = KeptByIdentity(24)


def at_its_voltage(r: Reading) -> AtItsVoltage:
    """A servo on no supply is taken at its sheet's voltage; a pack without a regulator half way from full to empty."""
    project = r.project
    return _known.of((project.walker, *project.servo_types, project.electrics), lambda: kept(_at(r)))


def _at(r: Reading) -> AtItsVoltage:
    banks = bank_of(r.project.electrics)
    volts, stall, speed, supplied = [], [], [], []
    for servo in r.kit.servos:
        bank = banks(servo.name)
        given = servo.sheet.rated_v if bank is None else _volts(bank)
        torque, turns = _told(servo.sheet, given)
        volts.append(given)
        stall.append(torque)
        speed.append(np.radians(turns))
        supplied.append(bank is not None)
    return AtItsVoltage(np.array(volts), np.array(stall), np.array(speed), tuple(supplied))


def _volts(bank: Bank) -> float:
    return bank.regulated_v or (bank.full_v + bank.empty_v) / 2


def _told(sheet: ServoType, volts: float) -> tuple[float, float]:
    """Stall torque N·m and speed °/s."""
    known = {p.volts: (p.stall_torque_nm, p.no_load_speed_deg_s) for p in sheet.at}
    known[sheet.rated_v] = (sheet.stall_torque_nm, sheet.no_load_speed_deg_s)
    points = sorted(known)
    inside = min(max(volts, points[0]), points[-1])
    torque, speed = (float(np.interp(inside, points, [known[p][k] for p in points])) for k in (0, 1))
    return torque * volts / inside, speed * volts / inside
