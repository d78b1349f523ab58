"""What happens when a score is followed: poses, solved joints, where every point goes, who is down."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.serial_chain import rotated, turns
from bustle.core.machine import soles as sole
from bustle.core.machine.limb_groups import Group, Solved, groups, needs_aims, solve
from bustle.core.machine.masses import Entry, centre_of_mass
from bustle.core.machine.sections import section_places
from bustle.core.machine.shared_servo_legs import ties
from bustle.core.project.project import Project
from bustle.core.project.walker import Limb, Walker
from bustle.core.walk.score import BodyTrack, JointTrack, Score

# A support on the frame touches the floor from this near.
TOUCHES_MM = 1.0

# A curved sole shifts its contact as the leg leans; the end of the leg is set right this often.
ROLLS = 12

# A boom or rail holds the body as feet this far to either side would.
BOOM_MM = 1000.0


@dataclass(frozen=True)
class Course:
    """Everything over S samples. Feet, links and centre of mass come from the solved joints, never the targets.

    feet_body_mm, feet_ground_mm: (L, S, 3), where each foot touches or would touch; target_ground_mm: (L, S, 3).
    contact: (L, S). stand_mm: (P, S, 2), the points that carry, and stand: (P, S) when they do.
    com_ground_mm: (S, 3).
    """

    time_s: Array
    body: BodyTrack
    solved: Solved
    target_ground_mm: Array
    headings: Array
    feet_body_mm: Array
    feet_ground_mm: Array
    com_body_mm: Array
    com_ground_mm: Array
    contact: Flags
    stand_mm: Array
    stand: Flags


def to_ground(body: BodyTrack, points: Array) -> Array:
    """Body-frame points (..., S, 3) seen from the ground."""
    return rotated(body.turn, points) + body.at


def to_body(body: BodyTrack, points: Array) -> Array:
    """Ground points (..., S, 3) seen from the body frame."""
    return rotated(np.swapaxes(body.turn, -1, -2), points - body.at)


def follow(walker: Walker, score: Score, parts: list[Group], masses: list[Entry], t: Array, before: Flags) -> Course:
    """Follow the score at the times t (S,), with the contacts just before an event where `before`."""
    body = score.body(t)
    targets, headings = score.targets(t), score.headings(t)
    aims = None
    if needs_aims(parts):
        aims = np.swapaxes(body.turn, -1, -2) @ turns(sole.UP, headings)
    solved, feet = _on_its_soles(walker, body, parts, targets, headings, aims, score.joints(t))
    loose = score.on_floor(t)
    contact = np.where(loose, feet[..., 2] <= TOUCHES_MM, score.contacts(t, before))
    stand, standing = _stand(walker, body, solved, headings, feet, contact)
    if score.may_rest:
        stand, standing = _on_its_belly(walker, body, score.bends_deg, stand, standing)
    centre = centre_of_mass(masses, solved)
    return Course(
        time_s=t,
        body=body,
        solved=solved,
        target_ground_mm=targets,
        headings=headings,
        feet_body_mm=to_body(body, feet),
        feet_ground_mm=feet,
        com_body_mm=centre,
        com_ground_mm=to_ground(body, centre),
        contact=contact,
        stand_mm=stand,
        stand=standing,
    )


def _on_its_soles(
    walker: Walker,
    body: BodyTrack,
    parts: list[Group],
    targets: Array,
    headings: Array,
    aims: Array | None,
    given: JointTrack | None,
) -> tuple[Solved, Array]:
    """Solve for the ends of the legs so that what touches is where it should be."""
    ends = targets.copy()
    for i, limb in enumerate(walker.limbs):
        if limb.steps:
            ends[i, :, 2] += sole.height_mm(limb)
    curved = [i for i, limb in enumerate(walker.limbs) if limb.steps and sole.off_its_end(limb)]
    tied = ties(walker)
    solved = solve(parts, tied, to_body(body, ends), aims, given)
    feet = _touching(walker, body, solved, headings)
    step = (targets - feet)[curved]
    for _ in range(ROLLS if curved else 0):
        ends[curved] += step
        before = feet[curved]
        solved = solve(parts, tied, to_body(body, ends), aims, given)
        feet = _touching(walker, body, solved, headings)
        # Secant, coordinate by coordinate: how far the contact followed the end of the leg.
        followed = feet[curved] - before
        rate = np.where(np.abs(followed) > 1e-9, step / np.where(followed == 0.0, 1.0, followed), 1.0)
        step = np.clip(rate, 0.2, 2.0) * (targets - feet)[curved]
    return solved, feet


def joints_of(project: Project, score: Score, t: Array, lower_mm: Array | float = 0.0) -> Solved:
    """The joints that a score takes at the times t (S,), with every foot lower than it asks by lower_mm (S,)."""
    walker = project.walker
    parts = groups(walker, dict(score.bends_deg), score.held)
    body, headings = score.body(t), score.headings(t)
    aims = np.swapaxes(body.turn, -1, -2) @ turns(sole.UP, headings) if needs_aims(parts) else None
    targets = score.targets(t)
    targets[..., 2] -= lower_mm
    return _on_its_soles(walker, body, parts, targets, headings, aims, score.joints(t))[0]


def _end_turn(limb: Limb, i: int, body: BodyTrack, solved: Solved, headings: Array) -> Array:
    return sole.sole_turn(limb, body.turn @ solved.end_turns(i), headings[i])


def _touching(walker: Walker, body: BodyTrack, solved: Solved, headings: Array) -> Array:
    """(L, S, 3) mm in the ground frame: each foot's contact, the end of the limb where it has none."""
    ends = np.stack([to_ground(body, points[:, -1]) for points in solved.points])
    for i, limb in enumerate(walker.limbs):
        if limb.feet and not sole.is_tip(limb.feet[0]):
            ends[i] = sole.touching(limb.feet[0], ends[i], _end_turn(limb, i, body, solved, headings))
    return ends


def _on_its_belly(
    walker: Walker, body: BodyTrack, bends_deg: Mapping[str, float], stand: Array, standing: Flags
) -> tuple[Array, Flags]:
    """The corners of the frame's underside carry too where they touch."""
    places = section_places(walker, dict(bends_deg))
    signs = np.array([(1, 1, -1), (-1, 1, -1), (-1, -1, -1), (1, -1, -1)])
    corners = np.concatenate([places[s.name].carry(signs * np.array(s.size_mm) / 2) for s in walker.sections])
    points = to_ground(body, np.broadcast_to(corners[:, None], (len(corners), len(body.at), 3)))
    return np.concatenate([stand, points[..., :2]]), np.concatenate([standing, points[..., 2] <= TOUCHES_MM])


def _stand(
    walker: Walker, body: BodyTrack, solved: Solved, headings: Array, feet: Array, contact: Flags
) -> tuple[Array, Flags]:
    """The points the walker stands on, corners of soles included, and when."""
    points, when = [], []
    for i, limb in enumerate(walker.limbs):
        if not limb.feet:
            continue
        if sole.is_tip(limb.feet[0]):
            points.append(feet[i, None, :, :2])
            when.append(contact[i, None])
            continue
        end = to_ground(body, solved.points[i][:, -1])
        corners = sole.corners(limb.feet[0], end, _end_turn(limb, i, body, solved, headings))
        points.append(corners[..., :2])
        when.append(sole.down(corners, contact[i]))
    stand, standing = np.concatenate(points), np.concatenate(when)
    if walker.held != "free":
        theta = body.travel[2]
        aside = BOOM_MM * np.stack([-np.sin(theta), np.cos(theta)], axis=-1)
        stand = np.concatenate([stand + aside, stand - aside])
        standing = np.concatenate([standing, standing])
    return stand, standing
