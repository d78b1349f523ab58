"""What it takes to move and to hold up every part: force and moment, part by part, from the planned motion.

How a chain of parts is gone through, and by which formulas, is in `newton_euler`.
"""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np

from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.serial_chain import Chain
from bustle.core.loads.held_back import held_back
from bustle.core.loads.moving import moving, placed
from bustle.core.loads.newton_euler import (
    frame_hangs,
    frame_moves,
    held_by_hinges,
    inertia_about,
    lie,
    limbs_hang,
    limbs_move,
    with_roots,
)  # fmt: skip
from bustle.core.walk.plumb import upright
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class Laid:
    """A group's limbs as they lie in the ground frame, (L, N, H, …): origins of their hinges, m, axes, where what each
    hinge moves starts (beyond what a slide has slid), its centre of mass, and its turn (3, 3); and ends (L, N, 3)."""

    origins: Array
    axes: Array
    starts: Array
    centres: Array
    turns: Array
    ends: Array

    def only(self, limbs: Indices, rows: Indices) -> Laid:
        """Some of the limbs, at some of the rows."""
        own = (limbs[:, None], rows)
        return Laid(*(getattr(self, each.name)[own] for each in fields(self)))


@dataclass(frozen=True)
class Wrenches:
    """force, moment: (N, 3) of all parts together, N and N·m about the ground's origin. By group, (L, N, H, 3): forces
    and moments of what is behind each hinge, its part and all beyond it. centre (N, 3): of all mass, m; kg: of all."""

    force: Array
    moment: Array
    forces: tuple[Array, ...]
    moments: tuple[Array, ...]
    centre: Array
    kg: float


def laid(r: Reading) -> tuple[Laid, ...]:
    """One per group."""
    return _laid(r, slice(r.samples))


def _laid(r: Reading, rows: slice | Indices) -> tuple[Laid, ...]:
    m, solved = r.of(placed), r.course.solved
    at, turn = m.at[rows], m.turn[rows]
    found = []
    for group, parts, own in zip(r.assembled.parts, r.assembled.rigid, solved.by_group, strict=True):
        chain, (points, frames) = group.built, (values[:, rows] for values in own)
        slid = np.zeros(frames.shape[:3])
        if chain.slides is not None and chain.slides.any():
            q = r.angles[rows][:, group.columns].swapaxes(0, 1) + group.zeros[:, None]
            slid = np.where(chain.slides, chain.hinges(q), 0.0) / 1000
        axes = np.broadcast_to(chain.axes, parts.centres.shape)
        found.append(Laid(*lie(at, turn, points, frames, chain.mount_turn, axes, parts.centres, slid)))
    return tuple(found)


def inertia_at(r: Reading, rows: Indices) -> Array:
    """(K, 3, 3) kg·m²: of all parts about the centre of all mass, ground axes, as they lie at some rows."""
    m, frame, centre = r.of(placed), r.assembled.rigid_frame, r.course.com_ground_mm[rows] / 1000
    turn = m.turn[rows]
    middle, kg = (m.at[rows] + turn @ frame.centre)[None, :, None], np.full((1, 1), frame.kg)
    found: Array = inertia_about(centre, middle, turn[None, :, None], kg, frame.inertia[None, None])
    for parts, lies in zip(r.assembled.rigid, _laid(r, rows), strict=True):
        found = found + inertia_about(centre, lies.centres, lies.turns, parts.kg, parts.inertias)
    return found


def wrenches(r: Reading) -> Wrenches:
    """As the machine is planned to move."""
    m, frame = r.of(moving), r.assembled.rigid_frame
    # Whatever is held up speeds up against gravity, with all that hangs on it.
    upwards = m.acceleration + r.of(upright)
    force, moment = frame_moves(m.at, m.turn, m.spin, m.spinning_up, upwards, frame.kg, frame.centre, frame.inertia)
    behind = []
    for group, parts, lies in zip(r.assembled.parts, r.assembled.rigid, r.of(laid), strict=True):
        chain = group.built
        rates, speeding = (
            chain.hinges(v[:, group.columns].swapaxes(0, 1)) for v in (m.joint_rates, m.joint_accelerations)
        )
        body = m.at, m.spin, m.spinning_up, upwards
        lie_so = lies.axes, lies.starts, lies.centres, lies.turns
        behind.append(limbs_move(*body, *lie_so, rates, speeding, chain.sliding, parts.kg, parts.inertias))
    back = r.of(held_back)
    if back:
        # What pulls on the frame has to be held up to besides.
        force, moment = force - back.force, moment - back.moment
    return _all_together(r, force, moment, behind)


def held_still(r: Reading) -> Wrenches:
    """As it would be, frozen at each row: gravity alone."""
    m, frame, up = r.of(placed), r.assembled.rigid_frame, r.of(upright)
    held = frame_hangs(m.at, m.turn, frame.kg, frame.centre, up)
    behind = [limbs_hang(lies.centres, parts.kg, up) for parts, lies in zip(r.assembled.rigid, r.of(laid), strict=True)]
    return _all_together(r, *held, behind)


NO_POINTS = np.zeros((0, 0, 3)), np.zeros((0, 0, 3)), np.zeros(0, dtype=np.intp)


def held_by_joints(
    chain: Chain, lies: Laid, forces: Array, moments: Array, feet: tuple[Array, Array, Indices] = NO_POINTS
) -> Array:
    """(L, N, J) N·m, or N: what joints hold of wrenches (L, N, H, 3) about the ground's origin, behind each hinge, less
    what comes from feet: points and pushes (P, N, 3), and on which of the limbs (P,), −1 of others."""
    by_hinge = held_by_hinges(lies.origins, lies.axes, chain.sliding, forces, moments, *feet)
    found: Array = by_hinge if chain.coupling is None else by_hinge @ chain.coupling
    return found


def _all_together(r: Reading, force: Array, moment: Array, behind: list[tuple[Array, Array]]) -> Wrenches:
    """Of the frame, (N, 3), and of every group's parts, (L, N, H, 3)."""
    m = r.of(placed)
    lifted = r.project.walker.lifted_n
    if lifted:
        # A boom's counterweight lifts at the middle of the body.
        force = force - np.array([0.0, 0.0, lifted])
        moment = moment - lifted * np.stack([m.at[:, 1], -m.at[:, 0], np.zeros(len(m.at))], axis=1)
    for forces, moments in behind:
        force, moment = with_roots(force, forces), with_roots(moment, moments)
    centre, kg = r.course.com_ground_mm[: r.samples] / 1000, r.assembled.total_kg
    return Wrenches(force, moment, tuple(f for f, _ in behind), tuple(v for _, v in behind), centre, kg)
