"""Whether a motion may be stopped at any instant, or lives by its timing."""

from __future__ import annotations

from bustle.core.motion import Balance, FreeWalk, JointPose, Keyframes, Motion, PhaseGait, Transition
from bustle.core.project import Project


def balance_of(project: Project, motion: Motion) -> Balance:
    """A motion made of others is static where all of them are; keyframes where they are to be judged."""
    if isinstance(motion, PhaseGait):
        return motion.balance
    if isinstance(motion, Keyframes):
        return "static" if motion.judged else "dynamic"
    if isinstance(motion, (JointPose, FreeWalk)):
        return "static"
    named = (
        [motion.start.motion, motion.end.motion] if isinstance(motion, Transition) else [p.motion for p in motion.parts]
    )
    return "static" if all(balance_of(project, project.motion(n)) == "static" for n in named) else "dynamic"
