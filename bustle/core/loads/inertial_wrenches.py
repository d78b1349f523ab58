"""What it takes to move and to hold up every part: force and moment, part by part, from the planned motion.

For a part of mass m and inertia I about its centre c (world axes), moving with acceleration a of its centre, ω and α:
    F = m·(a − g),   M = c × F + I·α + ω × I·ω   about the ground's origin (Newton and Euler).
Down a chain, from joint to joint at p with axis n, rate q̇ and q̈:
    ω' = ω + n·q̇,   α' = α + n·q̈ + ω × n·q̇,   a_c = a_p + α' × (c − p) + ω' × (ω' × (c − p)),
and for a slide a' = a + α × d + ω × (ω × d) + 2ω × n·q̇ + n·q̈, d what it has slid.
Source: the recursive Newton–Euler method of any text on robot dynamics.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Indices, cross, turned
from bustle.core.geometry.serial_chain import Chain, rotated
from bustle.core.loads.moving import moving, placed
from bustle.core.walk.plumb import upright
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class Laid:
    """A group's limbs as they lie in the ground frame, (L, N, H, …): origins of their hinges, m, axes, where what each
    hinge moves starts (beyond what a slide has slid), its centre of mass, and its turn (3, 3)."""

    origins: Array
    axes: Array
    starts: Array
    centres: Array
    turns: Array

    def only(self, limbs: Indices, rows: Indices) -> Laid:
        """Some of the limbs, at some of the rows."""
        own = (limbs[:, None], rows)
        return Laid(self.origins[own], self.axes[own], self.starts[own], self.centres[own], self.turns[own])


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
    n, m, solved = r.samples, r.of(placed), r.course.solved
    found = []
    for group, parts in zip(r.assembled.parts, r.assembled.rigid, strict=True):
        chain, members = group.built, group.members.tolist()
        local = np.stack([solved.points[k][:n] for k in members]) / 1000
        points = rotated(m.turn, local.swapaxes(1, 2)).swapaxes(1, 2) + m.at[:, None]
        # A turn's columns are turned as points are.
        columns = np.stack([solved.frames[k][:n] for k in members]).transpose(0, 2, 4, 1, 3)
        frames = rotated(m.turn, columns).transpose(0, 3, 1, 4, 2)
        mounts = np.stack([np.broadcast_to(solved.mount_turns[k][..., :, :], (3, 3)) if solved.mount_turns[k].ndim == 2
                           else solved.mount_turns[k][0] for k in members])  # fmt: skip
        first = m.turn @ mounts[:, None]
        before = np.concatenate([first[:, :, None], frames[:, :, :-1]], axis=2)
        axes = turned(before, chain.axes[:, None])
        starts = points[:, :, :-1]
        if chain.slides is not None and chain.slides.any():
            q = r.angles[:, group.columns].swapaxes(0, 1) + group.zeros[:, None]
            slid = np.where(chain.slides, chain.hinges(q), 0.0) / 1000
            starts = starts + axes * slid[..., None]
        centres = starts + turned(frames, parts.centres[:, None])
        found.append(Laid(points[:, :, :-1], axes, starts, centres, frames))
    return tuple(found)


def wrenches(r: Reading) -> Wrenches:
    """As the machine is planned to move."""
    m, frame = r.of(moving), r.assembled.rigid_frame
    c = m.at + m.turn @ frame.centre
    # Whatever is held up speeds up against gravity, with all that hangs on it.
    upwards = m.acceleration + r.of(upright)
    a = upwards + _carried(m.spin, m.spinning_up, c - m.at)
    own = _of_parts(np.array(frame.kg), frame.inertia, m.turn, c, a, m.spin, m.spinning_up)
    behind = []
    for group, parts, lies in zip(r.assembled.parts, r.assembled.rigid, r.of(laid), strict=True):
        chain = group.built
        rates, speeding = (chain.hinges(v[:, group.columns].swapaxes(0, 1))[..., None] for v in
                           (m.joint_rates, m.joint_accelerations))  # fmt: skip
        along, on = lies.axes * rates, lies.axes * speeding
        sliding = None
        if chain.slides is not None:
            slides = chain.slides[:, None]
            sliding = along * slides, on * slides
            along, on = along * ~slides, on * ~slides
        # Of what each hinge moves, and of what it hangs on.
        spin = m.spin[:, None] + _added_up(along)
        before = spin - along
        changing = on + cross(before, along)
        spinning_up = m.spinning_up[:, None] + _added_up(changing)
        steps = np.diff(lies.starts, axis=2, prepend=np.broadcast_to(m.at[:, None], lies.starts[:, :, :1].shape))
        a = _carried(before, spinning_up - changing, steps)
        if sliding is not None:
            a += 2 * cross(before, sliding[0]) + sliding[1]
        a = upwards[:, None] + _added_up(a)
        a += _carried(spin, spinning_up, lies.centres - lies.starts)
        behind.append(
            _of_parts(parts.kg[:, None], parts.inertias[:, None], lies.turns, lies.centres, a, spin, spinning_up)
        )
    return _all_together(r, own, behind)


def held_still(r: Reading) -> Wrenches:
    """As it would be, frozen at each row: gravity alone."""
    m, frame = r.of(placed), r.assembled.rigid_frame

    def hanging(kg: Array, c: Array) -> tuple[Array, Array]:
        force = np.empty_like(c)
        force[:] = kg[..., None] * r.of(upright)
        return force, cross(c, force)

    own = hanging(np.array(frame.kg), m.at + m.turn @ frame.centre)
    behind = [
        hanging(parts.kg[:, None], lies.centres) for parts, lies in zip(r.assembled.rigid, r.of(laid), strict=True)
    ]
    return _all_together(r, own, behind)


def held_by_joints(chain: Chain, lies: Laid, forces: Array, moments: Array) -> Array:
    """(L, N, J) N·m, or N: what joints hold of wrenches (L, N, H, 3) about the ground's origin, behind each hinge."""
    turning = (lies.axes * (moments - cross(lies.origins, forces))).sum(axis=-1)
    if chain.slides is not None:
        turning = np.where(chain.slides, (lies.axes * forces).sum(axis=-1), turning)
    found: Array = turning if chain.coupling is None else turning @ chain.coupling
    return found


def _all_together(r: Reading, own: tuple[Array, Array], behind: list[tuple[Array, Array]]) -> Wrenches:
    m, frame = r.of(placed), r.assembled.rigid_frame
    force, moment = own
    lifted = r.project.walker.lifted_n
    if lifted:
        # A boom's counterweight lifts at the middle of the body.
        force = force - np.array([0.0, 0.0, lifted])
        moment = moment - lifted * np.stack([m.at[:, 1], -m.at[:, 0], np.zeros(len(m.at))], axis=1)
    kg, mass_moment = frame.kg, frame.kg * (m.at + m.turn @ frame.centre)
    for parts, lies, (forces, moments) in zip(r.assembled.rigid, r.of(laid), behind, strict=True):
        for each in (forces, moments):
            each[:] = _added_up(each[:, :, ::-1])[:, :, ::-1]
        if forces.shape[2]:
            force, moment = force + forces[:, :, 0].sum(axis=0), moment + moments[:, :, 0].sum(axis=0)
        mass_moment = mass_moment + (parts.kg[:, None, :, None] * lies.centres).sum(axis=(0, 2))
        kg += float(parts.kg.sum())
    centre = mass_moment / kg if kg else m.at
    return Wrenches(force, moment, tuple(f for f, _ in behind), tuple(v for _, v in behind), centre, kg)


def _added_up(values: Array) -> Array:
    """(L, N, H, 3), of each hinge with those before it: there are few, and long sums cost less than many short ones."""
    found = values.copy()
    for h in range(1, found.shape[2]):
        found[:, :, h] += found[:, :, h - 1]
    return found


def _carried(spin: Array, spinning_up: Array, off: Array) -> Array:
    """What a point `off` from another on the same part speeds up by beside it."""
    return cross(spinning_up, off) + cross(spin, cross(spin, off))


def _of_parts(
    kg: Array, inertia: Array, turn: Array, c: Array, a: Array, spin: Array, spinning_up: Array
) -> tuple[Array, Array]:
    """inertia (…, 3, 3) about each part's centre as it is built, turn (…, 3, 3) how it lies; a: a − g of its centre."""
    force = kg[..., None] * a
    back = turn.swapaxes(-1, -2)
    # On the part itself, where its inertia is what it is: I·ω' + ω × I·ω.
    own = turned(back, spin)
    taken = turned(inertia, turned(back, spinning_up)) + cross(own, turned(inertia, own))
    return force, cross(c, force) + turned(turn, taken)
