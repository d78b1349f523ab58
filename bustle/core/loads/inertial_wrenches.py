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

from bustle.core.geometry.arrays import Array
from bustle.core.loads.moving import Moving, moving
from bustle.core.machine.limb_groups import Group
from bustle.core.machine.masses import GRAVITY
from bustle.core.machine.rigid_parts import RigidPart, frame_part, limb_parts
from bustle.core.walk.reading import Reading

DOWN = np.array([0.0, 0.0, -GRAVITY])


@dataclass(frozen=True)
class Wrenches:
    """force, moment: (N, 3) of all parts together, N and N·m about the ground's origin. By limb, what is behind each
    hinge of its chain: origins and axes (N, H, 3) in the ground frame, m; forces and moments (N, H, 3), those of the
    hinge's part and all beyond it. centre (N, 3): of all mass, m; kg: of all."""

    force: Array
    moment: Array
    origins: tuple[Array, ...]
    axes: tuple[Array, ...]
    forces: tuple[Array, ...]
    moments: tuple[Array, ...]
    centre: Array
    kg: float


def wrenches(r: Reading) -> Wrenches:
    """As the machine is planned to move."""
    return wrenches_of(r, r.of(moving))


def held_still(r: Reading) -> Wrenches:
    """As it would be, frozen at each row: gravity alone."""
    found = r.of(moving)
    none = np.zeros_like(found.at)
    joints = np.zeros_like(found.joint_rates)
    return wrenches_of(r, Moving(found.at, found.turn, none, none, none, none, joints, joints))


def wrenches_of(r: Reading, m: Moving) -> Wrenches:
    n, limbs = r.samples, len(r.project.walker.limbs)
    frame = frame_part(r.assembled.masses, r.assembled.sections)
    total_kg, moment_of_mass = frame.kg, np.zeros((n, 3))
    c = m.at + m.turn @ frame.centre
    a = m.acceleration + _carried(m.spin, m.spinning_up, c - m.at)
    force, moment = _of_part(frame, m.turn, c, a, m.spin, m.spinning_up)
    moment_of_mass += frame.kg * c
    none = np.zeros((n, 0, 3))
    kept: list[list[Array]] = [[none] * limbs for _ in range(4)]
    for group in r.assembled.parts:
        parts = limb_parts(group, r.assembled.masses)
        for row, member in enumerate(group.members.tolist()):
            origins, axes, forces, moments, mass_moment = _of_limb(r, m, group, row, member, parts[row])
            for listed, value in zip(kept, (origins, axes, forces, moments), strict=True):
                listed[member] = value
            if forces.shape[1]:
                force, moment = force + forces[:, 0], moment + moments[:, 0]
            moment_of_mass += mass_moment
            total_kg += sum(part.kg for part in parts[row])
    centre = moment_of_mass / total_kg if total_kg else m.at
    origins_, axes_, forces_, moments_ = (tuple(listed) for listed in kept)
    return Wrenches(force, moment, origins_, axes_, forces_, moments_, centre, total_kg)


def _of_limb(
    r: Reading, m: Moving, group: Group, row: int, member: int, parts: list[RigidPart]
) -> tuple[Array, Array, Array, Array, Array]:
    n, chain, solved = r.samples, group.built, r.course.solved
    hinges = chain.offsets.shape[1]
    columns = group.columns[row]
    q = chain.hinges((np.where(r.kit.slides, r.angles / 1000, r.angles)[:, columns] + _zeros(r, group, row))[None])[0]
    rates = chain.hinges(m.joint_rates[None][..., columns])[0]
    speeding = chain.hinges(m.joint_accelerations[None][..., columns])[0]
    # Where the links are, in the ground frame.
    points = m.at[:, None] + (m.turn[:, None] @ (solved.points[member][:n] / 1000)[..., None])[..., 0]
    frames = m.turn[:, None] @ solved.frames[member][:n]
    before = m.turn @ chain.mount_turn[row]
    spin, spinning_up = m.spin, m.spinning_up
    at = points[:, 0] if hinges else np.zeros((n, 3))
    a = m.acceleration + _carried(spin, spinning_up, at - m.at)
    origins, axes = np.zeros((n, hinges, 3)), np.zeros((n, hinges, 3))
    forces, moments = np.zeros((n, hinges, 3)), np.zeros((n, hinges, 3))
    mass_moment = np.zeros((n, 3))
    for h in range(hinges):
        axis = (before @ chain.axes[min(row, len(chain.axes) - 1), h][:, None])[..., 0]
        origins[:, h], axes[:, h] = at, axis
        rate, speed = rates[:, h, None], speeding[:, h, None]
        start = at
        if chain.slide(h):
            slid = axis * q[:, h, None]
            a = a + _carried(spin, spinning_up, slid) + 2 * np.cross(spin, axis * rate) + axis * speed
            start = at + slid
        else:
            spinning_up = spinning_up + axis * speed + np.cross(spin, axis * rate)
            spin = spin + axis * rate
        turn = frames[:, h]
        part = parts[h]
        c = start + turn @ part.centre
        forces[:, h], moments[:, h] = _of_part(part, turn, c, a + _carried(spin, spinning_up, c - start), spin,
                                               spinning_up)  # fmt: skip
        mass_moment += part.kg * c
        a = a + _carried(spin, spinning_up, points[:, h + 1] - start)
        at, before = points[:, h + 1], turn
    for h in range(hinges - 2, -1, -1):
        forces[:, h] += forces[:, h + 1]
        moments[:, h] += moments[:, h + 1]
    return origins, axes, forces, moments, mass_moment


def _zeros(r: Reading, group: Group, row: int) -> Array:
    return np.where(r.kit.slides[group.columns[row]], group.zeros[row] / 1000, group.zeros[row])


def _carried(spin: Array, spinning_up: Array, off: Array) -> Array:
    """What a point `off` from another on the same part speeds up by beside it."""
    return np.asarray(np.cross(spinning_up, off) + np.cross(spin, np.cross(spin, off)))


def _of_part(part: RigidPart, turn: Array, c: Array, a: Array, spin: Array, spinning_up: Array) -> tuple[Array, Array]:
    force = part.kg * (a - DOWN)
    inertia = turn @ part.inertia @ np.swapaxes(turn, 1, 2)
    momentum = (inertia @ spin[..., None])[..., 0]
    moment = np.cross(c, force) + (inertia @ spinning_up[..., None])[..., 0] + np.cross(spin, momentum)
    return force, moment
