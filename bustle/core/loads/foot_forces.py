"""What each foot carries and pushes.

Vertical parts are shared by stiffness among what stands and never pull; parts along the floor are those with the least
Σ h²/z, so that every foot needs about as much grip: an assumption, since the floor and the servos' give decide. A foot
takes its load over, and gives it up, by the smooth step within its stance.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.compiled import FLAG, compiled_for, flags
from bustle.core.geometry.easing import quintic
from bustle.core.geometry.shared_load import BALANCED, pressed, pushed
from bustle.core.loads.dragged_feet import dragged
from bustle.core.loads.foot_gives import besides_mm_per_n, foot_gives
from bustle.core.loads.inertial_wrenches import Wrenches, held_still, wrenches
from bustle.core.machine import soles as sole
from bustle.core.machine.limbs_on_soles import end_turn, foot_at
from bustle.core.walk.reading import Reading, waits_for_rest
from bustle.core.walk.wheels import axles

# A foot takes its load over in so many rows and so long, at least.
ROWS, HAND_OVER_S = 3, 0.06
# Supports within it stand on the floor of the feet.
LEVEL_MM = 1e-9


@dataclass(frozen=True)
class FootForces:
    """points (P, N, 3) m, ground frame: everything that may carry, corners of soles each; limb (P,) whose they are.
    forces (P, N, 3) N on the machine. unbalanced (N, 3): N, N·m, N·m that nothing holds."""

    points: Array
    limb: Array
    forces: Array
    unbalanced: Array

    def of_limb(self, limb: int) -> Array:
        """(N, 3) N: what the floor does to a limb."""
        return self.by_limb[limb] if limb < len(self.by_limb) else np.zeros(self.forces.shape[1:])

    @cached_property
    def by_limb(self) -> Array:
        """(L, N, 3), of as many limbs as have points."""
        points, rows, _ = self.forces.shape
        own = (self.limb == np.arange(self.limb.max(initial=-1) + 1)[:, None]).astype(float)
        found: Array = (own @ self.forces.reshape(points, -1)).reshape(-1, rows, 3)
        return found

    @cached_property
    def unbalanced_nm(self) -> Array:
        """(N,) N·m: the moment that the feet leave over, as they cannot pull."""
        found: Array = np.hypot(self.unbalanced[:, 1], self.unbalanced[:, 2])
        return found

    def balanced(self, weight_n: float) -> Flags:
        """(N,)"""
        near = np.abs(self.unbalanced) <= 1e-6 * max(weight_n, 1.0) + BALANCED
        return np.asarray(near.all(axis=1), dtype=bool)


@waits_for_rest
def foot_forces(r: Reading) -> FootForces:
    """As the machine is planned to move."""
    return _forces(r, r.of(wrenches), r.of(dragged))


@waits_for_rest
def standing_forces(r: Reading) -> FootForces:
    """As if it were frozen at each row."""
    return _forces(r, r.of(held_still))


def _forces(r: Reading, taken: Wrenches, drags: tuple[Array, Array] | None = None) -> FootForces:
    points, limb, stiffness = r.of(contact_points)
    gaps = r.of(support_gaps)
    load = np.empty((len(taken.force), 3))
    load[:, 0], load[:, 1:] = taken.force[:, 2], taken.moment[:, :2]
    up, left = pressed(points[..., :2], stiffness, load, None if gaps is None else gaps[limb])
    # What is pushed along the floor at height 0 has no part in the moments about x and y.
    along = np.empty_like(load)
    along[:, :2], along[:, 2] = taken.force[:, :2], taken.moment[:, 2]
    if r.project.walker.held != "free":
        # A boom or a rail takes the sideways push and the turning.
        along = along * np.array([1.0, 0.0, 0.0])
    # What slides or rolls every way pushes nothing; a wheel along its axle alone.
    holds, only = r.kit.planted[limb][:, None].astype(float), None
    for member, axle in r.of(axles).items():
        own = limb == member
        only = np.zeros((*points.shape[:2], 2)) if only is None else only
        holds, only[own] = np.where(own[:, None], 1.0, holds), axle / np.linalg.norm(axle, axis=1)[:, None]
    forces = np.zeros(points.shape)
    forces[..., 2] = up
    if drags:
        forces[..., :2] = drags[0][limb] * (up * holds)[..., None]
        holds = holds * (1.0 - drags[1][limb])
        along = along - _along(points, forces)
    forces[..., :2] += pushed(points[..., :2], up * holds, along, only)
    return FootForces(points, limb, forces, left)


def _along(points: Array, push: Array) -> Array:
    """(N, 3): what pushes (P, N, 2) come to, along x and y, and about the upright through the origin."""
    x, y = push[..., 0], push[..., 1]
    about = points[..., 0] * y - points[..., 1] * x
    return np.stack([x.sum(axis=0), y.sum(axis=0), about.sum(axis=0)], axis=1)


def contact_points(r: Reading) -> tuple[Array, Array, Array]:
    """Points (P, N, 3) m on the floor that may carry, whose limb's they are (P,), and how stiff each is (P, N), N/mm,
    times how far its foot has taken its load over; 0 where it does not stand."""
    n, course = r.samples, r.course
    soft, taken = r.of(foot_gives), r.of(taken_over)
    points, limbs, stiff = [np.zeros((0, n, 3))], [], [np.zeros((0, n))]
    for i, limb in enumerate(r.project.walker.limbs):
        if not limb.feet:
            continue
        give = soft[i] if i in soft else besides_mm_per_n(r, i)
        at, stands = course.feet_ground_mm[i, None, :n], taken[i, None] / give
        if not sole.is_tip(limb.feet[0]):
            foot = foot_at(limb, i, course.body, course.solved)
            corners = sole.corners(limb.feet[0], foot, end_turn(limb, i, course.body, course.solved, course.headings))
            at, stands = corners[:, :n], sole.down(corners, course.contact[i])[:, :n] * stands / len(corners)
        points.append(at)
        stiff.append(stands)
        limbs += [i] * len(at)
    placed = np.concatenate(points) / 1000
    placed[..., 2] = 0.0
    return placed, np.array(limbs, dtype=np.intp), np.concatenate(stiff)


def support_gaps(r: Reading) -> Array | None:
    """(L, N) mm: how high casters, wheels and skids hang over the floor that the feet are planned on, 0 of whatever is
    none; None where the machine has none or all stand on it."""
    found = np.zeros((len(r.project.walker.limbs), r.samples))
    found[r.kit.supports] = r.course.feet_ground_mm[r.kit.supports, : r.samples, 2]
    return found if np.abs(found).max(initial=0.0) > LEVEL_MM else None


def taken_over(r: Reading) -> Array:
    """(L, N) 0 … 1: how far into its stance each foot is at each row, from both ends."""
    stands = r.course.contact[:, : r.samples]
    rows = max(ROWS, int(np.ceil(HAND_OVER_S / r.row_s)))
    since, until = (rows_since(way, r.score.periodic) for way in (stands, stands[:, ::-1]))
    # No stance is so short that it carries nothing.
    share = np.minimum(since, until[:, ::-1]) / rows
    return np.where(stands, quintic(np.clip(share, 0.05, 1.0)), 0.0)


@compiled_for(flags(2), FLAG)
def rows_since(stands: Flags, round_and_round: bool) -> Array:
    """Of each foot (L, N), for each row, how many rows ago its stance began, counted from ½; of one that never does,
    very many."""
    limbs, rows = stands.shape
    found = np.empty((limbs, rows))
    for n in range(limbs):
        since = 10.0 * rows
        for row in range(-rows if round_and_round else 0, rows):
            at = row if row >= 0 else row + rows
            since = min(since + 1.0, 10.0 * rows) if stands[n, at] else -0.5
            found[n, at] = since
    return found
