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

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.compiled import REAL, compiled_for, floats
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.by_servo import foot_ways, own_servos
from bustle.core.loads.friction import held_along
from bustle.core.walk.reading import Reading

# What a caster, wheel or skid on the frame gives under a newton, mm, and any leg besides its servos, where nobody has
# said; assumed.
SUPPORT_MM_PER_N = 0.02

# Nothing is stiffer.
LEAST_MM_PER_N = 1e-4


def servo_stiffness(r: Reading) -> Array:
    """(servos,) N·m a radian: servo and horn, one behind the other."""
    found: Array = 1.0 / (r.kit.full_torque_at / r.of(at_its_voltage).stall_nm + r.kit.horn_give)
    return found


def foot_gives(r: Reading) -> dict[int, Array]:
    """(N,) mm a newton, of every limb with joints and a foot."""
    stiff = r.of(servo_stiffness)
    found: dict[int, Array] = {}
    for group, own, ways in zip(r.assembled.parts, r.of(own_servos), r.of(foot_ways), strict=True):
        if not group.columns.shape[1]:
            continue
        members = group.members.tolist()
        besides = np.array([besides_mm_per_n(r, m) for m in members])
        gives = _give(ways, stiff[own.servos], besides, held_along(r))
        found |= {m: gives[row] for row, m in enumerate(members) if r.project.walker.limbs[m].feet}
    return found


@compiled_for(floats(4), floats(2), floats(1), REAL)
def _give(ways: Array, stiff: Array, besides: Array, holds: float) -> Array:
    """(L, N) mm a newton, of ends that go by ways (3, L, K, N), m a radian of each servo."""
    _, limbs, servos, rows = ways.shape
    found = np.empty((limbs, rows))
    for n in range(limbs):
        for row in range(rows):
            xx, xy, xz, yy, yz, zz = besides[n], 0.0, 0.0, besides[n], 0.0, besides[n]
            for s in range(servos):
                x, y, z, soft = ways[0, n, s, row], ways[1, n, s, row], ways[2, n, s, row], 1000 / stiff[n, s]
                xx, xy, xz = xx + soft * x * x, xy + soft * x * y, xz + soft * x * z
                yy, yz, zz = yy + soft * y * y, yz + soft * y * z, zz + soft * z * z
            # Schur's complement of what is along the floor.
            stuck = zz - (yy * xz**2 - 2 * xy * xz * yz + xx * yz**2) / (xx * yy - xy**2)
            found[n, row] = max(stuck, zz - holds * np.hypot(xz, yz))
    return found


def besides_mm_per_n(r: Reading, limb: int) -> float:
    """What a limb's mount and links and the floor give, besides servos."""
    said = r.project.walker.limbs[limb].gives_mm_per_n
    return (SUPPORT_MM_PER_N if said is None else max(said, LEAST_MM_PER_N)) + r.project.floor.gives_mm_per_n


def said_mm_per_n(r: Reading, limb: int) -> float:
    """The same, as far as it was said."""
    return (r.project.walker.limbs[limb].gives_mm_per_n or 0.0) + r.project.floor.gives_mm_per_n
