"""The kinds of motion: each compiles to a score. A new kind is one file here and one line in this registry."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from bustle.core.project.motion import Motion
from bustle.core.project.project import Project
from bustle.core.walk.motions.free_walk import compile_free_walk
from bustle.core.walk.motions.joint_pose import compile_pose
from bustle.core.walk.motions.keyframes import compile_keyframes
from bustle.core.walk.motions.phase_gait import compile_gait
from bustle.core.walk.motions.programme import compile_programme
from bustle.core.walk.motions.swings import compile_swings
from bustle.core.walk.motions.transition import compile_transition
from bustle.core.walk.score import Score

COMPILERS: dict[str, Callable[[Project, Any], Score]] = {
    "phase_gait": compile_gait,
    "joint_pose": compile_pose,
    "keyframes": compile_keyframes,
    "transition": compile_transition,
    "programme": compile_programme,
    "free_walk": compile_free_walk,
    "swings": compile_swings,
}


def compile_motion(project: Project, motion: Motion) -> Score:
    """Motion → Score: what is asked of the feet and the body."""
    return COMPILERS[motion.kind](project, motion)
