"""The kinds of motion: each compiles to a score. A new kind is one file here and one line in this registry."""

from __future__ import annotations

from collections.abc import Callable

from bustle.core.motion import Motion
from bustle.core.motions import phase_gait
from bustle.core.project import Project
from bustle.core.score import Score

KINDS: dict[str, Callable[[Project, Motion], Score]] = {"phase_gait": phase_gait.compile_motion}


def compile_motion(project: Project, motion: Motion) -> Score:
    """Motion → Score: what is asked of the feet and the body."""
    return KINDS[motion.kind](project, motion)
