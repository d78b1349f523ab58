"""Feet that stand, as springs: how each presses the frame as the frame moves.

With s the servos (stiffness K each), d and θ the frame's small shift and turn about the centre of mass, p a point of a
foot that stands, L = ∂p/∂s and Q what the links' own weight does to the servos, the foot stays where it is:
    d + θ × p + L·K⁻¹·(Lᵀ·f + Q) = 0.
A tip that the floor does not hold sideways slides on: it is that much looser there. Every point adds a little give of
its own, so that soles with several have one answer. A movement that nothing holds (rocking about the line of two point
feet, rolling on casters alone) is no give: of the six, those are taken that the feet hold, by the eigenvectors of their
stiffness, turns told by how far they move a foot. Small angles. Source: the stiffness of parallel mechanisms, in any
text on them.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices, skew
from bustle.core.loads.by_servo import by_hinges, by_joints, own_servos
from bustle.core.loads.foot_forces import contact_points
from bustle.core.loads.foot_gives import said_mm_per_n, servo_stiffness
from bustle.core.loads.friction import held_along
from bustle.core.loads.inertial_wrenches import held_by_joints, held_still, laid
from bustle.core.walk.reading import Reading

# The give of a point on the floor itself, m a newton; of a point that does not stand, so much that it carries nothing.
FIRM, NONE = 1e-8, 1e5
# A movement that the feet hold less than this, N a metre, is held by none: more than points that do not stand come to.
HELD = 0.01
LEAST = 1e-12
SIDEWAYS = np.diag([1.0, 1.0, 0.0])
# What feet give follows how they stand, which changes little from row to row: of seven shapes 0.004 mm and 0.003° at
# most lay between so many and all.
MOST_ROWS = 48


@dataclass(frozen=True)
class Springs:
    """Of L limbs with P points each, members (L,), at N rows: pressing (L, N, 6, 3P), what they press the frame with as
    points move; moves (L, N, 3P, 6), where they go as the frame does; by_weight (L, N, 3P) m, as the links' weight lets
    them."""

    members: Indices
    pressing: Array
    moves: Array
    by_weight: Array


def springs(r: Reading, rows: Indices) -> Iterator[Springs]:
    """Limbs of a group with as many points together."""
    points, limbs, stands = r.of(contact_points)
    points, stands = points[:, rows], stands[:, rows]
    for number, group in enumerate(r.assembled.parts):
        counts = (limbs[:, None] == group.members).sum(axis=0)
        for count in np.unique(counts[counts > 0]).tolist():
            alike = np.flatnonzero(counts == count)
            own = np.stack([np.flatnonzero(limbs == member) for member in group.members[alike]])
            pressed = _pressing(r, number, alike, rows, points[own].swapaxes(1, 2), stands[own].swapaxes(1, 2) > 0)
            yield Springs(group.members[alike], *pressed)


def looked_at(down: Flags) -> Indices:
    """Rows at which what feet give is worked out, evenly apart, and on both sides of each touchdown and lift-off;
    between them it goes straight on. down: (L, N)."""
    samples = down.shape[1]
    evenly = np.linspace(0, samples - 1, min(samples, MOST_ROWS)).round().astype(np.intp)
    changes = np.flatnonzero((down[:, 1:] != down[:, :-1]).any(axis=0))
    return np.unique(np.concatenate([evenly, changes, changes + 1]))


def far_m(r: Reading, rows: Indices) -> Array:
    """(N,) m: how far from the centre of mass the feet are, by and large."""
    points, centre = r.of(contact_points)[0][:, rows], r.of(held_still).centre[rows]
    found: Array = np.sqrt(np.square(points - centre).sum(axis=-1).mean(axis=0))
    return found


def where_held(square: Array, far: Array) -> Array:
    """(N, 6, 6): how the frame goes by what presses it, of its stiffness (N, 6, 6), symmetric; far (N,) as `far_m`.
    Movements that are held by less than `HELD` are left out."""
    scale = np.ones(square.shape[:2])
    scale[:, 3:] = 1.0 / np.maximum(far, LEAST)[:, None]
    stiffness, ways = np.linalg.eigh(square * scale[:, :, None] * scale[:, None, :])
    held = stiffness > HELD
    gives = np.where(held, 1.0 / np.where(held, stiffness, 1.0), 0.0)
    found: Array = scale[:, :, None] * ((ways * gives[:, None]) @ ways.swapaxes(1, 2)) * scale[:, None]
    return found


def _pressing(
    r: Reading, number: int, alike: Indices, rows: Indices, points: Array, stands: Flags
) -> tuple[Array, Array, Array]:
    """Of L limbs of a group with P points (L, N, P, 3) each: (L, N, 6, 3P), what they press the frame with as points
    move; (L, N, 3P, 6), where they go as the frame does; (L, N, 3P) m, as the links' weight lets them."""
    limbs, n, count = points.shape[:3]
    members = r.assembled.parts[number].members[alike].tolist()
    reach, weighs, stiff = _levers_of(r, number, alike, rows, points)
    give = reach / stiff[:, None, None]
    said = np.array([said_mm_per_n(r, member) for member in members])[:, None, None]
    loose = np.where(stands, FIRM + said / 1000 / count, NONE)[..., None].repeat(3, axis=3)
    for row, member in enumerate(members):
        limb = r.project.walker.limbs[member]
        if limb.passive and limb.feet[0].contact.kind == "rolls":
            loose[row, ..., :2] = NONE
    compliance = give @ reach.swapaxes(2, 3) + loose.reshape(limbs, n, -1)[..., None] * np.eye(3 * count)
    if count == 1:
        compliance += _slides(compliance, held_along(r))[..., None, None] * SIDEWAYS
    # The six movements of the frame at each point: shift, and turn × place.
    at_points = np.empty((limbs, n, count, 3, 6))
    at_points[..., :3] = np.eye(3)
    at_points[..., 3:] = -skew(points - r.of(held_still).centre[rows, None])
    moves = at_points.reshape(limbs, n, 3 * count, 6)
    return moves.swapaxes(2, 3) @ np.linalg.inv(compliance), moves, (give @ weighs[..., None])[..., 0]


def _slides(compliance: Array, holds: float) -> Array:
    """(…,) m a newton: how much looser along the floor a foot is than its leg, since it slides where the floor does not
    hold what its leg pushes it by as it gives: so that it gives upwards as in `foot_gives`, C_zz − µ·|C_xy,z|."""
    aside = compliance[..., :2, 2]
    pushed: Array = np.linalg.norm(aside, axis=-1)
    way = aside / np.maximum(pushed, LEAST)[..., None]
    along = np.einsum("...i,...ij,...j->...", way, compliance[..., :2, :2], way)
    return np.maximum(pushed / holds - along, 0.0)


def _levers_of(r: Reading, number: int, alike: Indices, rows: Indices, points: Array) -> tuple[Array, Array, Array]:
    """(L, N, 3P, K) m a radian: where points of some limbs' last parts go, in the ground frame, as each of their own
    servos turns; (L, N, K) N·m, what their links' weight does to each; and (L, K) N·m a radian, how stiff each is."""
    chain, still, own = r.assembled.parts[number].built, r.of(held_still), r.of(own_servos)[number]
    lies = r.of(laid)[number].only(alike, rows)
    levers = own.at(alike, rows)
    moved = by_joints(chain, by_hinges(chain, lies, points))
    reach = (moved @ levers[:, :, None].swapaxes(3, 4)).reshape(*points.shape[:2], 3 * points.shape[2], -1)
    hangs = held_by_joints(chain, lies, *(v[number][alike[:, None], rows] for v in (still.forces, still.moments)))
    return reach, -(levers @ hangs[..., None])[..., 0], r.of(servo_stiffness)[own.servos[alike]]
