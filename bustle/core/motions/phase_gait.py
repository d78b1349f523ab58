"""A periodic walk: leg phases and duties over a constant twist of the body."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from bustle.core.chain import turns
from bustle.core.frame import AXES, turned
from bustle.core.motion import Motion, Pose
from bustle.core.project import Project
from bustle.core.score import BodyTrack, Score, Steps
from bustle.core.twist import carry, displacement
from bustle.core.walker import Limb

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
        if not limb.steps or limb.neutral_mm is None:
            feet.append(_no_steps(limb, motion))
            strokes.append(0.0)
            continue
        leg = timing[limb.name]
        x, y = limb.neutral_mm
        speed = np.hypot(twist[0] - twist[2] * y, twist[1] + twist[2] * x)
        strokes.append(float(speed * leg.duty * cycle))
        if leg.duty == 1 and speed > 0:
            feet.append(_carried(limb, motion, twist))
            continue
        # Two cycles either side, so that every instant of [0, T] has a step before and after it.
        turn = np.arange(-2, 3)
        middle = cycle * (leg.phase + turn + leg.duty / 2)
        travelled = displacement(*twist, middle)
        footprints = np.stack(carry(travelled, *limb.neutral_mm), axis=-1)
        headings = travelled[2] + np.radians(limb.toe_deg)
        if leg.duty == 1:
            # It never lifts, so it stands for all of the cycle where the frame stands at its start.
            footprints, headings = np.array([limb.neutral_mm]), np.radians([limb.toe_deg])
            lift = land = np.empty(0)
        else:
            lift = np.asarray(cycle * (leg.phase + turn[:-1] + leg.duty))
            land = np.asarray(cycle * (leg.phase + turn[1:]))
        feet.append(Steps(lift, land, footprints, headings, motion.lift_mm, motion.foot_path))

    def body(t: Array) -> BodyTrack:
        return _body(motion.pose, cycle, displacement(*twist, t), t)

    return Score(cycle, True, tuple(feet), body, np.array(strokes))


def _carried(limb: Limb, motion: Motion, twist: tuple[float, float, float]) -> Steps:
    """A foot that never lifts while the body moves: it rolls or slides along under the body."""
    x, y = limb.neutral_mm or (0.0, 0.0)

    def track(t: Array) -> tuple[Array, Array]:
        travelled = displacement(*twist, t)
        return np.stack(carry(travelled, x, y), axis=-1), travelled[2] + np.radians(limb.toe_deg)

    return replace(_no_steps(limb, motion), role="track", track=track)


def _no_steps(limb: Limb, motion: Motion) -> Steps:
    """A limb that is asked for nothing: a support on the frame, or a limb without a foot."""
    nothing = np.empty(0)
    role: Literal["rolls", "none"] = "rolls" if limb.passive else "none"
    return Steps(nothing, nothing, np.zeros((1, 2)), np.zeros(1), 0.0, motion.foot_path, role)


def _body(pose: Pose, cycle: float, travel: tuple[Array, Array, Array], t: Array) -> BodyTrack:
    """body = travel ∘ pose, the pose being ride height, shift, sway, heave and tilt (yaw, then pitch, then roll)."""
    x = np.full(t.shape, pose.shift_mm[0])
    y = np.full(t.shape, pose.shift_mm[1])
    z = np.full(t.shape, pose.ride_height_mm)
    for term in pose.sway:
        angle = 2 * np.pi * term.harmonic * t / cycle
        c, s = np.cos(angle), np.sin(angle)
        x += term.x_cos_mm * c + term.x_sin_mm * s
        y += term.y_cos_mm * c + term.y_sin_mm * s
        z += term.z_cos_mm * c + term.z_sin_mm * s
    tilt = turned(pose.yaw_deg, pose.pitch_deg, pose.roll_deg)
    at = np.stack([*carry(travel, x, y), z], axis=-1)
    return BodyTrack(at, turns(AXES["yaw"], travel[2]) @ tilt, travel)
