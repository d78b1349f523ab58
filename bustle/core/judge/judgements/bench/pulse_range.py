"""F15 on the bench: a pulse that no servo takes, from its own calibration, tooth and trim."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.extremes import greatest
from bustle.core.judge.finding import Finding
from bustle.core.servo.servo_angles import servo_angles
from bustle.core.servo.servo_table import fitted, told
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import number, seconds


def _over(r: Reading) -> Array:
    """(S, N) degrees of the horn past what each servo takes; below 0 within it, and where nobody calibrated it."""
    pulses, rows = r.of(fitted), r.of(told)
    over = np.maximum(pulses.low - rows, rows - pulses.high) / np.abs(pulses.per_deg)
    own = np.array([s.item is not None or s.offset_deg != 0 for s in pulses.servos], dtype=bool)
    # What is past the planned travel is said of the plan already.
    planned = np.abs(r.of(servo_angles)[: r.samples]) - r.kit.servo_half_travel
    return np.where(own & (planned <= 1e-9), over, -1.0)


def past_its_pulses(r: Reading) -> Flags:
    """(S,)"""
    electrics = r.project.electrics
    if not r.kit.servos or not (electrics.items or electrics.fitted):
        return np.zeros(r.samples, dtype=bool)
    return np.asarray((r.of(_over) > 1e-6).any(axis=1), dtype=bool)


def pulse_range(r: Reading) -> Iterator[Finding]:
    if not r.of(past_its_pulses).any():
        return
    over, pulses, rows = r.of(_over), r.of(fitted), r.of(told)
    row, n = np.unravel_index(greatest(over), over.shape)
    servo = pulses.servos[int(n)]
    value = float(rows[row, n])
    low, high = float(pulses.low[n]), float(pulses.high[n])
    limit = low if value < low else high
    unit = "counts" if servo.bus else "µs"
    limb, _, joint = servo.joint.partition("/")
    time = float(row * r.row_s)
    yield Finding(
        "F15", "stop", "Past the servo's pulses",
        f"{servo.place} is told {number(value, 0)} {unit} at {seconds(time)}; servo {servo.number} takes "
        f"{number(low, 0)} to {number(high, 0)}.",
        ((limb, joint),), time, value, limit, unit,
    )  # fmt: skip
