"""How far a foot gives under a newton from below, by the servos that hold its leg.

A servo off its place by δ pushes back with τ = K·δ, K its stall torque over the angle at which it gives that. With
q the joints, s the servos and J_z how the foot rises with a joint:
    c = Σ_s (Σ_q J_z,q·∂q/∂s)²/K_s
Legs that share a servo are each taken alone.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.walk.reading import Reading

# What a caster, wheel or skid on the frame gives under a newton, mm, and any leg besides its servos; assumed.
SUPPORT_MM_PER_N = 0.02

STEP = 1e-5


def servo_stiffness(r: Reading) -> Array:
    """(servos,) N·m a radian."""
    found: Array = r.kit.servo_strength / r.kit.full_torque_at
    return found


def servo_levers(r: Reading) -> Array:
    """(N, servos, J): how far each joint turns, or slides in m, for a radian of each servo."""
    found = np.zeros((r.samples, len(r.kit.servos), len(r.kit.joints)))
    scale = np.where(r.kit.slides, 1e-3, 1.0)
    first = 0
    for gearing in r.kit.gearings:
        servos = gearing.to_servos(r.angles)
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


def foot_gives(r: Reading) -> dict[int, Array]:
    """(N,) mm a newton, of every limb with joints and a foot."""
    levers, stiff = r.of(servo_levers), r.of(servo_stiffness)
    found = {}
    n, solved, turn = r.samples, r.course.solved, r.course.body.turn[: r.samples]
    for group in r.assembled.parts:
        chain = group.built
        for row, member in enumerate(group.members.tolist()):
            limb, columns = r.project.walker.limbs[member], group.columns[row]
            if not (limb.feet and len(columns)):
                continue
            points, frames = solved.points[member][:n] / 1000, solved.frames[member][:n]
            before = np.broadcast_to(solved.mount_turns[member], (n, 3, 3))
            rises = np.zeros((n, points.shape[1] - 1))
            for h in range(rises.shape[1]):
                axis = (before @ chain.axes[min(row, len(chain.axes) - 1), h][:, None])[..., 0]
                moved = axis if chain.slide(h) else np.cross(axis, points[:, -1] - points[:, h])
                rises[:, h] = (turn @ moved[..., None])[:, 2, 0]
                before = frames[:, h]
            slope = rises if chain.coupling is None else rises @ chain.coupling
            lever = np.einsum("nsj,nj->ns", levers[:, :, columns], slope)
            found[member] = 1000 * (lever**2 / stiff).sum(axis=1) + SUPPORT_MM_PER_N
    return found
