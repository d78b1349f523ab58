"""How far a foot may be from the plan because of how the table is sent: each source on its own, mm at the worst foot.

An angle error ε at a joint moves the foot by ε times its distance from the joint's axis; the sources of one foot's
joints are added up, the worst there is.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward
from bustle.core.machine.joints_and_servos import servos_turned
from bustle.core.servo.servo_table import fitted, told
from bustle.core.walk.reading import Reading

STEP = 1e-4
# What µs per degree may be off by where nobody has measured it: 10 against 11 or 9.
ASSUMED_SHARE = 0.1
DECIMALS_DEG = 0.05

BETWEEN_ROWS = "between rows"
SOURCES = ("assumed µs per degree", "steps of the board", "dead band", "rounding of the table", BETWEEN_ROWS)


def foot_levers(r: Reading) -> Array:
    """(limbs, servos) mm of the foot per radian of the horn, at the first row; 0 where a servo is not that limb's."""
    kit, at = r.kit, r.course.solved.joints[0]
    # One row as it is, then one with each servo turned on a little.
    tries = np.concatenate([at[None], servos_turned(kit.gearings, at, STEP)])
    found = np.zeros((len(r.project.walker.limbs), len(kit.servos)))
    for group in r.assembled.parts:
        points, _ = forward(group.build.chain, np.moveaxis(tries[:, group.columns], 1, 0))
        feet = points[:, :, -1]
        found[group.members] = np.linalg.norm(feet[:, 1:] - feet[:, :1], axis=-1) / STEP
    return found


def export_errors(r: Reading) -> dict[str, float]:
    """Source → mm at the worst foot, the table in ticks where there are boards, else in pulses."""
    pulses, rows = r.of(fitted), r.of(told)
    if not pulses.servos:
        return dict.fromkeys(SOURCES, 0.0)
    levers = r.of(foot_levers)
    per = np.abs(pulses.per_deg)

    def worst(off_deg: Array) -> float:
        return float((levers * np.radians(off_deg)).sum(axis=1).max(initial=0.0))

    unknown = np.array([s.item is None or (not s.bus and not s.item.us_per_deg) for s in pulses.servos])
    spread = np.abs(np.degrees(pulses.horn_rad(rows)) + pulses.offset_deg).max(axis=0)
    step = np.where(pulses.ticks_per_us > 0, 0.5 / np.where(pulses.ticks_per_us > 0, pulses.ticks_per_us, 1.0), 0.5)
    dead = np.array([0.0 if s.bus else s.sheet.dead_band_us for s in pulses.servos])
    if r.score.periodic:
        rows = np.concatenate([rows[-1:], rows, rows[:1]])
    bend = np.abs(rows[2:] - 2 * rows[1:-1] + rows[:-2]).max(axis=0) / 8 if len(rows) > 2 else np.zeros(len(per))
    return {
        SOURCES[0]: worst(np.where(unknown, ASSUMED_SHARE * spread, 0.0)),
        SOURCES[1]: worst(step / per),
        SOURCES[2]: worst(dead / per),
        SOURCES[3]: worst(np.where(pulses.bus, 0.0, DECIMALS_DEG / per)),
        SOURCES[4]: worst(bend / per),
    }


def export_error_mm(r: Reading) -> float:
    """All sources together."""
    return sum(r.of(export_errors).values())
