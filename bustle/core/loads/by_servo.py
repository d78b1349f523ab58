"""How points of a limb go as its servos turn.

A point p behind hinges with axes n_h through o_h goes by n_h × (p − o_h) a radian of hinge h, by n_h where it slides.
With A = ∂h/∂q of a coupling and B = ∂q/∂s of the drives, by servos:  ∂p/∂s = (∂p/∂h)·A·B.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Indices, cross, kept
from bustle.core.geometry.serial_chain import Chain
from bustle.core.loads.inertial_wrenches import Laid, laid
from bustle.core.loads.newton_euler import ends_go
from bustle.core.machine.kit import Kit
from bustle.core.machine.limb_groups import Group
from bustle.core.project.kept_by_identity import KeptByIdentity
from bustle.core.walk.reading import Reading

STEP = 1e-5

# Of machines whose joints turn alike wherever they are.
_known: KeptByIdentity[Array] = KeptByIdentity(24)


@dataclass(frozen=True)
class OwnServos:
    """Of a group's L limbs. servos (L, K): those that turn a joint of each, in the kit's order; levers (L, N, K, J):
    how far its joints turn, or slide in m, a radian of each, N = 1 where that is the same at all rows; by_hinge
    (L, N, K, H), how far its hinges do. Where a limb has fewer than K, the last turn nothing."""

    servos: Indices
    levers: Array
    by_hinge: Array

    def at(self, limbs: Indices, rows: Indices) -> Array:
        """(L, N, K, J) of some limbs at some rows."""
        found: Array = self.levers[limbs[:, None], rows if self.levers.shape[1] > 1 else np.zeros_like(rows)]
        return found


_own_known: KeptByIdentity[tuple[OwnServos, ...]] = KeptByIdentity(24)


def planned_servos(r: Reading) -> Array:
    """(S + 2E, servos) rad from each servo's centre, in the order of the kit's servos."""
    return r.kit.servo_angles(r.course.solved.joints)


def servo_levers(r: Reading) -> Array:
    """(N, servos, J): how far each joint turns, or slides in m, for a radian of each servo; N = 1 where that is the
    same at all rows."""
    if all(gearing.linear for gearing in r.kit.gearings):
        # Told of no motion's angles: by those, it would hang on which is asked first, if only by its last digits.
        nowhere = np.zeros((1, len(r.kit.joints)))
        return _known.of((r.project.walker, *r.project.servo_types), lambda: kept(_levers(r.kit, nowhere)))
    return _levers(r.kit, r.angles)


def _levers(kit: Kit, angles: Array) -> Array:
    found = np.zeros((len(angles), len(kit.servos), len(kit.joints)))
    scale = np.where(kit.slides, 1e-3, 1.0)
    first = 0
    for gearing in kit.gearings:
        servos = gearing.to_servos(angles)
        drives, each = servos.shape[1:]
        for k in range(each):
            ahead, behind = servos.copy(), servos.copy()
            ahead[..., k] += STEP
            behind[..., k] -= STEP
            turns = (gearing.to_joints(ahead) - gearing.to_joints(behind)) / (2 * STEP)
            for d in range(drives):
                own = gearing.columns[d]
                found[:, first + d * each + k, own] = turns[:, d] * scale[own]
        first += drives * each
    return found


def own_servos(r: Reading) -> tuple[OwnServos, ...]:
    """One per group."""
    levers = r.of(servo_levers)
    if len(levers) > 1:
        return _own_servos(r.kit, r.assembled.parts, levers)
    parts = r.project.walker, *r.project.servo_types
    return _own_known.of(parts, lambda: kept(_own_servos(r.kit, r.assembled.parts, levers)))


def _own_servos(kit: Kit, parts: Sequence[Group], levers: Array) -> tuple[OwnServos, ...]:
    joints, found = kit.joints_of_servos, []
    for group in parts:
        turns = joints[:, group.columns].any(axis=2).T
        most = int(turns.sum(axis=1).max(initial=0))
        servos = np.argsort(~turns, axis=1, kind="stable")[:, :most]
        own = levers[:, servos[:, :, None], group.columns[:, None]].swapaxes(0, 1)
        coupling = group.built.coupling
        found.append(OwnServos(servos, own, own if coupling is None else own @ coupling.T))
    return tuple(found)


def by_hinges(chain: Chain, lies: Laid, points: Array) -> Array:
    """(L, N, P, H, 3) m a radian, or a metre: where points (L, N, P, 3) behind all of L limbs' hinges go."""
    axes = lies.axes[:, :, None]
    moved = cross(axes, points[:, :, :, None] - lies.origins[:, :, None])
    return moved if chain.slides is None else np.where(chain.slides[:, None], axes, moved)


def part_ways(chain: Chain, lies: Laid) -> tuple[Array, Array]:
    """(L, N, K, 3, J) each, of the K parts behind L limbs' hinges: how the centre of each goes, m, and how it turns, a
    radian, or a metre, of each joint."""
    hinges = lies.origins.shape[2]
    behind = np.tril(np.ones((hinges, hinges)))[..., None]
    turns = np.broadcast_to(lies.axes[:, :, None], (*lies.axes.shape[:2], hinges, hinges, 3)) * behind
    if chain.slides is not None:
        turns = np.where(chain.slides[:, None], 0.0, turns)
    return by_joints(chain, by_hinges(chain, lies, lies.centres) * behind), by_joints(chain, turns)


def by_joints(chain: Chain, moved: Array) -> Array:
    """By hinge (…, H, 3) → by joint (…, 3, J)."""
    by_hinge = moved.swapaxes(-1, -2)
    return by_hinge if chain.coupling is None else by_hinge @ chain.coupling


def foot_ways(r: Reading) -> tuple[Array, ...]:
    """One per group, (3, L, K, N) m a radian of each of `own_servos`: where the ends of its limbs go."""
    every = zip(r.assembled.parts, r.of(laid), r.of(own_servos), strict=True)
    return tuple(
        ends_go(lies.origins, lies.axes, group.built.sliding, lies.ends, own.by_hinge) for group, lies, own in every
    )


def foot_moves(r: Reading, limb: int, rows: Indices) -> Array:
    """(K, servos, 3) mm a radian: where a limb's foot goes as each servo turns, at rows (K,), in the ground frame."""
    found = np.zeros((len(rows), len(r.kit.servos), 3))
    for group, own, ways in zip(r.assembled.parts, r.of(own_servos), r.of(foot_ways), strict=True):
        for at in np.flatnonzero(group.members == limb).tolist():
            found[:, own.servos[at]] = 1000 * ways[:, at][..., rows].T
    return found
