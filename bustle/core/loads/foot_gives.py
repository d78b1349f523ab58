"""How far a foot gives under a newton from below, by the servos that hold its leg.

A servo off its place by δ pushes back with τ = K·δ, K its stall torque over the angle at which it gives that. With
q the joints, s the servos and J_z how the foot rises with a joint:
    c = Σ_s (Σ_q J_z,q·∂q/∂s)²/K_s
Legs that share a servo are each taken alone.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.inertial_wrenches import laid
from bustle.core.loads.moving import placed
from bustle.core.walk.reading import Reading

# What a caster, wheel or skid on the frame gives under a newton, mm, and any leg besides its servos, where nobody has
# said; assumed.
SUPPORT_MM_PER_N = 0.02

# Nothing is stiffer.
LEAST_MM_PER_N = 1e-4

STEP = 1e-5


def servo_stiffness(r: Reading) -> Array:
    """(servos,) N·m a radian: servo and horn, one behind the other."""
    found: Array = 1.0 / (r.kit.full_torque_at / r.of(at_its_voltage).stall_nm + r.kit.horn_give)
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
    for group, lies in zip(r.assembled.parts, r.of(laid), strict=True):
        members, chain = group.members.tolist(), group.built
        if not group.columns.shape[1]:
            continue
        ends = np.stack([r.course.solved.points[m][: r.samples, -1] for m in members]) / 1000
        body = r.of(placed)
        feet = (body.turn @ ends[..., None])[..., 0] + body.at
        off = feet[:, :, None] - lies.origins
        # How the foot rises with each hinge: the third part of axis × arm.
        rises = lies.axes[..., 0] * off[..., 1] - lies.axes[..., 1] * off[..., 0]
        if chain.slides is not None:
            rises = np.where(chain.slides, lies.axes[..., 2], rises)
        slope = rises if chain.coupling is None else rises @ chain.coupling
        for row, member in enumerate(members):
            if r.project.walker.limbs[member].feet:
                lever = (levers[:, :, group.columns[row]] @ slope[row][..., None])[..., 0]
                found[member] = 1000 * (lever**2 / stiff).sum(axis=1) + besides_mm_per_n(r, member)
    return found


def besides_mm_per_n(r: Reading, limb: int) -> float:
    """What a limb's mount and links and the floor give, besides servos."""
    said = r.project.walker.limbs[limb].gives_mm_per_n
    return (SUPPORT_MM_PER_N if said is None else max(said, LEAST_MM_PER_N)) + r.project.floor.gives_mm_per_n
