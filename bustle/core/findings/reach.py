"""F15 end stop, F17 out of reach, F47 nearly straight knee."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from bustle.core.evidence import Evidence
from bustle.core.findings.finding import Finding, Severity, by_joint, offenders
from bustle.core.legs import FAMILIES
from bustle.core.wording import also, degrees, length, seconds

# A foot that misses by less is where it should be, for anything made by hand.
MISS_MM = 0.01


def end_stop(e: Evidence) -> Iterator[Finding]:
    """F15: a joint past its end stop or its servo past its travel (stop), or nearer than the limit (warn)."""
    angles = e.course.solved.joints
    low = np.array([j.min_rad for j in e.joints])
    high = np.array([j.max_rad for j in e.joints])
    for n, servo in enumerate(e.servos):
        half = np.radians(servo.sheet.travel_deg) / 2
        for column in servo.columns if len(servo.columns) == 1 else ():
            centre = angles[0, column] - e.servo_angles[0, n]
            low[column] = max(low[column], centre - half)
            high[column] = min(high[column], centre + half)
    over = np.maximum(low - angles, angles - high)
    names = [j.name for j in e.joints]
    reported: set[str] = set()
    checks: tuple[tuple[Severity, float], ...] = (
        ("stop", 0.0),
        ("warn", np.radians(e.project.limits.end_stop_deg)),
    )
    for severity, room in checks:
        found = offenders(over + room - 1e-9)
        for joint, columns in by_joint(names, found[0] if found else []).items():
            if joint in reported:
                continue
            reported.add(joint)
            worst = columns[0]
            row = int(np.argmax(over[:, worst]))
            angle = float(np.degrees(angles[row, worst]))
            stop = float(np.degrees(low[worst] if angles[row, worst] < (low[worst] + high[worst]) / 2 else high[worst]))
            time = e.time_at(row)
            own = e.joints[worst]
            from_servo = min(abs(stop - np.degrees(own.min_rad)), abs(stop - np.degrees(own.max_rad))) > 1e-6
            what = "its servo's travel ends at" if from_servo else "its end stop is at"
            verb = "reaches" if severity == "stop" else "comes near its end stop,"
            yield Finding(
                "F15", severity, "End stop",
                f"{own} {verb} {degrees(angle)} at {seconds(time)}; {what} {degrees(stop)}."
                + also([e.joints[c].limb.name for c in columns[1:]]),
                tuple((e.joints[c].limb.name, joint) for c in columns), time, angle, stop, "°",
            )  # fmt: skip


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
    knee = FAMILIES[worst.family].joints[FAMILIES[worst.family].knee]
    column = e.slices[limbs[0]].start + FAMILIES[worst.family].knee
    rate = float(np.degrees(np.abs(e.rates[:, column]).max()))
    least, time = float(short[limbs[0], row]), e.time_at(row)
    severity: Severity = "stop" if least <= 1e-9 and e.course.solved.miss_mm[limbs[0], row] <= MISS_MM else "warn"
    yield Finding(
        "F47", severity, "Nearly straight knee",
        f"{worst.name} is {length(least)} short of straight at {seconds(time)}; its {knee.label.lower()} turns up to "
        f"{degrees(rate)} a second. Keep {length(limit)}." + also([leg.name for leg in legs[1:]]),
        tuple((leg.name, "") for leg in legs), time, least, limit, "mm",
    )  # fmt: skip
