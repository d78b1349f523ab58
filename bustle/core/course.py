"""What happens when a score is followed: poses, solved joints, where every point goes, who is down."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from bustle.core.limbs import Group, Solved, solve
from bustle.core.mass import Entry, centre_of_mass
from bustle.core.score import BodyTrack, Score

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Course:
    """Everything over S samples. Feet, links and centre of mass come from the solved joints, never the targets.

    feet_body_mm, feet_ground_mm, target_ground_mm: (L, S, 3). contact: (L, S). com_ground_mm: (S, 3).
    """

    time_s: Array
    body: BodyTrack
    solved: Solved
    target_ground_mm: Array
    feet_body_mm: Array
    feet_ground_mm: Array
    com_body_mm: Array
    com_ground_mm: Array
    contact: NDArray[np.bool_]


def to_ground(body: BodyTrack, points: Array) -> Array:
    """Body-frame points (..., S, 3) seen from the ground."""
    return np.einsum("sab,...sb->...sa", body.turn, points) + body.at


def follow(score: Score, parts: list[Group], masses: list[Entry], t: Array, before: NDArray[np.bool_]) -> Course:
    """Follow the score at the times t (S,), with the contacts just before an event where `before`."""
    body = score.body(t)
    targets = score.targets(t)
    wanted = np.einsum("sba,lsb->lsa", body.turn, targets - body.at)
    solved = solve(parts, wanted)
    feet = np.stack([points[:, -1] for points in solved.points])
    centre = centre_of_mass(masses, solved)
    return Course(
        time_s=t,
        body=body,
        solved=solved,
        target_ground_mm=targets,
        feet_body_mm=feet,
        feet_ground_mm=to_ground(body, feet),
        com_body_mm=centre,
        com_ground_mm=to_ground(body, centre),
        contact=score.contacts(t, before),
    )
