"""Foot play: what backlash and horn slack of all joints come to at the foot.

Joint play qⱼ (end to end, rad) moves the foot by up to |∂p/∂qⱼ|·qⱼ; the worst case adds them up. A joint's play is what
was measured, else its servo's, divided by what the drive gears it down.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, kept
from bustle.core.judge.measures.feet.mid_stance import MidStance, mid_stances
from bustle.core.machine.joints_and_servos import Gearing
from bustle.core.project.kept_by_identity import KeptByIdentity
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class FootPlay:
    """At mid-stance: the whole play and its upward part, mm; per joint (name, play in degrees, lever in mm)."""

    limb: int
    play_mm: float
    up_mm: float
    joints: tuple[tuple[str, float, float], ...]
    measured: bool


_known: KeptByIdentity[tuple[Array, Flags]] = KeptByIdentity(24)


def joint_play_deg(r: Reading) -> tuple[Array, Flags]:
    """(J,) degrees end to end, and which were measured."""
    play, measured = np.zeros(len(r.kit.joints)), ~np.isnan(r.kit.measured_play_deg)
    if not any(s.play_deg for s in r.project.servo_types) and not measured.any():
        return play, measured
    # What turns alike wherever it is plays alike wherever it is.
    if all(gearing.linear for gearing in r.kit.gearings):
        parts = r.project.walker, *r.project.servo_types
        return _known.of(parts, lambda: kept(_with_play(r, r.course.solved.joints[0], measured)))
    there = r.course.solved.joints[0].copy()
    for leg in r.of(mid_stances):
        there[leg.columns] = leg.joints
    return _with_play(r, there, measured)


def _with_play(r: Reading, there: Array, measured: Flags) -> tuple[Array, Flags]:
    """With the joints there, (J,)."""
    play = np.zeros(len(measured))
    for gearing in r.kit.gearings:
        ratios = _turn_per_joint(gearing, there)
        play[gearing.columns] = r.kit.servo_play_deg[gearing.columns] / np.maximum(ratios, 1e-6)[:, None]
    return np.where(measured, r.kit.measured_play_deg, play), measured


def _turn_per_joint(gearing: Gearing, joints: Array) -> Array:
    """(D,): how far a drive's servos turn, at most, per turn of its first joint, with the joints at (J,)."""
    step = 1e-4
    turned: Array = np.abs(gearing.stepped(joints, step) - gearing.to_servos(joints[None]))[0].max(axis=-1)
    # The last digits would hang on where the joints are.
    ratios: Array = np.round(turned / step, 9)
    return ratios


def foot_plays(r: Reading) -> list[FootPlay]:
    """One per leg that steps, at the middle of its stance; none where no play is known of any joint."""
    play, measured = joint_play_deg(r)
    if not play.any():
        return []
    legs = r.of(mid_stances)
    if not legs:
        return []
    # The joints of all legs in a row.
    columns, slopes = np.concatenate([leg.columns for leg in legs]), np.concatenate([leg.slope for leg in legs], axis=1)
    ends = np.cumsum([len(leg.columns) for leg in legs])
    begins = np.concatenate([[0], ends[:-1]])
    levers = np.sqrt((slopes * slopes).sum(axis=0))
    # mm of a slide, degrees of a hinge.
    amounts = (play / r.kit.scale)[columns]
    up, whole = (np.add.reduceat(way * amounts, begins).tolist() for way in (np.abs(slopes[2]), levers))
    known = np.logical_or.reduceat(measured[columns], begins).tolist()
    each = list(zip(play[columns].tolist(), levers.tolist(), strict=True))
    return [
        FootPlay(leg.member, whole[n], up[n], _named(leg, each[begins[n] : ends[n]]), known[n])
        for n, leg in enumerate(legs)
    ]


def _named(leg: MidStance, joints: list[tuple[float, float]]) -> tuple[tuple[str, float, float], ...]:
    return tuple((joint.name, *told) for joint, told in zip(leg.limb.joints, joints, strict=True))
