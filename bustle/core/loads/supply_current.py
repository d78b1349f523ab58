"""What the servos of each supply draw over the motion, and what that leaves of its voltage.

A motor's torque grows with its current, and so does what it takes to turn without load with its speed:
    I = I_idle + (I_run − I_idle)·|q̇|/ω₀ + (I_stall − I_run)·|τ|/τ_stall,  τ no more than τ_stall,
all three currents in proportion to the voltage, as the torque is. Of a sheet that tells no stall current it is what a
motor of that torque and speed takes, I_stall = τ_stall·ω₀/(η·U), η of gears and all; η = ½ and a fifth of it without
load are assumed (of the four servo types to begin with, 0.4 to 0.8 and 0.1 to 0.3).

Over the resistance R of the pack, its plugs and its leads, a pack that is nearly empty still gives U = U_empty − R·ΣI;
a regulator gives what it is set to, or U where that is less. What gears hold by their friction draws nothing: told is
rather more than less. Source: any text on direct-current motors; the sheets' figures.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, kept
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.joint_torques import servo_loads, servo_speeds
from bustle.core.project.electrics import Bank, bank_of
from bustle.core.project.kept_by_identity import KeptByIdentity
from bustle.core.project.parts import ServoType
from bustle.core.walk.reading import Reading

# What becomes of a motor's power in its gears and windings, and its current without load as a share of the stalled one,
# where a sheet tells of neither. Assumed.
GEARS_SHARE, RUNNING_SHARE = 0.5, 0.2
# Resistance where nobody has measured it, mΩ: of a cell as small packs have them, and of plugs and leads. Assumed.
CELL_MOHM, LEADS_MOHM = 30.0, 40.0


@dataclass(frozen=True)
class Drawn:
    """Of the servos on one supply: bank, None where none is told of them; amperes (N,) of all of them at the table's
    rows; of: their numbers in the kit."""

    bank: Bank | None
    amperes: Array
    of: tuple[int, ...]


def drawn(r: Reading) -> tuple[Drawn, ...]:
    """One per supply that servos hang on, in the project's order, and one of those that hang on none."""
    hung, each = bank_of(r.project.electrics), r.of(amperes)
    on = [hung(servo.name) for servo in r.kit.servos]
    found = []
    for bank in (*r.project.electrics.banks, None):
        of = tuple(k for k, own in enumerate(on) if own is bank)
        if of:
            found.append(Drawn(bank, each[:, of].sum(axis=1), of))
    return tuple(found)


def amperes(r: Reading) -> Array:
    """(N, servos)."""
    given, project = r.of(at_its_voltage), r.project
    stall, run, idle = _known.of((project.walker, *project.servo_types, project.electrics), lambda: kept(_currents(r)))
    pulls = np.minimum(np.abs(r.of(servo_loads).share), 1.0)
    turns = np.minimum(np.abs(r.of(servo_speeds)) / given.speed_rad_s, 1.0)
    found: Array = idle + (run - idle) * turns + (stall - run) * pulls
    return found


# As for voltages: of machines as they are wired.
_known: KeptByIdentity[Array] = KeptByIdentity(24)


def _currents(r: Reading) -> Array:
    """(3, servos) A at their voltages: stalled, turning without load, and idle."""
    sheets = [servo.sheet for servo in r.kit.servos]
    told, rated = np.array([currents_a(sheet) for sheet in sheets]), np.array([sheet.rated_v for sheet in sheets])
    found: Array = told.T * r.of(at_its_voltage).volts / rated
    return found


def currents_a(sheet: ServoType) -> tuple[float, float, float]:
    """A, at its sheet's voltage: stalled, turning without load, and idle. A sheet that tells of some alone: none draws
    more as it idles than as it runs, nor more so than stalled."""
    stall = sheet.stall_current_a
    if stall is None:
        stall = sheet.stall_torque_nm * np.radians(sheet.no_load_speed_deg_s) / (GEARS_SHARE * sheet.rated_v)
    run = RUNNING_SHARE * stall if sheet.running_current_a is None else min(sheet.running_current_a, stall)
    return stall, run, min(sheet.idle_current_a or 0.0, run)


def volts_left(bank: Bank, amperes: Array) -> Array:
    """At the servos, its pack nearly empty."""
    left: Array = bank.empty_v - resistance_ohm(bank) * amperes
    return left if bank.regulated_v is None else np.minimum(left, bank.regulated_v)


def resistance_ohm(bank: Bank) -> float:
    if bank.resistance_mohm is not None:
        return bank.resistance_mohm / 1000
    cells = 0 if bank.chemistry == "mains" else bank.cells
    return (CELL_MOHM * cells + LEADS_MOHM) / 1000


def assumed_of_supplies(r: Reading) -> Iterator[str]:
    """What nobody has measured or said."""
    untold = {s.sheet.name for s in r.kit.servos if s.sheet.stall_current_a is None}
    if untold:
        yield f"currents of {', '.join(sorted(untold))} by torque and speed"
    for bank in r.project.electrics.banks:
        if bank.resistance_mohm is None:
            yield f"{bank.name} with {1000 * resistance_ohm(bank):.0f} mΩ"
