"""The joint angle table: what the servo controller plays, one row per frame period, closing on itself."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.evaluate import Plan
from bustle.core.geometry.arrays import Array

DECIMALS = (0, 4)


@dataclass(frozen=True)
class Table:
    """time_s: (n,) t_k = kT/n, end excluded. columns: "leg.joint", with units "deg" or "mm" beside them: driven joints
    only. values: (n, J), rounded, without −0."""

    project: str
    motion: str
    cycle_s: float
    decimals: int
    time_s: Array
    columns: tuple[str, ...]
    units: tuple[str, ...]
    values: Array


def joint_table(plan: Plan, decimals: int = 2) -> Table:
    """The table of a plan. Raises ValueError for decimals outside 0 … 4."""
    low, high = DECIMALS
    if not low <= decimals <= high:
        raise ValueError(f"decimals: must be from {low} to {high}, got {decimals}")
    e = plan.evidence
    driven = [n for n, j in enumerate(e.joints) if not j.free]
    values = np.asarray(np.round((e.angles * e.scale)[:, driven], decimals) + 0.0, dtype=np.float64)
    return Table(
        project=e.project.name,
        motion=e.motion.name,
        cycle_s=e.score.duration_s,
        decimals=decimals,
        time_s=e.course.time_s[: e.samples],
        columns=tuple(f"{e.joints[n].limb.name}.{e.joints[n].name}" for n in driven),
        units=tuple("mm" if e.joints[n].slides else "deg" for n in driven),
        values=values,
    )
