"""F15: a joint runs into its end stop, a servo past its travel, a drive past its dead point."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.extremes import greatest, least
from bustle.core.judge.figure import FigureSpec, Lines, Told
from bustle.core.judge.finding import Finding, Severity, by_joint, offenders
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.judgements.bench.pulse_range import past_its_pulses, pulse_range
from bustle.core.judge.measures.servo_rates import drive_strain
from bustle.core.judge.ways import Turn
from bustle.core.kinds.drives import DRIVES
from bustle.core.loads.held_against_sag import commanded
from bustle.core.servo.servo_angles import servo_angles
from bustle.core.walk.reading import Reading
from bustle.core.words.wording import also, degrees, length, number, seconds


def past_its_stop(r: Reading) -> Iterator[Finding]:
    """Past an end stop, a servo's travel or a dead point (stop), or nearer to a stop than the limit (warn)."""
    dead = list(_dead_points(r))
    yield from dead
    reported = {finding.subject for finding in dead}
    limit = r.project.limits.end_stop_deg
    # As typed in degrees, and as many mm where the joint slides.
    near = np.where(r.kit.slides, limit, np.radians(limit))
    levels: tuple[tuple[Severity, Array], ...] = (("stop", np.zeros_like(near)), ("warn", near))
    for severity, room in levels:
        for found in (_joint_ends(r, severity, room), _servo_ends(r, severity)):
            fresh = [f for f in found if f.subject not in reported]
            reported |= {f.subject for f in fresh}
            yield from fresh
    yield from (f for f in pulse_range(r) if f.subject not in reported)


def _over(r: Reading) -> Array:
    """(S + 2E, J): how far past its ends each joint is, rad or mm; below 0 within them."""
    angles = r.of(commanded)
    return np.maximum(r.kit.low - angles, angles - r.kit.high)


def _most_over(r: Reading) -> Array:
    """(J,): the most of it."""
    found: Array = r.of(_over).max(axis=0)
    return found


def _servos_over(r: Reading) -> Array:
    """(S, servos) rad: how far past the end of its travel each is asked to go; below 0 within it."""
    found: Array = np.abs(r.of(servo_angles)) - r.kit.servo_half_travel
    return found


def _joint_ends(r: Reading, severity: Severity, room: Array) -> Iterator[Finding]:
    if (r.of(_most_over) + room <= 1e-9).all():
        return
    angles, over, joints = r.of(commanded), r.of(_over), r.kit.joints
    found = offenders(over + room - 1e-9)
    for joint, columns in by_joint([j.name for j in joints], found[0] if found else []).items():
        worst = columns[0]
        own, row = joints[worst], greatest(over[:, worst])
        value = float(angles[row, worst]) * own.scale
        stop = (own.low if angles[row, worst] < (own.low + own.high) / 2 else own.high) * own.scale
        say = length if own.slides else degrees
        time = r.time_at(row)
        verb = "reaches" if severity == "stop" else "comes near its end stop,"
        yield Finding(
            "F15", severity, "End stop",
            f"{own} {verb} {say(value)} at {seconds(time)}; its end stop is at {say(stop)}."
            + also([joints[c].limb.name for c in columns[1:]]),
            tuple((joints[c].limb.name, joint) for c in columns), time, value, stop, own.unit,
        )  # fmt: skip


def _servo_ends(r: Reading, severity: Severity) -> Iterator[Finding]:
    if not r.kit.servos:
        return
    angles, half, over = r.of(servo_angles), r.kit.servo_half_travel, r.of(_servos_over)
    room = 0.0 if severity == "stop" else float(np.radians(r.project.limits.end_stop_deg))
    if over.max(initial=-np.inf) + room <= 1e-9:
        return
    found = offenders(over + room - 1e-9)
    first = [r.kit.joints[s.first] for s in r.kit.servos]
    for joint, columns in by_joint([j.name for j in first], found[0] if found else []).items():
        worst = columns[0]
        row = greatest(over[:, worst])
        value, limit = (float(np.degrees(v)) for v in (angles[row, worst], half[worst]))
        time = r.time_at(row)
        verb = "asks" if severity == "stop" else "asks nearly all its travel of"
        yield Finding(
            "F15", severity, "Servo travel",
            f"{first[worst]} {verb} its servo {degrees(value)} from centre at {seconds(time)}; "
            f"its servo's travel ends at {degrees(limit)}." + also([first[c].limb.name for c in columns[1:]]),
            tuple((first[c].limb.name, joint) for c in columns), time, value, limit, "°",
        )  # fmt: skip


def _dead_points(r: Reading) -> Iterator[Finding]:
    """A linkage past its dead point, a cord gone slack."""
    strained = r.of(drive_strain)
    names = {path: r.kit.joints[r.kit.column_of[path]] for path in strained}
    by_name: dict[str, list[str]] = {}
    for path in sorted(strained, key=lambda p: -round(float(strained[p].max()), 9)):
        by_name.setdefault(names[path].name, []).append(path)
    for joint, paths in by_name.items():
        row = greatest(strained[paths[0]])
        own = names[paths[0]]
        value = float(r.course.solved.joints[row, r.kit.column_of[paths[0]]]) * own.scale
        time = r.time_at(row)
        kind = next(g.kind for g in r.kit.gearings if paths[0] in (d.joints[0] for d in g.drives))
        yield Finding(
            "F15", "stop", "Past what its drive can hold",
            f"{own} is asked for {degrees(value)} at {seconds(time)}, which its {DRIVES[kind].label.lower()} drive "
            "cannot hold: it is past a dead point or slack." + also([names[p].limb.name for p in paths[1:]]),
            tuple((names[p].limb.name, joint) for p in paths), time, value, 0.0, own.unit,
        )  # fmt: skip


def _past(r: Reading) -> Flags:
    """When some joint is past its end, a servo past its travel, or a drive past what it can hold."""
    past: Flags = np.asarray((r.of(_over) > 1e-9).any(axis=1), dtype=bool)
    if r.kit.servos:
        past = past | (r.of(_servos_over) > 1e-9).any(axis=1)
    for strain in r.of(drive_strain).values():
        past = past | (strain > 0)
    past[: r.samples] |= r.of(past_its_pulses)
    return past


def _tightest(r: Reading) -> tuple[int, int]:
    """Row and column of the hinge that is nearest to a stop."""
    room = np.where(r.kit.slides, np.inf, -r.of(_over)[: r.samples])
    row, column = np.unravel_index(least(room), room.shape)
    return int(row), int(column)


def _read(r: Reading) -> Told | None:
    row, column = r.of(_tightest)
    return -float(np.degrees(r.of(_over)[row, column])), float(row * r.row_s)


def _working(r: Reading) -> Lines:
    row, column = r.of(_tightest)
    joint = r.kit.joints[column]
    return (
        f"{joint} is at {number(float(np.degrees(r.of(commanded)[row, column])))}° at {seconds(float(row * r.row_s))}",
        f"its stops are {number(np.degrees(joint.low))}° and {number(np.degrees(joint.high))}°",
        f"= {number(-float(np.degrees(r.of(_over)[row, column])))}° to the nearer",
    )


END_STOP_ROOM = FigureSpec(
    "end_stop_room_deg", "Room to end stop", "°", 1, _read, _working, ("stride", "table"), better=1, compared=True
)

JUDGEMENT = Judgement(
    "F15",
    "Joints keep off their end stops",
    ("stride",),
    past_its_stop,
    tier="drag",
    limits_stride=True,
    figures=(END_STOP_ROOM,),
    ways=(Turn("ride_height"), Turn("feet_out"), Turn("stride", up=False), Turn("lift", up=False)),
    unplayable=_past,
)
