"""A start from standing and a stop into it for a walk that has none: what lives by its timing is not entered at
speed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from bustle.core.document.checked import CheckedProject
from bustle.core.evaluate import evaluate
from bustle.core.kinds.gaits import CUSTOM
from bustle.core.project.motion import Motion, PhaseGait, Swings, Transition, Twist
from bustle.core.project.project import fresh_name
from bustle.core.starting.timed_walks import (
    POSES_S,
    of_walk,
    sound_ends,
    start_and_stop,
    swung_from_and_to_rest,
    with_motions,
)
from bustle.core.walk.motions.own_ends import at_speed, own_ends
from bustle.core.words.problems import refuse


@dataclass(frozen=True)
class OwnEnds:
    """added: the motions that are new; stops: what stops which of them, a sentence each."""

    project: CheckedProject
    added: tuple[str, ...]
    stops: tuple[str, ...]


def with_own_ends(project: CheckedProject, motion: str) -> OwnEnds:
    """What is missing of both, from the pose it stands in, else from the walk's own with every foot down and without
    sway. Raises InputRefused where nothing is missing."""
    walk = project.motion(motion)
    if motion not in at_speed(project):
        raise refuse("motion", f"{motion} has a start and a stop of its own, or may be begun anywhere")
    added: list[Motion] = []
    if isinstance(walk, Swings):
        ends: Sequence[Swings | Transition] = swung_from_and_to_rest(walk, of_walk(motion))
    else:
        assert isinstance(walk, PhaseGait)
        stand = next((m for m in project.motions if isinstance(m, PhaseGait) and m.stands), None)
        if stand is None:
            stand = _standing_in(walk, fresh_name(project, "Stand"))
            added.append(stand)
        ends = sound_ends(project, walk, stand, of_walk(motion)) or start_and_stop(
            walk, stand, of_walk(motion), POSES_S[0]
        )
    for end, own in zip(ends, own_ends(project, walk), strict=True):
        if own is None:
            added.append(end.model_copy(update={"name": fresh_name(project, end.name)}))
    made = with_motions(project, [*project.motions, *added])
    stops = [
        f"{one.name}: {finding.message}"
        for one in added
        for finding in evaluate(made, one.name).findings
        if finding.severity == "stop"
    ]
    return OwnEnds(made, tuple(one.name for one in added), tuple(stops))


def _standing_in(walk: PhaseGait, name: str) -> PhaseGait:
    legs = tuple(leg.model_copy(update={"phase": 0.0, "duty": 1.0}) for leg in walk.legs)
    pose = walk.pose.model_copy(update={"sway": ()})
    return walk.model_copy(
        update={
            "name": name, "gait": CUSTOM, "legs": legs, "pose": pose, "twist": Twist(), "pauses": (),
            "moves_of_arms": (), "balance": "static", "travel": "asked",
        }
    )  # fmt: skip
