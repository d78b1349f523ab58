"""A walk goes on its back, or on its feet again, with every motion that it is joined to."""

from __future__ import annotations

from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.project.motion import FreeWalk, PhaseGait, Programme, Transition, named_by
from bustle.core.project.project import document, gait_of

Values = dict[str, Any]


def turned_with_its_own(project: CheckedProject, motion: str) -> CheckedProject:
    """The gait on its other side, and each that a start, a stop or a programme joins it to. What leans or sways to one
    side goes to the other, since the legs are there. Raises InputRefused where one of them is no gait."""
    over = not gait_of(project, motion).inverted
    values = document(project)
    for gait, told in zip(project.motions, values["motions"], strict=True):
        if gait.name in _joined(project, motion) and isinstance(gait, PhaseGait) and gait.inverted != over:
            told["inverted"] = over
            _other_side(told["pose"])
    return parse_project(values)


def _joined(project: CheckedProject, motion: str) -> set[str]:
    groups = [set(named_by(m)) for m in project.motions if isinstance(m, (Transition, Programme, FreeWalk))]
    found, before = {motion}, set[str]()
    while found != before:
        before = found
        found = found.union(*(group for group in groups if group & found))
    return found


def _other_side(pose: Values) -> None:
    along, aside = pose["shift_mm"]
    pose["shift_mm"] = [along, -aside + 0.0]
    for holder, names in ((pose, ("roll_deg", "yaw_deg")), *((s, ("y_cos_mm", "y_sin_mm")) for s in pose["sway"])):
        for name in names:
            holder[name] = -holder[name] + 0.0
