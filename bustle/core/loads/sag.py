"""How far the machine gives under its own weight, standing on feet that stay where they are.

With s the servos (stiffness K each), d and θ the frame's small shift and turn about the centre of mass, p a point of a
foot that stands, L = ∂p/∂s and Q what the links' own weight does to the servos:
    the foot stays:      d + θ × p + L·K⁻¹·(Lᵀ·f + Q) = 0,
    the whole balances:  Σ f = m·g upwards,   Σ p × f = 0 about the centre of mass.
A tip that the floor does not hold sideways slides on: it is that much looser there.
Where casters stand beside legs, some hanging, the frame comes to lie as the feet's own gives let it. Every point adds
a little give of its own, so that soles with several have one answer. Small angles. Source: the
stiffness of parallel mechanisms, in any text on them.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Indices, cross
from bustle.core.loads.foot_forces import contact_points, standing_forces, support_gaps
from bustle.core.loads.foot_gives import said_mm_per_n, servo_levers, servo_stiffness
from bustle.core.loads.friction import held_along
from bustle.core.loads.inertial_wrenches import held_still, laid
from bustle.core.machine.masses import GRAVITY
from bustle.core.walk.reading import Reading

# The give of a point on the floor itself, m a newton; of a point that does not stand, so much that it carries nothing.
FIRM, NONE = 1e-8, 1e3
LEAST = 1e-12
SIDEWAYS = np.diag([1.0, 1.0, 0.0])
# Sag follows the load, which changes little from row to row.
MOST_ROWS = 48


@dataclass(frozen=True)
class Sag:
    """At the N rows: shift (N, 3) mm and turn (N, 3) rad of the frame at its origin, in the ground frame."""

    shift_mm: Array
    turn: Array

    @property
    def down_mm(self) -> Array:
        """(N,): how far the middle of the body sinks."""
        return -self.shift_mm[:, 2]


def sag(r: Reading) -> Sag:
    if r.of(support_gaps) is not None:
        return _on_feet_and_supports(r)
    rows, still = _looked_at(r.samples), r.of(held_still)
    n, centre = len(rows), still.centre[rows]
    points, limbs, stands = r.of(contact_points)
    points, stands = points[:, rows], stands[:, rows]
    levers, stiff = r.of(servo_levers)[rows], r.of(servo_stiffness)
    square, right = np.zeros((n, 6, 6)), np.zeros((n, 6))
    # Of the whole: what the feet have to come to.
    lifted = r.project.walker.lifted_n
    right[:, 2] = still.kg * GRAVITY - lifted
    off = r.course.body.at[rows] / 1000 - centre
    right[:, 3:] = -lifted * np.stack([off[:, 1], -off[:, 0], np.zeros(n)], axis=1)
    for number, group in enumerate(r.assembled.parts):
        for row, member in enumerate(group.members.tolist()):
            own = np.flatnonzero(limbs == member)
            if not len(own):
                continue
            at = np.swapaxes(points[own], 0, 1) - centre[:, None]
            columns = set(group.columns[row].tolist())
            drives = [k for k, servo in enumerate(r.kit.servos) if columns.intersection(servo.columns)]
            reach, weighs = _levers_of(r, number, row, rows, np.swapaxes(points[own], 0, 1), levers[:, drives])
            # (N, 3P, servos), and what hangs on each servo by the links' weight alone.
            give = reach / stiff[drives]
            count = 3 * len(own)
            limb = r.project.walker.limbs[member]
            loose = np.where(stands[own].T > 0, FIRM + said_mm_per_n(r, member) / 1000 / len(own), NONE)[
                ..., None
            ].repeat(3, axis=2)
            if limb.passive and limb.feet[0].contact.kind == "rolls":
                loose[..., :2] = NONE
            loose = loose.reshape(n, -1)
            compliance = give @ np.swapaxes(reach, 1, 2) + loose[:, :, None] * np.eye(count)
            if len(own) == 1:
                compliance += _slides(compliance, held_along(r))[:, None, None] * SIDEWAYS
            firm = np.linalg.inv(compliance)
            by_weight = (give @ weighs[..., None])[..., 0]
            # The six movements of the frame at each point: shift, and turn × place.
            moves = np.zeros((n, count, 6))
            for k in range(len(own)):
                moves[:, 3 * k : 3 * k + 3, :3] = np.eye(3)
                moves[:, 3 * k : 3 * k + 3, 3:] = -_cross(at[:, k])
            pressing = np.swapaxes(moves, 1, 2) @ firm
            square -= pressing @ moves
            right += (pressing @ by_weight[..., None])[..., 0]
    free = np.abs(square).max(axis=(1, 2)) > 0
    found = np.zeros((n, 6))
    # What nothing holds stays: a little firmness of its own in every direction.
    firmness = np.abs(square[free]).max(axis=(1, 2))[:, None, None] * LEAST * np.eye(6)
    found[free] = np.linalg.solve(square[free] - firmness, right[free][..., None])[..., 0]
    shift, turn = found[:, :3], found[:, 3:]
    shift = 1000 * (shift + cross(turn, off))
    every = np.arange(r.samples)
    told = [np.stack([np.interp(every, rows, v) for v in values.T], axis=1) for values in (shift, turn)]
    return Sag(*told)


def _on_feet_and_supports(r: Reading) -> Sag:
    """The plane that best goes through how far each point has given under what it carries: z = a + b·x + c·y, about the
    frame's origin; supports have come down by as much as they hung high."""
    points, limbs, stiff = r.of(contact_points)
    gaps, up = r.of(support_gaps), r.of(standing_forces).forces[..., 2]
    assert gaps is not None
    at = points[..., :2] - r.course.body.at[: r.samples, :2] / 1000
    carries = up > 0
    down = np.where(carries, up / np.where(stiff > 0, stiff, 1.0), 0.0) + gaps[limbs]
    rows = np.stack([np.ones_like(at[..., 0]), at[..., 0], at[..., 1]], axis=-1) * (stiff * carries)[..., None]
    plain = np.stack([np.ones_like(at[..., 0]), at[..., 0], at[..., 1]], axis=-1)
    square = np.einsum("pni,pnj->nij", rows, plain) + 1e-9 * np.eye(3)
    plane = np.linalg.solve(square, np.einsum("pni,pn->ni", rows, down)[..., None])[..., 0]
    none = np.zeros(r.samples)
    # It sinks by a; its slopes, mm a metre, are turns about y and −x.
    turn = np.stack([-plane[:, 2], plane[:, 1], none], axis=1) / 1000
    return Sag(np.stack([none, none, -plane[:, 0]], axis=1), turn)


def _slides(compliance: Array, holds: float) -> Array:
    """(N,) m a newton: how much looser along the floor a foot is than its leg, since it slides where the floor does not
    hold what its leg pushes it by as it gives: so that it gives upwards as in `foot_gives`, C_zz − µ·|C_xy,z|."""
    aside = compliance[:, :2, 2]
    pushed: Array = np.linalg.norm(aside, axis=1)
    way = aside / np.maximum(pushed, LEAST)[:, None]
    along = np.einsum("ni,nij,nj->n", way, compliance[:, :2, :2], way)
    return np.maximum(pushed / holds - along, 0.0)


def _looked_at(samples: int) -> Indices:
    """Rows at which it is worked out, evenly apart; between them it goes straight on."""
    found: Indices = np.unique(np.linspace(0, samples - 1, min(samples, MOST_ROWS)).round().astype(np.intp))
    return found


def _levers_of(r: Reading, number: int, row: int, rows: Indices, points: Array, levers: Array) -> tuple[Array, Array]:
    """(N, 3P, servos) m a radian: where points (N, P, 3) of a limb's last part go, in the ground frame, as each servo
    turns; and (N, servos) N·m, what its links' weight does to each."""
    group, still, lies = r.assembled.parts[number], r.of(held_still), r.of(laid)[number]
    chain, columns = group.built, group.columns[row]
    origins, axes = lies.origins[row][rows], lies.axes[row][rows]
    n, count = points.shape[:2]
    hinges = origins.shape[1]
    moved = np.zeros((n, count, 3, hinges))
    hangs = np.zeros((n, hinges))
    for h in range(hinges):
        axis = axes[:, h]
        moved[..., h] = axis[:, None] if chain.slide(h) else cross(axis[:, None], points - origins[:, None, h])
        force, moment = still.forces[number][row][rows, h], still.moments[number][row][rows, h]
        held = force if chain.slide(h) else moment - cross(origins[:, h], force)
        hangs[:, h] = -(axis * held).sum(axis=1)
    if chain.coupling is not None:
        moved, hangs = moved @ chain.coupling, hangs @ chain.coupling
    own = levers[:, :, columns]
    reach = moved.reshape(n, 3 * count, -1) @ np.swapaxes(own, 1, 2)
    return reach, (own @ hangs[..., None])[..., 0]


def _cross(at: Array) -> Array:
    """(N, 3, 3) with [at]·v = at × v."""
    x, y, z = at.T
    none = np.zeros_like(x)
    return np.stack([none, -z, y, z, none, -x, -y, x, none], axis=1).reshape(-1, 3, 3)
