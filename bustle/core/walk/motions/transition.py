"""From one motion into another: by way of standing, or at a walk where the one flows into the other."""

from __future__ import annotations

from bustle.core.project.motion import JointPose, Keyframes, PhaseGait, Swings, Transition
from bustle.core.project.project import Project
from bustle.core.walk.motions.from_rest_to_rest import apart, coming_to_rest, flowing, flows_into, setting_out
from bustle.core.walk.motions.motions_in_a_row import Row, usual_gait
from bustle.core.walk.scores_in_a_row import Chained
from bustle.core.words.wording import joined


def compile_transition(project: Project, asked: Transition) -> Chained:
    """The walk comes to rest, the pose changes, the other motion starts; or it takes up the other's twist."""
    row = Row(project, asked.pose_s)
    start, end = project.motion(asked.start.motion), project.motion(asked.end.motion)
    why = ""
    if asked.flows and isinstance(start, PhaseGait) and isinstance(end, PhaseGait):
        if flows_into(start, end):
            row.add(asked.name, flowing(project, start, asked.start.phase, end, asked.end.phase))
            return row.whole()
        if not start.stands and not end.stands:
            why = f" ({joined(apart(start, end))} not alike)"
    ways = [m for m in (start, end) if isinstance(m, PhaseGait)]
    usual = ways[0] if ways else usual_gait(project)
    if isinstance(start, PhaseGait):
        row.add(f"{start.name} to rest{why}", coming_to_rest(project, start, asked.start.phase))
        row.pose, row.gait = start.pose, start
    elif isinstance(start, JointPose):
        row.to_joints(start, usual)
    elif isinstance(start, Keyframes):
        row.stands_in(start, 0)
    elif isinstance(start, Swings):
        row.swing_to_rest(start)
    if isinstance(end, PhaseGait):
        row.to_pose(end)
        row.add(f"Into {end.name}", setting_out(project, end, asked.end.phase))
    elif isinstance(end, JointPose):
        row.to_joints(end, usual)
    elif isinstance(end, Keyframes):
        row.to_frames(end, usual)
    elif isinstance(end, Swings):
        row.swing_from_rest(end, usual)
    if not row.lasts:
        # One pose into the same: nothing moves.
        row.hold(asked.name, asked.pose_s, usual)
    return row.whole()
