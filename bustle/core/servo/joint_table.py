"""The joint angle table: what the servo controller plays, one row per frame period, closing on itself."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.kinds.drives import DRIVES
from bustle.core.loads.held_against_sag import sent_joints
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import refuse

DECIMALS = (0, 4)


@dataclass(frozen=True)
class Table:
    """time_s: (n,) of each row; row_s: from one to the next. repeats: whether the first row follows the last: then
    t_k = kT/n, end excluded; a motion with an end has its last row at its end. columns: "leg.joint", or what the
    robot's own files call it, with units "deg" or "mm" beside them: driven joints only; where it holds what servos are
    told, one for each servo, with "us", "tick" or "count". geared: a sentence for each drive whose servo stands at
    another angle than its joint. assumed: what nobody has measured. channels: where each column goes, in words; empty
    for joint angles. cut: a sentence for each column that was held at its limit. held: how it makes up for what servos
    give, to stand behind its name. values: (n, J), rounded, without −0."""

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
    assumed: tuple[str, ...] = ()
    channels: tuple[str, ...] = ()
    cut: tuple[str, ...] = ()
    held: str = ""

    @property
    def of_joints(self) -> bool:
        return not self.channels


def joint_table(r: Reading, decimals: int = 2, cut: bool = False) -> Table:
    """The table of a reading. cut: joints are held at their end stops.

    Raises InputRefused for decimals outside 0 … 4.
    """
    if not DECIMALS[0] <= decimals <= DECIMALS[1]:
        raise refuse("decimals", f"must be from {DECIMALS[0]} to {DECIMALS[1]}, got {decimals}")
    driven = [n for n, j in enumerate(r.kit.joints) if not j.free]
    joints = [r.kit.joints[n] for n in driven]
    values = (r.of(sent_joints) * r.kit.scale)[:, driven]
    held: tuple[str, ...] = ()
    if cut:
        low, high = (np.array([end * j.scale for j, end in zip(joints, ends, strict=True)])
                     for ends in ([j.low for j in joints], [j.high for j in joints]))  # fmt: skip
        values, held = held_within(values, low, high, [str(j) for j in joints], r.row_s)
    values = np.asarray(np.round(values * [j.sign for j in joints], decimals) + 0.0, dtype=np.float64)
    return Table(
        project=r.project.name,
        motion=r.motion.name,
        duration_s=r.score.duration_s,
        row_s=r.row_s,
        repeats=r.score.periodic,
        decimals=decimals,
        time_s=r.course.time_s[: r.samples],
        columns=tuple(j.column for j in joints),
        geared=tuple(_geared(r)),
        units=tuple("mm" if j.slides else "deg" for j in joints),
        values=values,
        held=held_against(r),
        cut=held,
    )


def held_against(r: Reading) -> str:
    """How the table makes up for what the servos give; nothing where it does not."""
    if r.project.against_sag == "off":
        return ""
    soft = sorted({float(v) for v in np.degrees(r.kit.full_torque_at)})
    said = all(s.sheet.full_torque_at_deg is not None for s in r.kit.servos)
    angles = " to ".join(f"{v:.4g}°" for v in dict.fromkeys((soft[0], soft[-1]))) if soft else "0°"
    return f", held against sag: {r.project.against_sag}, give {angles}{'' if said else ' assumed'}"


def held_within(
    values: Array, low: Array, high: Array, names: Sequence[str], row_s: float
) -> tuple[Array, tuple[str, ...]]:
    """values (S, N) held at low and high (N,), and a sentence for each column where that did something."""
    held = np.clip(values, low, high)
    said = []
    for column in np.flatnonzero((np.abs(held - values) > 1e-6).any(axis=0)).tolist():
        rows = np.flatnonzero(np.abs(held[:, column] - values[:, column]) > 1e-6)
        most = float(np.abs(held[:, column] - values[:, column]).max())
        said.append(
            f"{names[column]} is held at its limit in {len(rows)} rows, from row {rows[0] + 1} at "
            f"{rows[0] * row_s:.2f} s on; by {most:.1f} at most"
        )
    return held, tuple(said)


def _geared(r: Reading) -> Iterator[str]:
    named = {j.path: j.column for j in r.kit.joints}
    for drive in r.project.walker.drives:
        if drive.kind not in ("direct", "riding"):
            columns = " and ".join(named[path] for path in drive.joints)
            kind = DRIVES[drive.kind].label.lower()
            yield f"{columns}: joint angles; the servo turns otherwise, by its drive ({kind})."
