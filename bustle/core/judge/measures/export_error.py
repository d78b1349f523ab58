"""How far a foot may be from the plan because of how the table is sent: each source on its own, mm at the worst foot.

An angle error ε at a joint moves the foot by ε times its distance from the joint's axis, at the row where that is the
furthest; the sources of one foot's joints are added up, the worst there is.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.loads.by_servo import foot_ways, own_servos
from bustle.core.servo.servo_table import fitted, told
from bustle.core.walk.reading import Reading

# What µs per degree may be off by where nobody has measured it: 10 against 11 or 9.
ASSUMED_SHARE = 0.1
DECIMALS_DEG = 0.05

BETWEEN_ROWS = "between rows"
SOURCES = ("assumed µs per degree", "steps of the board", "dead band", "rounding of the table", BETWEEN_ROWS)


def foot_levers(r: Reading) -> Array:
    """(limbs, servos) mm of the foot per radian of the horn, the most at any row; 0 of servos of another limb."""
    found = np.zeros((len(r.project.walker.limbs), len(r.kit.servos)))
    for group, own, ways in zip(r.assembled.parts, r.of(own_servos), r.of(foot_ways), strict=True):
        found[group.members[:, None], own.servos] = 1000 * np.sqrt((ways * ways).sum(axis=0)).max(axis=-1, initial=0.0)
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

    spread = np.abs(np.degrees(pulses.horn_rad(rows)) + pulses.offset_deg).max(axis=0)
    step = np.where(pulses.ticks_per_us > 0, 0.5 / np.where(pulses.ticks_per_us > 0, pulses.ticks_per_us, 1.0), 0.5)
    if r.score.periodic:
        rows = np.concatenate([rows[-1:], rows, rows[:1]])
    bend = np.abs(rows[2:] - 2 * rows[1:-1] + rows[:-2]).max(axis=0) / 8 if len(rows) > 2 else np.zeros(len(per))
    return {
        SOURCES[0]: worst(np.where(pulses.unmeasured, ASSUMED_SHARE * spread, 0.0)),
        SOURCES[1]: worst(step / per),
        SOURCES[2]: worst(pulses.dead_us / per),
        SOURCES[3]: worst(np.where(pulses.bus, 0.0, DECIMALS_DEG / per)),
        SOURCES[4]: worst(bend / per),
    }


def export_error_mm(r: Reading) -> float:
    """All sources together."""
    return sum(r.of(export_errors).values())
