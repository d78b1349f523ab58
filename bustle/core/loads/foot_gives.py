"""How far a foot gives under a newton from below while the floor holds it as well as it can, by the servos of its leg.

A servo off its place by δ pushes back with τ = K·δ, K its stall torque over the angle at which it gives that. With
q the joints, s the servos, J how the foot moves with a joint and b what mount, links and floor give besides:
    C = Σ_s (Σ_q J_q·∂q/∂s)·(Σ_q J_q·∂q/∂s)ᵀ/K_s + b·1,
    c = max(1/(C⁻¹)_zz, C_zz − µ·|C_xy,z|):
a foot that cannot slide gives by the first, one that needs more than the floor's grip µ for that slides on, and gives
by the second. Legs that share a servo are each taken alone.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, cross
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.friction import held_along
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
        moves = cross(lies.axes, feet[:, :, None] - lies.origins)
        if chain.slides is not None:
            moves = np.where(chain.slides[:, None], lies.axes, moves)
        slope = moves if chain.coupling is None else np.swapaxes(np.swapaxes(moves, 2, 3) @ chain.coupling, 2, 3)
        for row, member in enumerate(members):
            if r.project.walker.limbs[member].feet:
                columns = group.columns[row]
                own = [k for k, servo in enumerate(r.kit.servos) if set(servo.columns) & set(columns.tolist())]
                lever = levers[:, own][:, :, columns] @ slope[row]
                bends = 1000 * np.swapaxes(lever, 1, 2) @ (lever / stiff[own, None])
                whole = bends + besides_mm_per_n(r, member) * np.eye(3)
                (xx, xy, xz), (_, yy, yz), (_, _, zz) = np.moveaxis(whole, 0, 2)
                # Schur's complement of what is along the floor.
                stuck = zz - (yy * xz**2 - 2 * xy * xz * yz + xx * yz**2) / (xx * yy - xy**2)
                found[member] = np.maximum(stuck, zz - held_along(r) * np.hypot(xz, yz))
    return found


def besides_mm_per_n(r: Reading, limb: int) -> float:
    """What a limb's mount and links and the floor give, besides servos."""
    said = r.project.walker.limbs[limb].gives_mm_per_n
    return (SUPPORT_MM_PER_N if said is None else max(said, LEAST_MM_PER_N)) + r.project.floor.gives_mm_per_n


def said_mm_per_n(r: Reading, limb: int) -> float:
    """The same, as far as it was said."""
    return (r.project.walker.limbs[limb].gives_mm_per_n or 0.0) + r.project.floor.gives_mm_per_n
