"""What a motion takes over from those it is made of: whether it may be stopped at any instant, which way up it goes."""

from __future__ import annotations

from bustle.core.project.motion import (
    Balance,
    FreeWalk,
    JointPose,
    Keyframes,
    Motion,
    PhaseGait,
    Programme,
    Swings,
    Transition,
    named_by,
)
from bustle.core.project.project import Project


def balance_of(project: Project, motion: Motion) -> Balance:
    """A motion made of others is static where all of them are; keyframes where they are to be judged."""
    if isinstance(motion, PhaseGait):
        return motion.balance
    if isinstance(motion, Keyframes):
        return "static" if motion.judged else "dynamic"
    if isinstance(motion, (JointPose, FreeWalk)):
        return "static"
    if isinstance(motion, Swings):
        return "dynamic"
    static = all(balance_of(project, project.motion(n)) == "static" for n in named_by(motion))
    return "static" if static else "dynamic"


def has_swings(project: Project, motion: Motion) -> bool:
    """Whether joints swing in it, as they are given."""
    if isinstance(motion, (Transition, Programme)):
        return any(has_swings(project, project.motion(name)) for name in named_by(motion))
    return isinstance(motion, Swings)


def upside_down(project: Project, motion: Motion) -> bool:
    """Whether the walker goes on the feet of its upper side; what is made of others goes as they do."""
    if isinstance(motion, PhaseGait):
        return motion.inverted
    if isinstance(motion, (JointPose, Keyframes, Swings)):
        return False
    return any(upside_down(project, project.motion(name)) for name in named_by(motion))
