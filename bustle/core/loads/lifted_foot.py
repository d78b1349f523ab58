"""How much lower a lifted foot is than planned, since the machine gives: what it stands on sinks, and the leg hangs.

The frame shifts by d and turns by θ (see `sag`); the leg's own servos hold up its links and give by δ = τ/K:
    Δz = [d + θ × (p − o)]_z − Σ_s (∂p_z/∂s)·δ_s,   o the frame's origin.
Where the table holds against sag the servos are told so much more, and what mounts, links and floor give is left.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bustle.core.geometry.arrays import Array, cross
from bustle.core.loads.by_servo import foot_ways, own_servos
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
    limbs = np.array([limb for limb, _ in feet], dtype=np.intp)
    at = np.array([rows.index(row) for _, row in feet], dtype=np.intp)
    if r.project.against_sag != "off":
        return [float(v) for v in still.of(_stands_lower_mm)[at]]
    gives = still.of(sag)
    foot = still.course.feet_ground_mm[limbs, at] - still.course.body.at[at]
    frame = gives.shift_mm[at] + cross(gives.turn[at], foot)
    return [float(v) for v in still.of(_hangs_mm)[limbs, at] - frame[:, 2]]


def _stands_lower_mm(r: Reading) -> Array:
    """(N,) mm: by what mounts, links and floor give of the feet that are down."""
    down = r.course.contact[:, : r.samples]
    said = np.array([said_mm_per_n(r, i) if limb.feet else 0.0 for i, limb in enumerate(r.project.walker.limbs)])
    count = np.maximum(down.sum(axis=0), 1)
    found: Array = r.assembled.total_kg * GRAVITY * (said @ down) / count**2
    return found


def _hangs_mm(r: Reading) -> Array:
    """(L, N) mm: how far the end of each limb goes up as its own servos give."""
    found, gives = np.zeros((len(r.project.walker.limbs), r.samples)), r.of(held_gives)
    for group, own, ways in zip(r.assembled.parts, r.of(own_servos), r.of(foot_ways), strict=True):
        found[group.members] = 1000 * (ways[:, :, 2] * gives[:, own.servos].swapaxes(0, 1)).sum(axis=2)
    return found
