"""What happens when a score is followed: poses, solved joints, where every point goes, who is down."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.resting_plane import resting_plane
from bustle.core.geometry.serial_chain import turns
from bustle.core.machine import soles as sole
from bustle.core.machine.kit import Kit, kit_of
from bustle.core.machine.limb_groups import needs_aims
from bustle.core.machine.limb_solution import Solved
from bustle.core.machine.limbs_on_soles import end_turn, foot_at, on_its_soles, touching
from bustle.core.machine.masses import centre_of_mass
from bustle.core.machine.section_shape import underside_mm
from bustle.core.machine.sections import Place
from bustle.core.machine.tracks import BodyTrack, to_body, to_ground
from bustle.core.project.project import Project
from bustle.core.project.walker import Walker
from bustle.core.walk.score import Score

# A support on the frame touches the floor from this near.
AHEAD = np.array([1.0, 0.0, 0.0])
TOUCHES_MM = 1.0

# A boom or rail holds the body as feet this far to either side would.
BOOM_MM = 1000.0


@dataclass(frozen=True)
class Implied:
    """Over the N times from one row to the next (N − 1 where the motion has an end): twist (N, 3), what the legs walk
    beyond what was asked, mm/s and rad/s in the travel frame; creep (L, N, 2), how far each standing foot still goes
    over the floor with it, mm; standing (L, N)."""

    twist: Array
    creep: Array
    standing: Flags


@dataclass(frozen=True)
class Course:
    """Everything over S samples. Feet, links and centre of mass come from the solved joints, never the targets.

    feet_body_mm, feet_ground_mm: (L, S, 3), where each foot touches or would touch; print_ground_mm: where it is put,
    which differs for soles that roll; target_ground_mm: (L, S, 3), where it should be put.
    contact: (L, S). stand_mm: (P, S, 2), the points that carry, and stand: (P, S) when they do.
    com_ground_mm: (S, 3). implied: what the legs walk, where the body goes by it and not by what was asked; ends: where
    the travel frame is at the end then, mm, mm, rad.
    """

    time_s: Array
    body: BodyTrack
    solved: Solved
    target_ground_mm: Array
    headings: Array
    feet_ground_mm: Array
    print_ground_mm: Array
    com_body_mm: Array
    com_ground_mm: Array
    contact: Flags
    stand_mm: Array
    stand: Flags
    implied: Implied | None = None
    ends: tuple[float, float, float] | None = None

    @cached_property
    def feet_body_mm(self) -> Array:
        return to_body(self.body, self.feet_ground_mm)


def follow(kit: Kit, score: Score, t: Array, before: Flags) -> Course:
    """Follow the score at the times t (S,), with the contacts just before an event where `before`."""
    walker, assembled = kit.walker, kit.assembled(score.bends_deg, score.held)
    body = score.body(t)
    targets, headings = score.feet_at(t)
    solved, put = _solved(kit, score, body, targets, headings, t)
    feet = touching(walker, body, solved, headings) if kit.rolls else put
    loose = score.on_floor(t, before)
    contact = np.where(
        loose, _lowest(walker, body, solved, headings, feet, loose) <= TOUCHES_MM, score.contacts(t, before)
    )
    centre = centre_of_mass(assembled.weights, solved)
    contact = _on_its_supports(kit, contact, feet, to_ground(body, centre))
    stand, standing = _stand(walker, body, solved, headings, feet, contact)
    if score.may_rest:
        stand, standing = _on_its_belly(walker, body, assembled.sections, solved, stand, standing)
    return Course(
        time_s=t,
        body=body,
        solved=solved,
        target_ground_mm=targets,
        headings=headings,
        feet_ground_mm=feet,
        print_ground_mm=put,
        com_body_mm=centre,
        com_ground_mm=to_ground(body, centre),
        contact=contact,
        stand_mm=stand,
        stand=standing,
    )


def _lowest(walker: Walker, body: BodyTrack, solved: Solved, headings: Array, feet: Array, loose: Flags) -> Array:
    """(L, S) mm: how high the lowest point of each foot is; a broad sole that lies askew touches with an edge."""
    found: Array = feet[..., 2].copy()
    for i, limb in enumerate(walker.limbs):
        if limb.steps and loose[i].any() and not sole.is_tip(limb.feet[0]):
            at, turn = foot_at(limb, i, body, solved), end_turn(limb, i, body, solved, headings)
            found[i] = sole.corners(limb.feet[0], at, turn)[..., 2].min(axis=0)
    return found


def stands_still(kit: Kit, score: Score, course: Course, rows: int) -> Flags:
    """(L, rows): which feet should stand still on the floor."""
    asked = score.planted(course.time_s[:rows])
    return course.contact[:, :rows] & asked & kit.planted[:, None]


def joints_of(project: Project, score: Score, t: Array, lower_mm: Array | float = 0.0) -> Solved:
    """The joints that a score takes at the times t (S,), with every foot lower than it asks by lower_mm (S,)."""
    targets, headings = score.feet_at(t)
    targets[..., 2] -= lower_mm
    return _solved(kit_of(project), score, score.body(t), targets, headings, t)[0]


def _solved(kit: Kit, score: Score, body: BodyTrack, targets: Array, headings: Array, t: Array) -> tuple[Solved, Array]:
    parts = kit.assembled(score.bends_deg, score.held).parts
    aims = np.swapaxes(body.turn, -1, -2) @ _soles_asked(kit.walker, headings) if needs_aims(parts) else None
    given = score.joints(t)
    swung = kit.swung(score.bends_deg, score.held, given)
    return on_its_soles(kit.walker, body, parts, kit.ties, targets, headings, aims, given, swung)


def _on_its_supports(kit: Kit, contact: Flags, feet: Array, centre: Array) -> Flags:
    """A rigid machine rests on feet and supports together: where supports are off the floor that the feet are planned
    on, it settles on to three of them, and rocks on to others before it falls."""
    supports = kit.supports
    if not len(supports) or np.abs(feet[supports, :, 2]).max(initial=0.0) <= TOUCHES_MM:
        return contact
    usable = contact.copy()
    usable[supports] = True
    some = np.flatnonzero(usable.any(axis=1))
    _, rests = resting_plane(feet[some], usable[some], centre[:, :2])
    return np.where(rests, usable, contact)


def _soles_asked(walker: Walker, headings: Array) -> Array:
    """(L, S, 3, 3), ground frame: each sole turned to its heading, and leaned about that as far as asked."""
    lean = np.radians([limb.lean_deg for limb in walker.limbs])
    turned = turns(sole.UP, headings)
    return turned @ turns(AHEAD, lean)[:, None] if lean.any() else turned


def _on_its_belly(
    walker: Walker, body: BodyTrack, places: Mapping[str, Place], solved: Solved, stand: Array, standing: Flags
) -> tuple[Array, Flags]:
    """The rim of the frame's underside carries too where it touches."""
    corners = [solved.carried(s.name, places[s.name].carry(underside_mm(s))) for s in walker.sections]
    points = to_ground(body, np.concatenate(corners))
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
        at = foot_at(limb, i, body, solved)
        corners = sole.corners(limb.feet[0], at, end_turn(limb, i, body, solved, headings))
        points.append(corners[..., :2])
        when.append(sole.down(corners, contact[i]))
    stand, standing = np.concatenate(points), np.concatenate(when)
    if walker.held != "free":
        theta = body.travel[2]
        aside = BOOM_MM * np.stack([-np.sin(theta), np.cos(theta)], axis=-1)
        stand = np.concatenate([stand + aside, stand - aside])
        standing = np.concatenate([standing, standing])
    return stand, standing
