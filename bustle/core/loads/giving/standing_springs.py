"""Feet that stand, as springs: how each presses the frame as the frame moves.

With s the servos (stiffness K each), d and θ the frame's small shift and turn about the centre of mass, p a point of a
foot that stands, L = ∂p/∂s and Q what the links' own weight does to the servos, the foot stays where it is:
    d + θ × p + L·K⁻¹·(Lᵀ·f + Q) = 0.
A movement that nothing holds (rocking about the line of two point
feet, rolling on casters alone) is no give: of the six, those are taken that the feet hold, by the eigenvectors of their
stiffness, turns told by how far they move a foot. Small angles. Source: the stiffness of parallel mechanisms, in any
text on them.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.evenly import evenly
from bustle.core.loads.by_servo import own_servos
from bustle.core.loads.foot_forces import contact_points
from bustle.core.loads.foot_gives import said_mm_per_n, servo_stiffness
from bustle.core.loads.friction import held_along
from bustle.core.loads.giving.spring_of import far_from, springs_of, where_held
from bustle.core.loads.inertial_wrenches import held_still, laid
from bustle.core.project.walker import Limb
from bustle.core.walk.reading import Reading

# A movement that the feet hold less than this, N a metre, is held by none: more than points that do not stand come to.
HELD = 0.01
# What feet give follows how they stand, which changes little from row to row: of seven shapes 0.004 mm and 0.003° at
# most lay between so many and all.
MOST_ROWS = 48


@dataclass(frozen=True)
class Springs:
    """Of L limbs with P points each, members (L,), at N rows: pressing (L, N, 6, 3P), what they press the frame with as
    points move; moves (L, N, 3P, 6), where they go as the frame does; together stiffness (N, 6, 6), and pushes (N, 6),
    by their links' weight."""

    members: Indices
    pressing: Array
    moves: Array
    stiffness: Array
    pushes: Array


def springs(r: Reading, rows: Indices) -> Iterator[Springs]:
    """Limbs of a group with as many points together."""
    points, limbs, stands = r.of(contact_points)
    still, stiffness = r.of(held_still), r.of(servo_stiffness)
    every = zip(r.assembled.parts, r.of(laid), r.of(own_servos), still.forces, still.moments, strict=True)
    for group, lies, own, forces, moments in every:
        chain, members = group.built, group.members
        hinges = lies.origins, lies.axes, chain.sliding, forces, moments, own.by_hinge, stiffness[own.servos]
        said = np.array([said_mm_per_n(r, member) / 1000 for member in members.tolist()])
        rolls = np.array([_rolls(r.project.walker.limbs[member]) for member in members.tolist()])
        counts = np.bincount(limbs, minlength=len(r.project.walker.limbs))[members]
        for count in sorted(set(counts.tolist()) - {0}):
            alike = np.flatnonzero(counts == count)
            # Points are listed limb by limb.
            listed = np.searchsorted(limbs, members[alike])[:, None] + np.arange(count)
            pressed = springs_of(
                alike, rows, listed, points, stands, *hinges, said, rolls, held_along(r), still.centre
            )  # fmt: skip
            yield Springs(members[alike], *pressed)


def _rolls(limb: Limb) -> bool:
    return limb.passive and limb.feet[0].contact.kind == "rolls"


def looked_at(down: Flags) -> Indices:
    """Rows at which what feet give is worked out, evenly apart, and on both sides of each touchdown and lift-off;
    between them it goes straight on. down: (L, N)."""
    samples = down.shape[1]
    looked = np.zeros(samples, dtype=bool)
    looked[evenly(samples, MOST_ROWS)] = True
    changes = (down[:, 1:] != down[:, :-1]).any(axis=0)
    looked[1:] |= changes
    looked[:-1] |= changes
    return np.flatnonzero(looked)


def goes_by(r: Reading, rows: Indices, stiffness: Array) -> Array:
    """(N, 6, 6): how the frame goes by what presses it, of its stiffness (N, 6, 6); movements that nothing holds are
    left out."""
    return where_held(stiffness, far_m(r, rows), HELD)


def far_m(r: Reading, rows: Indices) -> Array:
    """(N,) m: how far from the centre of mass the feet are, by and large."""
    return far_from(r.of(contact_points)[0], r.of(held_still).centre, rows)
