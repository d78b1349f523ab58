"""A periodic walk: leg phases and duties over a constant twist of the body."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from bustle.core.chain import turns
from bustle.core.project import Motion, Pose, Project
from bustle.core.score import BodyTrack, Score, Steps
from bustle.core.twist import carry, displacement

Array = NDArray[np.float64]


def compile_motion(project: Project, motion: Motion) -> Score:
    """Footprints of a phase gait.

    Mid-stance is at neutral, so in the travel frame a standing foot is at exp(ξT(duty/2 − p))·neutral, and leg
    phase p = t/T − φ − k; in the ground frame that is the fixed point exp(ξT(φ + k + duty/2))·neutral, for the
    k-th time it stands. It stands from T(φ + k) to T(φ + k + duty).
    """
    cycle = motion.cycle_s
    twist = (motion.twist.vx_mm_s, motion.twist.vy_mm_s, np.radians(motion.twist.omega_deg_s))
    timing = {leg.limb: leg for leg in motion.legs}
    feet, strokes = [], []
    for limb in project.walker.limbs:
        leg = timing[limb.name]
        # Two cycles either side, so that every instant of [0, T] has a step before and after it.
        turn = np.arange(-2, 3)
        middle = cycle * (leg.phase + turn + leg.duty / 2)
        footprints = np.stack(carry(displacement(*twist, middle), *limb.neutral_mm), axis=-1)
        if leg.duty == 1:
            footprints = footprints[:1]
            lift = land = np.empty(0)
        else:
            lift = np.asarray(cycle * (leg.phase + turn[:-1] + leg.duty))
            land = np.asarray(cycle * (leg.phase + turn[1:]))
        feet.append(Steps(lift, land, footprints, motion.lift_mm, motion.foot_path))
        x, y = limb.neutral_mm
        speed = np.hypot(twist[0] - twist[2] * y, twist[1] + twist[2] * x)
        strokes.append(float(speed * leg.duty * cycle))

    def body(t: Array) -> BodyTrack:
        return _body(motion.pose, cycle, displacement(*twist, t), t)

    return Score(cycle, True, tuple(feet), body, np.array(strokes))


def _body(pose: Pose, cycle: float, travel: tuple[Array, Array, Array], t: Array) -> BodyTrack:
    """body = travel ∘ pose, the pose being ride height, shift, sway and tilt (yaw, then pitch, then roll)."""
    x = np.full(t.shape, pose.shift_mm[0])
    y = np.full(t.shape, pose.shift_mm[1])
    for term in pose.sway:
        angle = 2 * np.pi * term.harmonic * t / cycle
        c, s = np.cos(angle), np.sin(angle)
        x += term.x_cos_mm * c + term.x_sin_mm * s
        y += term.y_cos_mm * c + term.y_sin_mm * s
    z_axis = np.array([0.0, 0.0, 1.0])
    tilt = (
        turns(z_axis, np.radians(pose.yaw_deg))
        @ turns(np.array([0.0, 1.0, 0.0]), np.radians(pose.pitch_deg))
        @ turns(np.array([1.0, 0.0, 0.0]), np.radians(pose.roll_deg))
    )
    at = np.stack([*carry(travel, x, y), np.full(t.shape, pose.ride_height_mm)], axis=-1)
    return BodyTrack(at, turns(z_axis, travel[2]) @ tilt, travel)
