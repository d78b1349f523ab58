"""A walk goes on its back, or on its feet again, with every motion that it is joined to."""

from __future__ import annotations

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.mirroring import mirror_pose
from bustle.core.project.motion import FreeWalk, PhaseGait, Programme, Transition, named_by
from bustle.core.project.project import Project, document, gait_of


def turned_with_its_own(project: Project, motion: str) -> CheckedProject:
    """The gait on its other side, and each that a start, a stop or a programme joins it to. Raises InputRefused where
    one of them is no gait."""
    over, joined = not gait_of(project, motion).inverted, _joined(project, motion)
    motions = [
        turned(told) if isinstance(told, PhaseGait) and told.name in joined and told.inverted != over else told
        for told in project.motions
    ]
    return parse_project(document(project.model_copy(update={"motions": tuple(motions)})))


def turned(gait: PhaseGait) -> PhaseGait:
    """On its other side, its pose in the mirror, since the legs are there."""
    values = gait.model_dump(mode="json") | {"inverted": not gait.inverted}
    mirror_pose(values["pose"])
    return PhaseGait.model_validate(values)


def _joined(project: Project, motion: str) -> set[str]:
    groups = [set(named_by(m)) for m in project.motions if isinstance(m, (Transition, Programme, FreeWalk))]
    found, before = {motion}, set[str]()
    while found != before:
        before = found
        found = found.union(*(group for group in groups if group & found))
    return found
