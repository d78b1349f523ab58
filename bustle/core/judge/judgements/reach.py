"""F15 end stop, F17 out of reach, F47 nearly straight knee."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.judge.judgements.finding import Finding, Severity, by_joint, offenders
from bustle.core.kinds.drives import DRIVES
from bustle.core.kinds.legs import FAMILIES
from bustle.core.walk.reading import Evidence, JointName
from bustle.core.words.wording import also, degrees, length, seconds

# A foot that misses by less is where it should be, for anything made by hand.
MISS_MM = 0.01


def end_stop(e: Evidence) -> Iterator[Finding]:
    """F15: a joint past its end stop, a servo past its travel or a drive past its dead point (stop), or nearer to its
    stop than the limit (warn)."""
    dead = list(_dead_points(e))
    yield from dead
    reported = {finding.subject for finding in dead}
    near = np.array([_near(e, j.slides) for j in e.joints])
    levels: tuple[tuple[Severity, Array], ...] = (("stop", np.zeros_like(near)), ("warn", near))
    for severity, room in levels:
        for found in (_joint_ends(e, severity, room), _servo_ends(e, severity)):
            fresh = [f for f in found if f.subject not in reported]
            reported |= {f.subject for f in fresh}
            yield from fresh


def _near(e: Evidence, slides: bool) -> float:
    """How near to an end stop is too near: as typed in degrees, and as many mm where the joint slides."""
    limit = e.project.limits.end_stop_deg
    return limit if slides else float(np.radians(limit))


def _joint_ends(e: Evidence, severity: Severity, room: Array) -> Iterator[Finding]:
    angles = e.course.solved.joints
    low, high = (np.array([getattr(j, side) for j in e.joints]) for side in ("low", "high"))
    over = np.maximum(low - angles, angles - high)
    found = offenders(over + room - 1e-9)
    for joint, columns in by_joint([j.name for j in e.joints], found[0] if found else []).items():
        worst = columns[0]
        own, row = e.joints[worst], int(np.argmax(over[:, worst]))
        value = float(angles[row, worst]) * own.scale
        stop = (own.low if angles[row, worst] < (own.low + own.high) / 2 else own.high) * own.scale
        say = length if own.slides else degrees
        time = e.time_at(row)
        verb = "reaches" if severity == "stop" else "comes near its end stop,"
        yield Finding(
            "F15", severity, "End stop",
            f"{own} {verb} {say(value)} at {seconds(time)}; its end stop is at {say(stop)}."
            + also([e.joints[c].limb.name for c in columns[1:]]),
            tuple((e.joints[c].limb.name, joint) for c in columns), time, value, stop, own.unit,
        )  # fmt: skip


def _servo_ends(e: Evidence, severity: Severity) -> Iterator[Finding]:
    if not e.servos:
        return
    half = np.radians([s.sheet.travel_deg / 2 for s in e.servos])
    room = 0.0 if severity == "stop" else float(np.radians(e.project.limits.end_stop_deg))
    over = np.abs(e.servo_angles) - half
    found = offenders(over + room - 1e-9)
    first = [e.joints[s.first] for s in e.servos]
    for joint, columns in by_joint([j.name for j in first], found[0] if found else []).items():
        worst = columns[0]
        row = int(np.argmax(over[:, worst]))
        value, limit = (float(np.degrees(v)) for v in (e.servo_angles[row, worst], half[worst]))
        time = e.time_at(row)
        verb = "asks" if severity == "stop" else "asks nearly all its travel of"
        yield Finding(
            "F15", severity, "Servo travel",
            f"{first[worst]} {verb} its servo {degrees(value)} from centre at {seconds(time)}; "
            f"its servo's travel ends at {degrees(limit)}." + also([first[c].limb.name for c in columns[1:]]),
            tuple((first[c].limb.name, joint) for c in columns), time, value, limit, "°",
        )  # fmt: skip


def _dead_points(e: Evidence) -> Iterator[Finding]:
    """A linkage past its dead point, a cord gone slack."""
    strained = sorted(e.strain.items(), key=lambda item: -item[1].max())
    names = {path: e.joints[e.columns[path]] for path, _ in strained}
    for joint, paths in by_joint_path(names, [path for path, _ in strained]).items():
        worst = e.strain[paths[0]]
        row = int(np.argmax(worst))
        own = names[paths[0]]
        value = float(e.course.solved.joints[row, e.columns[paths[0]]]) * own.scale
        time = e.time_at(row)
        kind = next(d.kind for drives in e.drives.values() for d in drives if d.joints[0] == paths[0])
        yield Finding(
            "F15", "stop", "Past what its drive can hold",
            f"{own} is asked for {degrees(value)} at {seconds(time)}, which its {DRIVES[kind].label.lower()} drive "
            "cannot hold: it is past a dead point or slack." + also([names[p].limb.name for p in paths[1:]]),
            tuple((names[p].limb.name, joint) for p in paths), time, value, 0.0, own.unit,
        )  # fmt: skip


def by_joint_path(names: dict[str, JointName], paths: list[str]) -> dict[str, list[str]]:
    """Joint paths grouped by joint name, keeping their order."""
    found: dict[str, list[str]] = {}
    for path in paths:
        found.setdefault(names[path].name, []).append(path)
    return found


def out_of_reach(e: Evidence) -> Iterator[Finding]:
    """F17: a foot that cannot get to its target."""
    found = offenders(e.course.solved.miss_mm.T - MISS_MM)
    if not found:
        return
    limbs, row = found
    names = [e.project.walker.limbs[i].name for i in limbs]
    miss, time = float(e.course.solved.miss_mm[limbs[0], row]), e.time_at(row)
    yield Finding(
        "F17", "stop", "Out of reach",
        f"{names[0]} misses its target by {length(miss)} at {seconds(time)}; the leg does not reach that far."
        + also(names[1:]),
        tuple((name, "") for name in names), time, miss, 0.0, "mm",
    )  # fmt: skip


def straight_knee(e: Evidence) -> Iterator[Finding]:
    """F47: a knee within the limit of straight, where its rate spikes and the branch may flip."""
    limit = e.project.limits.straight_knee_mm
    short = e.course.solved.straight_mm
    found = offenders(limit - short.T)
    if not found:
        return
    limbs, row = found
    legs = [e.project.walker.limbs[i] for i in limbs]
    worst = legs[0]
    at = FAMILIES[worst.family].knee or 0
    knee = FAMILIES[worst.family].joints[at]
    column = e.slices[limbs[0]].start + at
    rate = float(np.degrees(np.abs(e.rates[:, column]).max()))
    least, time = float(short[limbs[0], row]), e.time_at(row)
    severity: Severity = "stop" if least <= 1e-9 and e.course.solved.miss_mm[limbs[0], row] <= MISS_MM else "warn"
    yield Finding(
        "F47", severity, "Nearly straight knee",
        f"{worst.name} is {length(least)} short of straight at {seconds(time)}; its {knee.label.lower()} turns up to "
        f"{degrees(rate)} a second. Keep {length(limit)}." + also([leg.name for leg in legs[1:]]),
        tuple((leg.name, "") for leg in legs), time, least, limit, "mm",
    )  # fmt: skip
