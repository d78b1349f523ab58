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
from bustle.core.loads.foot_forces import standing_forces
from bustle.core.loads.foot_gives import said_mm_per_n
from bustle.core.loads.giving.sag import sag
from bustle.core.loads.inertial_wrenches import held_still
from bustle.core.loads.joint_torques import held_gives
from bustle.core.loads.told import fallen, not_told
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading


def lower_mm(r: Reading, feet: Sequence[tuple[int, int]]) -> list[float | None]:
    """mm, of each limb at a row at which it is in the air; None where nothing is told of what it stands on."""
    limbs, rows = np.array(feet, dtype=np.intp).reshape(-1, 2).T
    if not len(feet) or not_told(r):
        return [None] * len(feet)
    falls = fallen(r.of(standing_forces), r.of(held_still).kg)[rows]
    if r.project.against_sag != "off":
        found = r.of(_stands_lower_mm)[rows]
    else:
        gives = r.of(sag)
        foot = r.course.feet_ground_mm[limbs, rows] - r.course.body.at[rows]
        frame = gives.shift_mm[rows] + cross(gives.turn[rows], foot)
        found = r.of(_hangs_mm)[limbs, rows] - frame[:, 2]
    return [None if fell else float(mm) for mm, fell in zip(found, falls, strict=True)]


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
        found[group.members] = 1000 * (ways[2] * gives.T[own.servos]).sum(axis=1)
    return found
