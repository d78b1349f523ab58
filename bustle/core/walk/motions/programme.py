"""Motions in a row, each as far or as long as asked: from rest to rest, or walks flowing into each other."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache

from bustle.core.project.motion import JointPose, Keyframes, PhaseGait, Portion, Programme, Swings
from bustle.core.project.project import Project
from bustle.core.walk.motions.from_rest_to_rest import apart, flows_into, walked
from bustle.core.walk.motions.motions_in_a_row import Row, usual_gait
from bustle.core.walk.motions.own_way import cycles_of
from bustle.core.walk.score import Score
from bustle.core.walk.scores_in_a_row import Chained
from bustle.core.words.wording import joined


def compile_programme(project: Project, programme: Programme) -> Chained:
    row = Row(project, programme.pose_s)
    usual = usual_gait(project)

    @cache
    def outing(*ways: tuple[str, float]) -> Score:
        return walked(project, [(_gait(project, name), cycles) for name, cycles in ways])

    for (part, *more), why in _together(project, programme):
        motion = project.motion(part.motion)
        if isinstance(motion, PhaseGait):
            row.to_pose(motion)
            if motion.stands:
                row.hold(motion.name, seconds_of(motion, part), motion)
            else:
                last = len(more)
                ways = [
                    (p.motion, cycles_of(project, _gait(project, p.motion), p.amount, p.by, (k == 0) + (k == last)))
                    for k, p in enumerate((part, *more))
                ]
                row.add(", ".join(name for name, _ in ways) + why, outing(*ways))
            usual = motion
        elif isinstance(motion, JointPose):
            row.to_joints(motion, usual)
            row.hold(motion.name, part.amount, usual)
        elif isinstance(motion, Keyframes):
            for _ in range(max(1, round(part.amount))):
                row.to_frames(motion, usual)
                row.play(motion)
        elif isinstance(motion, Swings):
            row.swing_from_rest(motion, usual)
            row.swing(motion, swings_of(motion, part))
            row.swing_to_rest(motion)
    return row.whole()


def _gait(project: Project, name: str) -> PhaseGait:
    gait = project.motion(name)
    assert isinstance(gait, PhaseGait)
    return gait


def _together(project: Project, programme: Programme) -> Iterator[tuple[list[Portion], str]]:
    """The parts, those in one list that are walked without coming to rest between them; and why a walk after another
    begins from rest though it was to flow."""
    run, why = [programme.parts[0]], ""
    for part in programme.parts[1:]:
        before, motion = project.motion(run[-1].motion), project.motion(part.motion)
        because = ""
        if programme.flows and isinstance(before, PhaseGait) and isinstance(motion, PhaseGait):
            if flows_into(before, motion):
                run.append(part)
                continue
            if not before.stands and not motion.stands:
                because = f" (from rest: {joined(apart(before, motion))} not alike)"
        yield run, why
        run, why = [part], because
    yield run, why


def swings_of(swings: Swings, part: Portion) -> int:
    """How many whole cycles of its swings, beside those into them and to rest."""
    return max(1, round(part.amount / swings.cycle_s if part.by == "seconds" else part.amount))


def seconds_of(gait: PhaseGait, part: Portion) -> float:
    return part.amount if part.by == "seconds" else part.amount * gait.cycle_s
