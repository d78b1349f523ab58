"""A motion as a machine that gives follows it: its masses, its feet and what it takes, about where it is planned.

What moves beside the plan is z = (d, φ, s): the centre of mass is off by d and all of it turned by φ, and each servo is
off its place by s. For small z, with J how a part moves with z,
    M·z̈ = Σ Jᵀ·f − w − (0, 0, τ),   M = Σ m·J_cᵀ·J_c + J_ωᵀ·I·J_ω + rotors,
f what the floor does, w and τ what the plan takes of the whole about its centre and of each servo (see
`inertial_wrenches`). Source: small oscillations about a motion, in any text on mechanics.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices, cross, skew
from bustle.core.loads.by_servo import part_ways, planned_servos, servo_levers
from bustle.core.loads.held_against_sag import sent_servos
from bustle.core.loads.inertial_wrenches import Laid, held_by_joints, laid, wrenches
from bustle.core.loads.moving import moving, placed
from bustle.core.machine import soles as sole
from bustle.core.machine.limb_groups import Group
from bustle.core.machine.limbs_on_soles import end_turn, foot_at
from bustle.core.project.walker import CurvedSole, Foot
from bustle.core.walk.reading import Reading
from bustle.core.walk.wheels import axles

# The body's shift and turn come before the servos.
BODY = 6


@dataclass(frozen=True)
class Rolling:
    """A curved sole, and which point is its; turn (N, 3, 3): how it lies."""

    point: int
    foot: Foot
    turn: Array


@dataclass(frozen=True)
class Hinges:
    """What P points hang on, from the body out: of (P,), on which of L limbs' hinges. At N rows: origins and axes
    (N, L, H, 3), m; by_servo (N, L, H, S), how far each turns, or slides in m, a radian of each servo; slides (L, H).
    What a limb lacks of H hinges stays put."""

    origins: Array
    axes: Array
    by_servo: Array
    slides: Flags
    of: Indices


@dataclass(frozen=True)
class BesidePlan:
    """At N rows, D = 6 + servos: centre (N, 3) m; takes (N, D) N and N·m; mass (N, D, D); servos, sent (N, S) rad, as
    planned and as told. Of P points that may touch the floor: points (N, P, 3) m, the hinges they hang on, limb (P,),
    and holds (N, P, 2, 2), what part of a push along the floor it takes there. Where one belongs to a sole that rolls,
    it is the sole's lowest at rest; rolling: those soles. way (3,) m and turn, rad: by which a motion that repeats goes
    on."""

    centre: Array
    takes: Array
    mass: Array
    servos: Array
    sent: Array
    points: Array
    hinges: Hinges
    limb: Indices
    holds: Array
    rolling: tuple[Rolling, ...]
    kg: float
    row_s: float
    repeats: bool
    way: Array
    turn: float


def beside_plan(r: Reading) -> BesidePlan:
    n, taken = r.samples, r.of(wrenches)
    levers = np.broadcast_to(r.of(servo_levers), (n, len(r.kit.servos), len(r.kit.joints)))
    servos = np.unwrap(r.of(planned_servos)[:n], axis=0)
    size = BODY + servos.shape[1]
    joints = np.zeros((n, len(r.kit.joints)))
    mass = _of_frame(r, size)
    points: list[Array] = []
    limbs, rolling, of = [], [], []
    hangs_on: list[tuple[Group, Laid, int, Array]] = []
    for k, (group, lies) in enumerate(zip(r.assembled.parts, r.of(laid), strict=True)):
        if group.columns.shape[1]:
            hangs = held_by_joints(group.built, lies, taken.forces[k], taken.moments[k])
            joints[:, group.columns] = hangs.swapaxes(0, 1)
        for row, limb in enumerate(group.members.tolist()):
            own = levers[:, :, group.columns[row]]
            mass += _of_limb(r, k, row, own, size)
            touching, curved = _touching(r, limb)
            if curved is not None:
                rolling.append(Rolling(len(points), r.project.walker.limbs[limb].feet[0], curved))
            points += [*touching]
            limbs += [limb] * len(touching)
            of += [len(hangs_on)] * len(touching)
            hangs_on.append((group, lies, row, own))
    rotor = np.where(r.kit.slides, 0.0, r.kit.rotor_inertia)
    rotors = rotor * r.of(moving).joint_accelerations
    takes = np.concatenate(
        [taken.force, taken.moment - cross(taken.centre, taken.force), _by_servo(levers, joints + rotors)], axis=1
    )
    mass[:, BODY:, BODY:] += (levers * rotor) @ levers.swapaxes(1, 2)
    mass += 1e-7 * np.eye(size)
    x, y, theta = r.goes_on
    return BesidePlan(
        taken.centre,
        takes,
        mass,
        servos,
        servos + (r.of(sent_servos) - servos + np.pi) % (2 * np.pi) - np.pi,
        np.stack(points, axis=1) if points else np.zeros((n, 0, 3)),
        _hinges(hangs_on, of, n, servos.shape[1]),
        np.array(limbs, dtype=np.intp),
        _holds(r, limbs),
        tuple(rolling),
        taken.kg,
        r.row_s,
        r.score.periodic,
        np.array([x, y, 0.0]) / 1000,
        theta,
    )


def _hinges(limbs: Sequence[tuple[Group, Laid, int, Array]], of: list[int], rows: int, servos: int) -> Hinges:
    """Of each limb its group, how that lies, which of it, and its joints by servo (N, S, J)."""
    most = max((lies.origins.shape[2] for _, lies, _, _ in limbs), default=0)
    origins, axes = np.zeros((2, rows, len(limbs), most, 3))
    by_servo, slides = np.zeros((rows, len(limbs), most, servos)), np.zeros((len(limbs), most), dtype=bool)
    for n, (group, lies, row, own) in enumerate(limbs):
        count, chain = lies.origins.shape[2], group.built
        origins[:, n, :count], axes[:, n, :count] = lies.origins[row], lies.axes[row]
        joints = own.swapaxes(1, 2)
        if count:
            by_servo[:, n, :count] = joints if chain.coupling is None else chain.coupling @ joints
        if chain.slides is not None:
            slides[n, :count] = chain.slides
    return Hinges(origins, axes, by_servo, slides, np.array(of, dtype=np.intp))


def _by_servo(levers: Array, joints: Array) -> Array:
    found: Array = (levers @ joints[..., None])[..., 0]
    return found


def _touching(r: Reading, limb: int) -> tuple[Array, Array | None]:
    """(K, N, 3) m: the points of a limb that may touch the floor; of a curved sole its lowest at rest, and how it lies,
    (N, 3, 3)."""
    own, course, n = r.project.walker.limbs[limb], r.course, r.samples
    if not own.feet:
        return np.zeros((0, n, 3)), None
    if sole.is_tip(own.feet[0]):
        return course.feet_ground_mm[limb, None, :n] / 1000, None
    foot = foot_at(own, limb, course.body, course.solved)
    turn = end_turn(own, limb, course.body, course.solved, course.headings)
    if isinstance(own.feet[0].sole, CurvedSole):
        return foot[None, :n] / 1000, turn[:n]
    found: Array = sole.corners(own.feet[0], foot, turn)[:, :n] / 1000
    return found, None


def _of_frame(r: Reading, size: int) -> Array:
    """(N, D, D): the frame's part of the mass."""
    body, frame, centre = r.of(placed), r.assembled.rigid_frame, r.of(wrenches).centre
    found = np.zeros((r.samples, size, size))
    moves = np.concatenate(
        [np.broadcast_to(np.eye(3), (r.samples, 3, 3)), -skew(body.at + body.turn @ frame.centre - centre)], axis=2
    )
    found[:, :BODY, :BODY] = frame.kg * moves.swapaxes(1, 2) @ moves
    found[:, 3:BODY, 3:BODY] += body.turn @ frame.inertia @ body.turn.swapaxes(1, 2)
    return found


def _of_limb(r: Reading, k: int, row: int, own: Array, size: int) -> Array:
    """(N, D, D): a limb's part of the mass."""
    group, lies, parts = r.assembled.parts[k], r.of(laid)[k], r.assembled.rigid[k]
    centre, found = r.of(wrenches).centre, np.zeros((r.samples, size, size))
    goes, turning = (way[0] for way in part_ways(group.built, lies.only(np.array([row]), np.arange(r.samples))))
    for h in range(parts.centres.shape[1]):
        at, turn = lies.centres[row][:, h], lies.turns[row][:, h]
        moves, turns = np.zeros((r.samples, 3, size)), np.zeros((r.samples, 3, size))
        moves[:, :, :3], moves[:, :, 3:BODY], turns[:, :, 3:BODY] = np.eye(3), -skew(at - centre), np.eye(3)
        if group.columns.shape[1]:
            moves[:, :, BODY:], turns[:, :, BODY:] = (way[:, h] @ own.swapaxes(1, 2) for way in (goes, turning))
        inertia = turn @ parts.inertias[row, h] @ turn.swapaxes(1, 2)
        found += parts.kg[row, h] * moves.swapaxes(1, 2) @ moves + turns.swapaxes(1, 2) @ inertia @ turns
    return found


def _holds(r: Reading, limbs: list[int]) -> Array:
    """(N, P, 2, 2): all of a push where a foot is planted, along its axle where it is a wheel, else nothing."""
    found = np.zeros((r.samples, len(limbs), 2, 2))
    wheels = r.of(axles)
    for p, limb in enumerate(limbs):
        if limb in wheels:
            along = wheels[limb] / np.linalg.norm(wheels[limb], axis=1)[:, None]
            found[:, p] = along[:, :, None] * along[:, None]
        elif r.kit.planted[limb]:
            found[:, p] = np.eye(2)
    return found
