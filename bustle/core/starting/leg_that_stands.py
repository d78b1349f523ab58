"""A new leg on a machine that is there: where there is room on its left side, like the legs of its kind, and else so
long that it stands as the others do."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import chain

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
    """With a leg of that family more, at a place on the body seen from above. As long as the others where none stands
    there within its stops. Raises InputRefused."""
    at = at_mm or _where_there_is_room(project)
    as_usual = added(project, "leg", family, at)
    if not any(isinstance(m, PhaseGait) for m in project.motions):
        return as_usual
    stand = usual_gait(as_usual)
    new, usual = as_usual.walker.limbs[-1], longest_mm(document(project))
    hangs = stand.pose.ride_height_mm + new.mount.at_mm[2]
    like = _of_its_kind(as_usual)
    lengths = (*(usual * share for share in LENGTHS), *(hangs * share for share in STRAIGHT if hangs > 0))
    for made in chain(like, (added(project, "leg", family, at, round(length, 1)) for length in lengths)):
        found = evaluate(made, stand.name, 2).findings_among(("F15", "F16", "F17"))
        if not any(f.severity == "stop" and _of(f, new.name) for f in found):
            return made
    return as_usual


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
