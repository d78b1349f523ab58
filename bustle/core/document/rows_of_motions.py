"""How many rows motions come to, counted from what the document says, before anything is compiled."""

from __future__ import annotations

from collections.abc import Iterator

from bustle.core.project.motion import FreeWalk, JointPose, Keyframes, Motion, PhaseGait, Portion, Programme, Swings
from bustle.core.project.project import MAX_ROWS, Project

# Of one motion made of others, and of all motions of a project together.
MAX_ROWS_IN_A_ROW = 20_000
MAX_ROWS_OF_ALL = 200_000

# So many frames may a programme play, however short they are.
MAX_FRAMES_PLAYED = 2_000


def rows_at_least(project: Project, motion: Motion) -> float:
    """No motion has fewer rows than this."""
    return _seconds(project, motion) * 1000 / project.controller.frame_period_ms


def _seconds(project: Project, motion: Motion) -> float:
    if isinstance(motion, PhaseGait):
        return motion.cycle_s + sum(p.hold_s for p in motion.pauses) if motion.pauses else motion.cycle_s
    if isinstance(motion, Swings):
        return motion.cycle_s
    if isinstance(motion, Keyframes):
        return sum(f.move_s + f.hold_s for f in motion.frames[0 if motion.repeats else 1 :])
    if isinstance(motion, Programme):
        return sum(_portion_s(project, part) for part in motion.parts)
    return motion.takes_s if isinstance(motion, FreeWalk) else 0.0


def _portion_s(project: Project, part: Portion) -> float:
    motion = next((m for m in project.motions if m.name == part.motion), None)
    if part.by == "seconds" or isinstance(motion, JointPose):
        return part.amount
    if isinstance(motion, (Keyframes, Swings)):
        return max(1, round(part.amount)) * _seconds(project, motion)
    if not isinstance(motion, PhaseGait):
        return 0.0
    if part.by == "cycles":
        return part.amount * _seconds(project, motion)
    twist = motion.twist
    rate = abs(twist.omega_deg_s) if part.by == "turn_deg" else (twist.vx_mm_s**2 + twist.vy_mm_s**2) ** 0.5
    return part.amount / rate if rate else 0.0


def too_many_rows(project: Project, index: int) -> Iterator[tuple[str, str]]:
    """Field path and sentence of a motion with more rows than a table has."""
    motion, path = project.motions[index], f"motions[{index}]"
    rows = rows_at_least(project, motion)
    if isinstance(motion, Programme):
        if rows > MAX_ROWS_IN_A_ROW:
            yield f"{path}.parts", f"make {rows:.0f} rows; motions in a row have at most {MAX_ROWS_IN_A_ROW}"
        sets = {m.name: len(m.frames) for m in project.motions if isinstance(m, Keyframes)}
        played = sum(max(1, round(p.amount)) * sets[p.motion] for p in motion.parts if p.motion in sets)
        if played > MAX_FRAMES_PLAYED:
            yield f"{path}.parts", f"play {played} frames; motions in a row play at most {MAX_FRAMES_PLAYED}"
    elif rows > MAX_ROWS:
        period = project.controller.frame_period_ms
        field = {"phase_gait": "cycle_s", "swings": "cycle_s", "free_walk": "takes_s"}.get(motion.kind, "frames")
        yield f"{path}.{field}", f"makes {rows:.0f} rows of {period:g} ms; a table has at most {MAX_ROWS}"


def too_many_rows_in_all(project: Project) -> Iterator[tuple[str, str]]:
    total = sum(rows_at_least(project, motion) for motion in project.motions)
    if total > MAX_ROWS_OF_ALL:
        yield "motions", f"make {total:.0f} rows together; a project has at most {MAX_ROWS_OF_ALL}"
