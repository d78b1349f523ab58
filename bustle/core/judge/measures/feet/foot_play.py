"""Foot play: what backlash and horn slack of all joints come to at the foot.

Joint play qⱼ (end to end, rad) moves the foot by up to |∂p/∂qⱼ|·qⱼ; the worst case adds them up. A joint's play is what
was measured, else its servo's, divided by what the drive gears it down.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, kept
from bustle.core.judge.measures.feet.mid_stance import mid_stances
from bustle.core.machine.kit import Kit
from bustle.core.project.kept_by_identity import KeptByIdentity
from bustle.core.walk.reading import Reading

# Of machines whose joints turn alike wherever they are.
_known: KeptByIdentity[Array] = KeptByIdentity(24)


@dataclass(frozen=True)
class FootPlay:
    """At mid-stance: the whole play and its upward part, mm; per joint (name, play in degrees, lever in mm)."""

    limb: int
    play_mm: float
    up_mm: float
    joints: tuple[tuple[str, float, float], ...]
    measured: bool


def joint_play_deg(r: Reading) -> tuple[Array, Flags]:
    """(J,) degrees end to end, and which were measured."""
    play, measured = np.zeros(len(r.kit.joints)), ~np.isnan(r.kit.measured_play_deg)
    if not any(s.play_deg for s in r.project.servo_types) and not measured.any():
        return play, measured
    turns = _turn_per_joint(r)
    play = r.kit.servo_play_deg / np.maximum(turns, 1e-6)
    return np.where(measured, r.kit.measured_play_deg, play), measured


def _turn_per_joint(r: Reading) -> Array:
    """(J,): how far a drive's servos turn, at most, per turn of its first joint, in the middle of each leg's stance; of
    joints without one, ∞."""
    there = r.course.solved.joints[0].copy()
    if all(gearing.linear for gearing in r.kit.gearings):
        # Alike wherever they are.
        return _known.of((r.project.walker, *r.project.servo_types), lambda: kept(_turned(r.kit, there)))
    for leg in r.of(mid_stances):
        there[leg.columns] = leg.joints
    return _turned(r.kit, there)


def _turned(kit: Kit, joints: Array) -> Array:
    found, step = np.full(len(kit.joints), np.inf), 1e-4
    for gearing in kit.gearings:
        turned = np.abs(gearing.stepped(joints, step) - gearing.to_servos(joints[None]))[0].max(axis=-1)
        found[gearing.columns] = (turned / step)[:, None]
    return found


def foot_plays(r: Reading) -> list[FootPlay]:
    """One per leg that steps, at the middle of its stance; none where no play is known of any joint."""
    play, measured = joint_play_deg(r)
    if not play.any():
        return []
    # mm of a slide, degrees of a hinge.
    amounts = play / r.kit.scale
    found = []
    for leg in r.of(mid_stances):
        lever = np.sqrt((leg.slope * leg.slope).sum(axis=0))
        amount = amounts[leg.columns]
        named = zip((j.name for j in leg.limb.joints), play[leg.columns].tolist(), lever.tolist(), strict=True)
        up, whole = float(np.abs(leg.slope[2]) @ amount), float(lever @ amount)
        found.append(FootPlay(leg.member, whole, up, tuple(named), bool(measured[leg.columns].any())))
    return found
