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

from bustle.core.geometry.arrays import Array, Indices
from bustle.core.geometry.components_first import along_samples, cross, dot, first, last, turned, turned_each
from bustle.core.geometry.serial_chain import Chain
from bustle.core.loads.held_back import held_back
from bustle.core.loads.moving import moving, placed
from bustle.core.machine.rigid_parts import PartsOfGroup
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
    turn, at = along_samples(m.turn), along_samples(m.at)
    found = []
    for group, parts in zip(r.assembled.parts, r.assembled.rigid, strict=True):
        chain, members = group.built, group.members.tolist()
        points = turned(turn, np.stack([solved.points[k][:n].T for k in members], axis=1) / 1000)
        points += at
        frames = turned_each(turn, np.stack([solved.frames[k][:n].transpose(2, 3, 1, 0) for k in members], axis=2))
        mounts = np.stack([t if (t := solved.mount_turns[k]).ndim == 2 else t[0] for k in members])
        before = np.empty_like(frames)
        before[:, :, :, :1] = turned_each(turn, mounts.transpose(1, 2, 0)[..., None, None])
        before[:, :, :, 1:] = frames[:, :, :, :-1]
        axes = turned(before, chain.axes.transpose(2, 0, 1)[..., None])
        starts = points[:, :, :-1]
        if chain.slides is not None and chain.slides.any():
            q = r.angles[:, group.columns].swapaxes(0, 1) + group.zeros[:, None]
            starts = starts + axes * np.where(chain.slides, chain.hinges(q), 0.0).swapaxes(1, 2) / 1000
        centres = turned(frames, parts.centres.transpose(2, 0, 1)[..., None])
        centres += starts
        found.append(Laid(*(last(v) for v in (points[:, :, :-1], axes, starts, centres, frames))))
    return tuple(found)


def wrenches(r: Reading) -> Wrenches:
    """As the machine is planned to move."""
    m, frame = r.of(moving), r.assembled.rigid_frame
    at, spin, spinning_up = (along_samples(v) for v in (m.at, m.spin, m.spinning_up))
    # Whatever is held up speeds up against gravity, with all that hangs on it.
    upwards = along_samples(m.acceleration + r.of(upright))
    turn = along_samples(m.turn)
    c = turned(turn, frame.centre[:, None, None, None]) + at
    a = upwards + _carried(spin, spinning_up, c - at)
    own = _of_parts(np.array(frame.kg), frame.inertia[..., None, None, None], turn, c, a, spin, spinning_up)
    behind = [
        _behind(r, group.built, group.columns, parts, lies, (at, spin, spinning_up, upwards))
        for group, parts, lies in zip(r.assembled.parts, r.assembled.rigid, r.of(laid), strict=True)
    ]
    back = r.of(held_back)
    if back:
        # What pulls on the frame has to be held up to besides.
        own = (own[0] - along_samples(back.force), own[1] - along_samples(back.moment))
    return _all_together(r, own, behind)


def _behind(
    r: Reading, chain: Chain, columns: Indices, parts: PartsOfGroup, lies: Laid, body: tuple[Array, Array, Array, Array]
) -> tuple[Array, Array]:
    """Force and moment of each part of a group. body: where it is, its ω and α, and how it speeds up upwards."""
    m = r.of(moving)
    at, body_spin, body_spinning_up, upwards = body
    axes, starts, centres, turns = first(lies.axes), first(lies.starts), first(lies.centres), first(lies.turns, 2)
    rates, speeding = (
        np.ascontiguousarray(chain.hinges(v[:, columns].swapaxes(0, 1)).swapaxes(1, 2))
        for v in (m.joint_rates, m.joint_accelerations)
    )
    along, on = axes * rates, axes * speeding
    sliding = None
    if chain.slides is not None:
        slides = chain.slides[..., None]
        sliding = along * slides, on * slides
        along, on = along * ~slides, on * ~slides
    # Of what each hinge moves, and of what it hangs on.
    spin = _added_up(along)
    spin += body_spin
    before = spin - along
    changing = cross(before, along)
    changing += on
    spinning_up = _added_up(changing)
    spinning_up += body_spinning_up
    steps = np.empty_like(starts)
    if steps.shape[2]:
        np.subtract(starts[:, :, :1], at, out=steps[:, :, :1])
        np.subtract(starts[:, :, 1:], starts[:, :, :-1], out=steps[:, :, 1:])
    a = _carried(before, spinning_up - changing, steps)
    if sliding is not None:
        a += 2 * cross(before, sliding[0]) + sliding[1]
    a = _added_up(a)
    a += upwards
    a += _carried(spin, spinning_up, centres - starts)
    inertias = parts.inertias.transpose(2, 3, 0, 1)[..., None]
    return _of_parts(parts.kg[..., None], inertias, turns, centres, a, spin, spinning_up)


def held_still(r: Reading) -> Wrenches:
    """As it would be, frozen at each row: gravity alone."""
    m, frame = r.of(placed), r.assembled.rigid_frame
    up = r.of(upright)[:, None, None, None]

    def hanging(kg: Array, c: Array) -> tuple[Array, Array]:
        force = np.empty_like(c)
        force[:] = kg * up
        return force, cross(c, force)

    own = hanging(np.array(frame.kg), along_samples(m.at + m.turn @ frame.centre))
    behind = [
        hanging(parts.kg[..., None], first(lies.centres))
        for parts, lies in zip(r.assembled.rigid, r.of(laid), strict=True)
    ]
    return _all_together(r, own, behind)


def held_by_joints(chain: Chain, lies: Laid, forces: Array, moments: Array) -> Array:
    """(L, N, J) N·m, or N: what joints hold of wrenches (L, N, H, 3) about the ground's origin, behind each hinge."""
    axes, force = first(lies.axes), first(forces)
    turning = dot(axes, first(moments) - cross(first(lies.origins), force))
    if chain.slides is not None:
        turning = np.where(chain.slides[..., None], dot(axes, force), turning)
    by_hinge = turning.swapaxes(1, 2)
    found: Array = by_hinge if chain.coupling is None else by_hinge @ chain.coupling
    return found


def _all_together(r: Reading, own: tuple[Array, Array], behind: list[tuple[Array, Array]]) -> Wrenches:
    """Of the frame, (3, 1, 1, N), and of every group's parts, (3, L, H, N)."""
    m, frame = r.of(placed), r.assembled.rigid_frame
    force, moment = (v[:, 0, 0].T for v in own)
    lifted = r.project.walker.lifted_n
    if lifted:
        # A boom's counterweight lifts at the middle of the body.
        force = force - np.array([0.0, 0.0, lifted])
        moment = moment - lifted * np.stack([m.at[:, 1], -m.at[:, 0], np.zeros(len(m.at))], axis=1)
    kg, mass_moment = frame.kg, frame.kg * (m.at + m.turn @ frame.centre)
    for parts, lies, (forces, moments) in zip(r.assembled.rigid, r.of(laid), behind, strict=True):
        for each in (forces, moments):
            for h in range(each.shape[2] - 2, -1, -1):
                each[:, :, h] += each[:, :, h + 1]
        if forces.shape[2]:
            force, moment = (v + w[:, :, 0].sum(axis=1).T for v, w in ((force, forces), (moment, moments)))
        mass_moment = mass_moment + (parts.kg[..., None] * first(lies.centres)).sum(axis=(1, 2)).T
        kg += float(parts.kg.sum())
    centre = mass_moment / kg if kg else m.at
    return Wrenches(
        np.ascontiguousarray(force), np.ascontiguousarray(moment), tuple(last(f) for f, _ in behind),
        tuple(last(v) for _, v in behind), centre, kg,
    )  # fmt: skip


def _added_up(values: Array) -> Array:
    """(3, L, H, N), of each hinge with those before it: there are few, and long sums cost less than many short ones."""
    found = values.copy()
    for h in range(1, found.shape[2]):
        found[:, :, h] += found[:, :, h - 1]
    return found


def _carried(spin: Array, spinning_up: Array, off: Array) -> Array:
    """What a point `off` from another on the same part speeds up by beside it."""
    found = cross(spin, cross(spin, off))
    found += cross(spinning_up, off)
    return found


def _of_parts(
    kg: Array, inertia: Array, turn: Array, c: Array, a: Array, spin: Array, spinning_up: Array
) -> tuple[Array, Array]:
    """inertia (3, 3, …) about each part's centre as it is built, turn (3, 3, …) how it lies; a: a − g of its centre."""
    force = kg * a
    back = turn.swapaxes(0, 1)
    # On the part itself, where its inertia is what it is: I·ω' + ω × I·ω.
    own = turned(back, spin)
    taken = turned(inertia, turned(back, spinning_up))
    taken += cross(own, turned(inertia, own))
    moment = turned(turn, taken)
    moment += cross(c, force)
    return force, moment
