"""What each joint holds, and what its servo does.

    τ_j = n_j·(M_j − p_j × F_j) + I_r·q̈_j + τ_f·tanh(q̇_j/ε),
F and M what all behind the joint takes to move and to hold up less what the floor does to its foot, about the ground's
origin; n its axis and p a point of it; I_r the rotor's inertia as the joint sees it, τ_f what a friction ring holds. A
joint of several hinges holds the sum of what they hold (the coupling's transpose). Servos follow by virtual work:
τ_s = Σ (∂q/∂s)·τ_q.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import degrees

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.compiled import compiled_for, floats
from bustle.core.geometry.rates import continued, rates, rates_round
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.by_servo import planned_servos, servo_levers
from bustle.core.loads.foot_forces import FootForces, foot_forces, standing_forces
from bustle.core.loads.inertial_wrenches import Wrenches, held_by_joints, held_still, laid, wrenches
from bustle.core.loads.moving import moving
from bustle.core.walk.reading import Reading

# Slower than so many rad/s, a friction ring holds less than it can.
CREEPING = 0.05


def joint_torques(r: Reading) -> Array:
    """(N, J) N·m, or N where a joint slides: what the planned motion takes, rotors included."""
    m = r.of(moving)
    own = r.kit.rotor_inertia * m.joint_accelerations
    if r.kit.friction_nm.any():
        own += r.kit.friction_nm * np.tanh(m.joint_rates / CREEPING)
    return _torques(r, r.of(wrenches), r.of(foot_forces)) + np.where(r.kit.slides, 0.0, own)


def holding_torques(r: Reading) -> Array:
    """(N, J): what it takes to stand frozen at each row: gravity alone."""
    return _torques(r, r.of(held_still), r.of(standing_forces))


def _torques(r: Reading, taken: Wrenches, feet: FootForces) -> Array:
    found = np.zeros((r.samples, len(r.kit.joints)))
    for group, lies, forces, moments in zip(r.assembled.parts, r.of(laid), taken.forces, taken.moments, strict=True):
        if not group.columns.shape[1]:
            continue
        on = np.full(len(r.project.walker.limbs), -1)
        on[group.members] = np.arange(len(group.members))
        pressed = feet.points, feet.forces, on[feet.limb]
        found[:, group.columns] = held_by_joints(group.built, lies, forces, moments, pressed).swapaxes(0, 1)
    return found


@dataclass(frozen=True)
class ServoLoads:
    """(N, servos) each, in the order of the kit's servos. torque_nm: what the motion takes; held_nm: frozen; share,
    held_share: of the stall torque; held_rms (servos,): the share that warms it, over the cycle. lag_deg: how far its
    horn is behind what it is told, by its speed and its load; load_deg: by its load; give_deg: by gravity alone."""

    torque_nm: Array
    held_nm: Array
    share: Array
    held_share: Array
    held_rms: Array
    lag_deg: Array
    load_deg: Array
    give_deg: Array


def servo_loads(r: Reading) -> ServoLoads:
    """Of every servo."""
    torque, held_share, sheet = to_servos(r, r.of(joint_torques)), r.of(held_shares), r.of(at_its_voltage)
    gives = r.kit.full_torque_at, r.kit.horn_give
    held, share, rms, lag, load, give = _loaded(
        torque, held_share, r.of(servo_speeds), sheet.stall_nm, sheet.speed_rad_s, *gives
    )
    return ServoLoads(torque, held, share, held_share, rms, lag, load, give)


@compiled_for(floats(2), floats(2), floats(2), floats(1), floats(1), floats(1), floats(1))
def _loaded(
    torque: Array, held_share: Array, speeds: Array, stall: Array, free: Array, soft: Array, horn: Array
) -> tuple[Array, Array, Array, Array, Array, Array]:
    """held_nm, share, held_rms, lag_deg, load_deg and give_deg of servos (N, K) with these sheets (K,)."""
    rows, servos = torque.shape
    held, share, rms = np.empty((rows, servos)), np.empty((rows, servos)), np.zeros(servos)
    lag, load, give = np.empty((rows, servos)), np.empty((rows, servos)), np.empty((rows, servos))
    for n in range(rows):
        for k in range(servos):
            held[n, k], share[n, k] = held_share[n, k] * stall[k], torque[n, k] / stall[k]
            rms[k] += share[n, k] * share[n, k]
            # The horn gives under the same torque as its servo.
            load[n, k] = degrees(soft[k] * share[n, k] + horn[k] * torque[n, k])
            give[n, k] = degrees(soft[k] * held_share[n, k] + horn[k] * held[n, k])
            lag[n, k] = load[n, k] + degrees(soft[k] * speeds[n, k] / free[k])
    return held, share, np.sqrt(rms / rows), lag, load, give


def held_shares(r: Reading) -> Array:
    """(N, servos): the share of its stall torque that each holds, frozen at each row."""
    return to_servos(r, r.of(holding_torques)) / r.of(at_its_voltage).stall_nm


def held_gives(r: Reading) -> Array:
    """(N, servos) rad: how far each gives, horn included, frozen at each row."""
    held = r.of(held_shares)
    return r.kit.full_torque_at * held + r.kit.horn_give * (held * r.of(at_its_voltage).stall_nm)


def servo_speeds(r: Reading) -> Array:
    """(N, servos) rad/s: central differences, as the joints' rates."""
    angles = r.of(planned_servos)[: r.samples]
    if not r.score.periodic:
        return rates(continued(angles), r.row_s)[0]
    return rates_round(angles, np.zeros(angles.shape[1], dtype=bool), r.row_s)[0]


def to_servos(r: Reading, torques: Array) -> Array:
    """Joint torques (N, J) → (N, servos): τ_s = Σ_q (∂q/∂s)·τ_q. Two servos on one joint share what it holds."""
    levers = r.of(servo_levers)
    found: Array = torques @ levers[0].T if len(levers) == 1 else (levers @ torques[..., None])[..., 0]
    return found * ~r.kit.hornless
