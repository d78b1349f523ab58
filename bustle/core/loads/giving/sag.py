"""How far the machine gives under its own weight, standing on feet that stay where they are.

With each foot a spring (see `standing_springs`), the whole balances: Σ f = m·g upwards, Σ p × f = 0 about the centre of
mass. Where casters stand beside legs, some hanging, the frame comes to lie as the feet's own gives let it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.loads.foot_forces import contact_points, standing_forces, support_gaps, taken_over
from bustle.core.loads.giving.spring_of import settled
from bustle.core.loads.giving.standing_springs import HELD, far_m, looked_at, springs
from bustle.core.loads.inertial_wrenches import held_still
from bustle.core.walk.plumb import upright
from bustle.core.walk.reading import Reading


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
    rows, still = looked_at(r.course.contact[:, : r.samples]), r.of(held_still)
    n, centre = len(rows), still.centre[rows]
    square, right = np.zeros((n, 6, 6)), np.zeros((n, 6))
    # Of the whole: what the feet have to come to.
    lifted = r.project.walker.lifted_n
    right[:, :3] = still.kg * r.of(upright) - np.array([0.0, 0.0, lifted])
    off = r.course.body.at[rows] / 1000 - centre
    right[:, 3:] = -lifted * np.stack([off[:, 1], -off[:, 0], np.zeros(n)], axis=1)
    for own in springs(r, rows):
        square += own.stiffness
        right += own.pushes
    return Sag(*settled(square, right, far_m(r, rows), HELD, off, rows, r.samples))


def _on_feet_and_supports(r: Reading) -> Sag:
    """The plane that best goes through how far each point has given under what it carries: z = a + b·x + c·y, about the
    frame's origin; supports have come down by as much as they hung high."""
    points, limbs, stiff = r.of(contact_points)
    # A foot that takes over is as stiff as it is; it only carries less.
    share = r.of(taken_over)[limbs]
    gaps, up = r.of(support_gaps), r.of(standing_forces).forces[..., 2]
    assert gaps is not None
    at = points[..., :2] - r.course.body.at[: r.samples, :2] / 1000
    carries = up > 0
    down = np.where(carries, up * share / np.where(stiff > 0, stiff, 1.0), 0.0) + gaps[limbs]
    rows = np.stack([np.ones_like(at[..., 0]), at[..., 0], at[..., 1]], axis=-1) * (stiff * carries)[..., None]
    plain = np.stack([np.ones_like(at[..., 0]), at[..., 0], at[..., 1]], axis=-1)
    square = np.einsum("pni,pnj->nij", rows, plain) + 1e-9 * np.eye(3)
    plane = np.linalg.solve(square, np.einsum("pni,pn->ni", rows, down)[..., None])[..., 0]
    none = np.zeros(r.samples)
    # It sinks by a; its slopes, mm a metre, are turns about y and −x.
    turn = np.stack([-plane[:, 2], plane[:, 1], none], axis=1) / 1000
    return Sag(np.stack([none, none, -plane[:, 0]], axis=1), turn)
