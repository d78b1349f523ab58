"""The joint angle table: what the servo controller plays, one row per frame period, closing on itself."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.drives import DRIVES
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import refuse

DECIMALS = (0, 4)


@dataclass(frozen=True)
class Table:
    """time_s: (n,) of each row; row_s: from one to the next. repeats: whether the first row follows the last: then
    t_k = kT/n, end excluded; a motion with an end has its last row at its end. columns: "leg.joint", with units "deg"
    or "mm" beside them: driven joints only. geared: a sentence for each drive whose servo stands at another angle than
    its joint. values: (n, J), rounded, without −0."""

    project: str
    motion: str
    duration_s: float
    row_s: float
    repeats: bool
    decimals: int
    time_s: Array
    columns: tuple[str, ...]
    units: tuple[str, ...]
    geared: tuple[str, ...]
    values: Array


def joint_table(r: Reading, decimals: int = 2) -> Table:
    """The table of a reading. Raises InputRefused for decimals outside 0 … 4."""
    low, high = DECIMALS
    if not low <= decimals <= high:
        raise refuse("decimals", f"must be from {low} to {high}, got {decimals}")
    driven = [n for n, j in enumerate(r.kit.joints) if not j.free]
    joints = [r.kit.joints[n] for n in driven]
    values = np.asarray(np.round((r.angles * r.kit.scale)[:, driven], decimals) + 0.0, dtype=np.float64)
    return Table(
        project=r.project.name,
        motion=r.motion.name,
        duration_s=r.score.duration_s,
        row_s=r.row_s,
        repeats=r.score.periodic,
        decimals=decimals,
        time_s=r.course.time_s[: r.samples],
        columns=tuple(f"{j.limb.name}.{j.name}" for j in joints),
        geared=tuple(_geared(r)),
        units=tuple("mm" if j.slides else "deg" for j in joints),
        values=values,
    )


def _geared(r: Reading) -> Iterator[str]:
    for drive in r.project.walker.drives:
        if drive.kind not in ("direct", "riding"):
            columns = " and ".join(path.replace("/", ".") for path in drive.joints)
            kind = DRIVES[drive.kind].label.lower()
            yield f"{columns}: joint angles; the servo turns otherwise, by its drive ({kind})."
