"""The table in what the servos are told: pulses in µs, ticks of their boards, counts of their bus."""

from __future__ import annotations

from typing import Literal

import numpy as np

from bustle.core.geometry.arrays import kept
from bustle.core.project.kept_by_identity import KeptByIdentity
from bustle.core.servo.fitted_servos import ServoAt
from bustle.core.servo.joint_table import Table, held_within, joint_table
from bustle.core.servo.pulses import PulseMap, pulse_map
from bustle.core.servo.servo_angles import servo_angles
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import refuse
from bustle.core.words.wording import joined

Values = Literal["angles", "pulses", "ticks"]
VALUES: tuple[Values, ...] = ("angles", "pulses", "ticks")

# Of machines as they are wired.
_known: KeptByIdentity[PulseMap] = KeptByIdentity(24)


def fitted(r: Reading) -> PulseMap:
    """How this machine's servos are fitted."""
    parts = r.project.walker, *r.project.servo_types, r.project.electrics, r.project.controller
    return _known.of(parts, lambda: kept(pulse_map(r.project, r.kit)))


def told(r: Reading) -> np.ndarray:
    """(S, N) µs or counts at the samples, before rounding."""
    found: np.ndarray = r.of(fitted).told(r.of(servo_angles)[: r.samples])
    return found


def table_of(r: Reading, values: str, decimals: int = 2, cut: bool = False) -> Table:
    """The table in joint angles, pulses or ticks.

    cut: what is beyond a limit is held there. Raises InputRefused for other values, and for ticks without boards.
    """
    if values not in VALUES:
        raise refuse("values", f"must be one of {', '.join(VALUES)}, got {values[:40]!r}")
    if values == "angles":
        return joint_table(r, decimals, cut)
    return servo_table(r, values == "ticks", cut)


def servo_table(r: Reading, ticks: bool, cut: bool) -> Table:
    pulses, rows = r.of(fitted), r.of(told)
    if ticks:
        bare = [s.place for s, per in zip(pulses.servos, pulses.ticks_per_us, strict=True) if not per and not s.bus]
        if bare:
            first = joined(bare[:3]) + (f" and {len(bare) - 3} more" if len(bare) > 3 else "")
            raise refuse("values", f"ticks need a pulse board, and {first} are wired to none; take pulses")
    slides = np.flatnonzero(r.kit.hornless).tolist()
    columns = [n for n in range(len(pulses.servos)) if n not in slides]
    held: tuple[str, ...] = ()
    if cut:
        rows, held = held_within(rows, pulses.low, pulses.high, [s.place for s in pulses.servos], r.row_s)
    values = pulses.sent(rows) if ticks else np.round(np.where(pulses.bus, np.rint(rows), rows), 1)
    servos = [pulses.servos[n] for n in columns]
    base = joint_table(r)
    return Table(
        project=base.project,
        motion=base.motion,
        duration_s=base.duration_s,
        row_s=base.row_s,
        repeats=base.repeats,
        decimals=0 if ticks else 1,
        time_s=base.time_s,
        columns=tuple(_column(s, [o.joint for o in servos]) for s in servos),
        units=tuple("count" if s.bus else "tick" if ticks else "us" for s in servos),
        geared=tuple(
            f"{r.kit.joints[r.kit.servos[n].first].path}: slides, and is in no column; its servo turns no horn"
            for n in slides
        ),
        values=np.asarray(values[:, columns] + 0.0, dtype=np.float64),
        assumed=tuple(assumed(servos)),
        held=base.held,
        channels=tuple(s.goes_to for s in servos),
        cut=held,
    )


def _column(servo: ServoAt, joints: list[str]) -> str:
    """By its joint; by its own name where two servos turn one joint."""
    if joints.count(servo.joint) > 1:
        return servo.place.replace(" ", "_")
    return servo.joint.replace("/", ".")


def assumed(servos: list[ServoAt]) -> list[str]:
    """What nobody has measured, each with the servos it is of."""
    of: dict[str, list[str]] = {}
    for servo in servos:
        for what in servo.assumed():
            of.setdefault(what, []).append(servo.place)
    return [
        f"assumed of {'every servo' if len(places) == len(servos) else joined(places)}: {what}"
        for what, places in of.items()
    ]
