"""Joints that a gait gives outright: legs that take no part, wheels that are steered, and what heads, arms and moving
masses do in a cycle.

A steered wheel at (x, y) on a body that goes by the twist (v_x, v_y, ω) rolls along

    atan2(v_y + ω·x, v_x − ω·y),

forwards or backwards, whichever is the smaller turn; where the body stays it points ahead.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from bustle.core.at_rest.posed_joints import posed_joints
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.easing import eased
from bustle.core.machine.limb_groups import joint_columns, joint_slices
from bustle.core.machine.tracks import JointTrack
from bustle.core.project.motion import PhaseGait
from bustle.core.project.walker import Walker
from bustle.core.walk.motions.pace import velocity

# A wheel that goes slower points ahead.
STILL_MM_S = 1e-6

Track = Callable[[Array], JointTrack]


def held_columns(walker: Walker, gait: PhaseGait) -> list[int]:
    """Of the joints of legs that take no part."""
    if not gait.held:
        return []
    return [
        column
        for limb, own in zip(walker.limbs, joint_slices(walker), strict=True)
        if limb.name in gait.held_legs
        for column in range(own.start, own.stop)
    ]


def joint_track(
    walker: Walker, gait: PhaseGait, tau_s: float = 0.0, lean: Callable[[Array], Array] | None = None
) -> Track | None:
    """From t to the joints given then, the gait told from τ = tau_s on and its arms moved by `lean`; None where none
    is given."""
    held, steered = held_columns(walker, gait), steered_to(walker, gait)
    columns = [*held, *steered]
    arms = _arms(walker, gait, tau_s, lean) if gait.moves_of_arms else None
    if not columns:
        return arms
    values = [*posed_joints(walker, gait.joints)[held], *steered.values()]

    def joints(t: Array) -> JointTrack:
        found = arms(t) if arms else _none(walker, t)
        found.values[:, columns], found.given[:, columns] = values, True
        return found

    return joints


def steered_to(walker: Walker, gait: PhaseGait) -> dict[int, float]:
    """By the column of each joint that steers a wheel: its angle, rad."""
    if not any(limb.steers for limb in walker.limbs):
        return {}
    (vx, vy, omega), found = velocity(gait), {}
    for limb, own in zip(walker.limbs, joint_slices(walker), strict=True):
        if not limb.steers:
            continue
        x, y, _ = limb.mount.at_mm
        along, aside = vx - omega * y, vy + omega * x
        contact = limb.feet[0].contact
        assert contact.kind == "rolls"
        way = float(np.degrees(np.arctan2(aside, along))) - limb.mount.yaw_deg - contact.heading_deg
        moves = abs(along) + abs(aside) > STILL_MM_S
        found[own.start] = float(np.radians((way + 90.0) % 180.0 - 90.0)) if moves else 0.0
    return found


def _none(walker: Walker, t: Array) -> JointTrack:
    shape = (len(t), len(joint_columns(walker)))
    return JointTrack(np.zeros(shape), np.zeros(shape, dtype=bool))


def _arms(walker: Walker, gait: PhaseGait, tau_s: float, lean: Callable[[Array], Array] | None) -> Track:
    held = {(a.limb, a.joint): a.value for a in gait.joints}
    columns = joint_columns(walker)

    def joints(t: Array) -> JointTrack:
        found = _none(walker, t)
        phase = (tau_s + t) / gait.cycle_s
        for joint in dict.fromkeys((move.limb, move.joint) for move in gait.moves_of_arms):
            column, scale = columns[joint]
            rest = held.get(joint, 0.0)
            value: Array | float = rest
            # Moves of one joint do not overlap: at any time one of them at most is away from rest.
            for move in gait.moves_of_arms:
                if (move.limb, move.joint) != joint:
                    continue
                since, until = (phase - move.at) % 1.0, (move.back_at - move.at) % 1.0
                there = np.where(since < until, eased(since, 0.0, move.takes), 1.0 - eased(since, until, move.takes))
                share = there * (lean(t) if lean else 1.0)
                value = value + share * (move.to - rest)
            found.values[:, column] = value * scale
            found.given[:, column] = True
        return found

    return joints
