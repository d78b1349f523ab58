"""A walk goes on its back, or on its feet again, with every motion that it is joined to."""

from __future__ import annotations

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.project.motion import FreeWalk, PhaseGait, Pose, Programme, Transition, named_by
from bustle.core.project.project import document, gait_of


def turned_with_its_own(project: CheckedProject, motion: str) -> CheckedProject:
    """The gait on its other side, and each that a start, a stop or a programme joins it to. Raises InputRefused where
    one of them is no gait."""
    over, joined = not gait_of(project, motion).inverted, _joined(project, motion)
    motions = [
        turned(told) if isinstance(told, PhaseGait) and told.name in joined and told.inverted != over else told
        for told in project.motions
    ]
    return parse_project(document(project.model_copy(update={"motions": tuple(motions)})))


def turned(gait: PhaseGait) -> PhaseGait:
    """On its other side. What leans or sways to one side goes to the other, since the legs are there."""
    return gait.model_copy(update={"inverted": not gait.inverted, "pose": _other_side(gait.pose)})


def _other_side(pose: Pose) -> Pose:
    sway = tuple(
        term.model_copy(update={"y_cos_mm": -term.y_cos_mm + 0.0, "y_sin_mm": -term.y_sin_mm + 0.0})
        for term in pose.sway
    )
    along, aside = pose.shift_mm
    return pose.model_copy(
        update={
            "sway": sway,
            "shift_mm": (along, -aside + 0.0),
            "roll_deg": -pose.roll_deg + 0.0,
            "yaw_deg": -pose.yaw_deg + 0.0,
        }
    )


def _joined(project: CheckedProject, motion: str) -> set[str]:
    groups = [set(named_by(m)) for m in project.motions if isinstance(m, (Transition, Programme, FreeWalk))]
    found, before = {motion}, set[str]()
    while found != before:
        before = found
        found = found.union(*(group for group in groups if group & found))
    return found
