"""A new leg on a machine that is there: where there is room on its left side, and so long that it stands as the others
do."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.new_limbs import added, longest_mm
from bustle.core.evaluate import evaluate
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import document

# Shares of the others' length, tried in this order.
LENGTHS = (1.0, 0.88, 1.14, 0.77, 1.3, 0.68, 1.5, 0.6, 1.7, 0.52, 2.0)
# Of what does not bend, in shares of how far its hip is from the floor: a tenth of some goes aside.
STRAIGHT = (1 / 0.9, 1.0, 0.97, 0.93)


def leg_that_stands(project: CheckedProject, family: str, at_mm: tuple[float, float] | None = None) -> CheckedProject:
    """With a leg of that family more, at a place on the body seen from above. As long as the others where none stands
    there within its stops. Raises InputRefused."""
    at = at_mm or _where_there_is_room(project)
    as_usual = added(project, "leg", family, at)
    stand = _stand(as_usual)
    if stand is None:
        return as_usual
    new, usual = as_usual.walker.limbs[-1], longest_mm(document(project))
    hangs = stand.pose.ride_height_mm + new.mount.at_mm[2]
    for length in (*(usual * share for share in LENGTHS), *(hangs * share for share in STRAIGHT if hangs > 0)):
        made = added(project, "leg", family, at, round(length, 1))
        found = evaluate(made, stand.name, 2).findings_among(("F15", "F17"))
        if not any(f.severity == "stop" and new.name in f.message for f in found):
            return made
    return as_usual


def _stand(project: CheckedProject) -> PhaseGait | None:
    gaits = [m for m in project.motions if isinstance(m, PhaseGait)]
    return next((m for m in gaits if m.stands), gaits[0] if gaits else None)


def _where_there_is_room(project: CheckedProject) -> tuple[float, float]:
    """On the left edge of the body, furthest from what is mounted there."""
    long, wide, _ = project.walker.sections[0].size_mm
    along = np.linspace(-long / 2, long / 2, 41)
    taken = [m.mount.at_mm[0] for m in project.walker.limbs if m.joints and m.mount.at_mm[1] > 0]
    apart = np.abs(along[:, None] - np.array([*taken, np.inf])).min(axis=1)
    # Of places as good the one nearest to the middle.
    best = min(range(len(along)), key=lambda n: (-round(float(min(apart[n], long)), 1), abs(along[n])))
    return round(float(along[best]), 1), wide / 2
