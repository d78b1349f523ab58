"""A motion's own start from standing and its own stop, among the motions of its project."""

from __future__ import annotations

from bustle.core.project.motion import Motion, PhaseGait, Swings, Transition
from bustle.core.project.project import Project


def own_ends(project: Project, motion: Motion) -> tuple[str | None, str | None]:
    """The motion that sets it going from standing, and the one that brings it to a stand; None where there is none."""
    if isinstance(motion, Swings):
        alike = [m for m in project.motions if isinstance(m, Swings) and set(m.joints) == set(motion.joints)]
        before, after = ([m.name for m in alike if m.goes == goes] for goes in ("from_rest", "to_rest"))
    else:
        standing = {m.name for m in project.motions if isinstance(m, PhaseGait) and m.stands}
        around = [m for m in project.motions if isinstance(m, Transition)]
        before = [m.name for m in around if m.end.motion == motion.name and m.start.motion in standing]
        after = [m.name for m in around if m.start.motion == motion.name and m.end.motion in standing]
    return next(iter(before), None), next(iter(after), None)


def in_order(project: Project, motion: str) -> tuple[str, ...]:
    """A motion between its own start and its own stop, as far as the project has them."""
    walk = project.motion(motion)
    if isinstance(walk, Swings) and walk.goes != "on":
        return (motion,)
    start, stop = own_ends(project, walk)
    return tuple(name for name in (start, motion, stop) if name)


def at_speed(project: Project) -> dict[str, str]:
    """Of every walk that lives by its timing and has no start or no stop of its own: what its builder has to do."""
    found = {}
    for motion in project.motions:
        lives = isinstance(motion, PhaseGait) and motion.balance == "dynamic" and not motion.stands
        if lives or (isinstance(motion, Swings) and motion.goes == "on"):
            start, stop = own_ends(project, motion)
            missing = [verb for verb, own in (("enter", start), ("leave", stop)) if own is None]
            if missing:
                found[motion.name] = f"{' and '.join(missing)} at speed"
    return found
