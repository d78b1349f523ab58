"""A new leg on a machine that is there: where there is room on its left side, like the legs of its kind, and else so
long that it stands as the others do."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.new_limbs import added, longest_mm
from bustle.core.evaluate import evaluate
from bustle.core.judge.finding import Finding
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import document
from bustle.core.walk.motions.motions_in_a_row import usual_gait

# Shares of the others' length, tried in this order.
LENGTHS = (1.0, 0.88, 1.14, 0.77, 1.3, 0.68, 1.5, 0.6, 1.7, 0.52, 2.0)
# Of what does not bend, in shares of how far its hip is from the floor: a tenth of some goes aside.
STRAIGHT = (1 / 0.9, 1.0, 0.97, 0.93)

# What legs of one kind have alike.
ALIKE = ("links", "joints", "feet", "branch", "keep", "hip_offset_mm", "toe_deg", "lean_deg")


def leg_that_stands(project: CheckedProject, family: str, at_mm: tuple[float, float] | None = None) -> CheckedProject:
    """With a leg of that family more, at a place on the body seen from above. Where none stands there within its
    stops and clear of the others, that with the fewest stops against it. Raises InputRefused."""
    at = at_mm or _where_there_is_room(project)
    as_usual = added(project, "leg", family, at)
    if not any(isinstance(m, PhaseGait) for m in project.motions):
        return as_usual
    stand = usual_gait(as_usual).name
    # A thick link on a small body is clear of it further out.
    out_mm = (0.0,) if at_mm else (0.0, *(step * as_usual.walker.limbs[-1].links[-1].radius_mm for step in (1, 2)))
    best, least = as_usual, math.inf
    for place in ((at[0], round(at[1] + out, 1)) for out in out_mm):
        for made in _of_many_lengths(project, family, place):
            found = evaluate(made, stand, 2).findings_among(("F15", "F16", "F17"))
            stops = sum(f.severity == "stop" and _of(f, made.walker.limbs[-1].name) for f in found)
            if stops < least:
                best, least = made, stops
            if not least:
                return best
    return best


def _of_many_lengths(project: CheckedProject, family: str, at: tuple[float, float]) -> Iterator[CheckedProject]:
    as_usual = added(project, "leg", family, at)
    hangs = usual_gait(as_usual).pose.ride_height_mm + as_usual.walker.limbs[-1].mount.at_mm[2]
    usual = longest_mm(document(project))
    yield from _of_its_kind(as_usual)
    for length in (*(usual * share for share in LENGTHS), *(hangs * share for share in STRAIGHT if hangs > 0)):
        yield added(project, "leg", family, at, round(length, 1))


def _of(finding: Finding, limb: str) -> bool:
    return any(limb in subject for subject in finding.subjects)


def _of_its_kind(project: CheckedProject) -> Iterator[CheckedProject]:
    """The last leg with the links, stops and foot of the first of its kind on its side, where there is one."""
    values = document(project)
    *others, new = values["walker"]["limbs"]
    for limb in others:
        side = limb["mount"]["at_mm"][1] * new["mount"]["at_mm"][1]
        if side > 0 and all(limb[name] == new[name] for name in ("family", "mirrored")):
            new.update({name: limb[name] for name in ALIKE})
            if limb["mount"]["yaw_deg"] == new["mount"]["yaw_deg"]:
                aside = np.subtract(limb["neutral_mm"], limb["mount"]["at_mm"][:2])
                new["neutral_mm"] = np.add(new["mount"]["at_mm"][:2], aside).round(3).tolist()
            yield parse_project(values)
            return


def _where_there_is_room(project: CheckedProject) -> tuple[float, float]:
    """On the left edge of the body, furthest from what is mounted there."""
    long, wide, _ = project.walker.sections[0].size_mm
    along = np.linspace(-long / 2, long / 2, 41)
    taken = [m.mount.at_mm[0] for m in project.walker.limbs if m.joints and m.mount.at_mm[1] > 0]
    apart = np.abs(along[:, None] - np.array([*taken, np.inf])).min(axis=1)
    # Of places as good the one nearest to the middle.
    best = min(range(len(along)), key=lambda n: (-round(float(min(apart[n], long)), 1), abs(along[n])))
    return round(float(along[best]), 1), wide / 2
