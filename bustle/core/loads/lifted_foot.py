"""How much lower a lifted foot is than planned, since the machine gives: what it stands on sinks, and the leg hangs.

The frame shifts by d and turns by θ (see `sag`); the leg's own servos hold up its links and give by δ = τ/K:
    Δz = [d + θ × (p − o)]_z − Σ_s (∂p_z/∂s)·δ_s,   o the frame's origin.
Where the table holds against sag the servos are told so much more, and what mounts, links and floor give is left.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bustle.core.geometry.arrays import cross
from bustle.core.loads.by_servo import foot_moves
from bustle.core.loads.foot_gives import said_mm_per_n
from bustle.core.loads.joint_torques import held_gives
from bustle.core.loads.sag import sag
from bustle.core.loads.told import not_standing
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading


def lower_mm(r: Reading, feet: Sequence[tuple[int, int]]) -> list[float | None]:
    """mm, of each limb at a row at which it is in the air; None where nothing is told of what it stands on."""
    rows = sorted({row for _, row in feet})
    still = r.frozen_at(np.array(rows, dtype=np.intp))
    if not rows or not_standing(still):
        return [None] * len(feet)
    return [_lower_mm(still, limb, rows.index(row)) for limb, row in feet]


def _lower_mm(r: Reading, limb: int, row: int) -> float:
    if r.project.against_sag != "off":
        down = np.flatnonzero(r.course.contact[:, row])
        load = r.assembled.total_kg * GRAVITY / max(1, len(down))
        return float(load * np.mean([said_mm_per_n(r, i) for i in down.tolist()] or [0.0]))
    gives, foot = r.of(sag), r.course.feet_ground_mm[limb, row] - r.course.body.at[row]
    frame = gives.shift_mm[row] + cross(gives.turn[row], foot)
    hangs = foot_moves(r, limb, np.array([row]))[0, :, 2] @ r.of(held_gives)[row]
    return float(hangs - frame[2])
