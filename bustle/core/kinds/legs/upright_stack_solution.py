"""Upright legs stacked from parts: [yaw] [roll] pitch knee [ankle pitch] [ankle roll], in that order from the hip.

The mount's x points forward, y left, z up. At zero the leg hangs straight down and the sole is level:

    hip (yaw, roll) → hip offset d to the left → pitch → thigh → knee → shank → ankle → foot height h → sole

Yaw turns about +z, rolls about +x, pitches about −y (positive swings forward, at the ankle: toes up). The ankle may
instead be held level by rods (a parallelogram): then thigh and shank are driven by their absolute angles.

Where a part is missing, what it would have done is left over and reported in the residual: the sole's place first,
then its tilt, then its heading are given up.

The full leg of six: with the sole at P, turned R, the ankle is A = P + h·R·ẑ, and the hip seen from it r = Rᵀ(−A).
Ankle roll ρ turns the leg's plane so that the hip stands d beside it: r_y·cos ρ − r_z·sin ρ = −d. In that plane thigh
and shank are one triangle; what is left of R is yaw, roll and pitch, read off a z–x–y turn matrix. Source: the
inverse kinematics of legs whose hip and ankle axes meet, in texts on biped robots; the offset d is added here.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.serial_chain import Chain, forward, turns
from bustle.core.geometry.stacked_turns import left_over, products
from bustle.core.kinds.legs.family import REACHED_MM, REACHED_RAD, Build, Layout, Solution, miss, side
from bustle.core.kinds.legs.hip_and_knee_solution import HipAndKnee, solve_leg
from bustle.core.kinds.legs.two_link_triangle import two_link, wrapped

X, Y, Z = np.eye(3)


@dataclass(frozen=True)
class Stack:
    """Which parts a leg has. Links: hip offset, thigh, shank, and the foot's height where there is an ankle."""

    yaw: bool
    roll: bool
    ankle: Literal["none", "rods", "pitch", "both"]

    @property
    def pitch_at(self) -> int:
        """The place of the hip pitch among the joints."""
        return self.yaw + self.roll

    def layout(self, lengths: Array, hip: Array, mirrored: Flags) -> Layout:
        limbs = len(lengths)
        offset = hip.copy()
        offset[:, 1] += side(lengths[:, 0], mirrored)
        down = -lengths[..., None] * Z
        axes, offsets = [-Y, -Y], [down[:, 1], down[:, 2]]
        if self.ankle == "both":
            axes, offsets = [*axes, -Y, X], [*offsets, np.zeros((limbs, 3)), down[:, 3]]
        elif self.ankle != "none":
            axes, offsets = [*axes, -Y], [*offsets, down[:, 3]]
        front = ([Z] if self.yaw else []) + ([X] if self.roll else [])
        # Without yaw or roll the hip offset is a stiff part before the first joint.
        front = front or [X]
        offsets = [*[np.zeros((limbs, 3))] * (len(front) - 1), offset, *offsets]
        links = [len(front) - 1, len(front), len(front) + 1, len(offsets) - 1][: lengths.shape[1]]
        return Layout(np.array([*front, *axes]), np.stack(offsets, axis=1), self._coupling(len(offsets)), tuple(links))

    def _coupling(self, hinges: int) -> Array | None:
        """Rods: pitch = thigh, knee = shank − thigh, ankle = −shank. A stiff first part turns with nothing."""
        stiff = int(not self.pitch_at)
        if self.ankle != "rods":
            return np.eye(hinges)[:, 1:] if stiff else None
        front = self.pitch_at
        coupling = np.zeros((hinges, front + 2))
        coupling[:front, :front] = np.eye(front)
        coupling[front + stiff :, front:] = [[1.0, 0.0], [-1.0, 1.0], [0.0, -1.0]]
        return coupling

    def solve(self, build: Build, points: Array, aims: Array | None) -> Solution:
        """points (L, S, 3) mm and aims (L, S, 3, 3) of the sole, in the mount's frame. Level and ahead without aims."""
        limbs, samples, _ = points.shape
        if aims is None:
            aims = np.broadcast_to(np.eye(3), (limbs, samples, 3, 3))
        solve_one = self._way()
        joints = np.stack([solve_one(leg_of(build, i), points[i], aims[i]) for i in range(limbs)])
        return self._checked(build, joints, points, aims)

    def _way(self) -> Callable[[Leg, Array, Array], Array]:
        if self.ankle == "both":
            return _full if self.yaw else _without_yaw
        return self._in_its_plane

    def _in_its_plane(self, leg: Leg, p: Array, aim: Array) -> Array:
        """Legs whose sole stays in the leg's plane: a heading by yaw, a plane by roll, the rest within it."""
        joints = []
        if self.yaw:
            # By the sole's leftward direction: R = Rz(ψ)·Rx(φ)·R₋y(τ) leaves Rz(ψ)·(0, cos φ, sin φ) there.
            heading = np.arctan2(-aim[:, 0, 1], aim[:, 1, 1])
            back = turns(Z, -heading)
            p, aim = np.einsum("sab,sb->sa", back, p), back @ aim
            joints.append(heading)
        if self.roll and self.ankle == "none":
            missing = HipAndKnee(-leg.above, leg.aside, leg.ahead, leg.thigh, leg.shank, leg.sign, leg.nearest)
            return np.column_stack([*joints, solve_leg(missing, p, upright=True).joints[0]])
        drop = -p[:, 2]
        if self.roll:
            drop = np.sqrt(np.maximum(p[:, 1] ** 2 + p[:, 2] ** 2 - leg.aside**2, 0.0))
            roll = wrapped(np.arctan2(p[:, 1], -p[:, 2]) - np.arctan2(leg.aside, drop))
            aim = turns(X, -roll) @ aim
            joints.append(roll)
        toes = np.zeros(len(p))
        if self.ankle == "pitch":
            toes = np.arctan2(aim[:, 2, 0], aim[:, 0, 0])
        u = drop + leg.above - leg.foot * np.cos(toes)
        v = p[:, 0] - leg.ahead - leg.foot * np.sin(toes)
        pitch, knee, _ = two_link(leg.thigh, leg.shank, leg.sign, u, v)
        if self.ankle == "rods":
            return np.column_stack([*joints, pitch, wrapped(pitch + knee)])
        joints += [pitch, knee]
        if self.ankle == "pitch":
            joints.append(wrapped(toes - pitch - knee))
        return np.column_stack(joints)

    def _checked(self, build: Build, joints: Array, points: Array, aims: Array) -> Solution:
        """The residual, from forward kinematics of what was found."""
        chain = build.chain
        limbs = len(joints)
        at, frames = forward(unmounted(chain, limbs), joints)
        residual = np.zeros((*joints.shape[:2], 6))
        residual[..., :3] = points - at[:, :, -1]
        if not build.nearest:
            return Solution(joints, residual, miss(residual) <= REACHED_MM, self._short(residual))
        residual[..., 3:] = left_over(aims, frames[:, :, -1])
        near = miss(residual) <= REACHED_MM
        level = np.linalg.norm(residual[..., 3:], axis=-1) <= REACHED_RAD
        return Solution(joints, residual, near & level, self._short(residual))

    def _short(self, residual: Array) -> Array:
        """Legs in one plane are not meant to meet what is beside it."""
        return miss(residual) if self.roll else np.hypot(residual[..., 0], residual[..., 2])


def unmounted(chain: Chain, limbs: int) -> Chain:
    """The chain as its own mount sees it."""
    level = np.tile(np.eye(3), (limbs, 1, 1))
    return Chain(chain.axes, chain.offsets, np.zeros((limbs, 3)), level, chain.slides, chain.coupling, chain.link_at)


@dataclass(frozen=True)
class Leg:
    """One leg's dimensions in mm; sign ±1 is the sign of the knee angle."""

    ahead: float
    aside: float
    above: float
    thigh: float
    shank: float
    foot: float
    sign: float
    nearest: bool = True


def leg_of(build: Build, row: int) -> Leg:
    offset, thigh, shank, *foot = (float(v) for v in build.lengths[row])
    ahead, aside, above = (float(v) for v in build.hip[row])
    aside += -offset if build.mirrored[row] else offset
    sign = -1.0 if build.branch[row] == 0 else 1.0
    return Leg(ahead, aside, above, thigh, shank, foot[0] if foot else 0.0, sign, build.nearest)


def _full(leg: Leg, p: Array, aim: Array) -> Array:
    """Six joints: yaw, roll, pitch, knee, ankle pitch, ankle roll."""
    ankle_at = p + leg.foot * aim[:, :, 2]
    x, y, z = np.einsum("sba,sb->as", aim, -ankle_at)
    away = np.hypot(y, z)
    lean = np.arcsin(np.clip(leg.aside / np.where(away > 0, away, 1.0), -1.0, 1.0))
    ankle_roll = wrapped(np.arctan2(y, z) + lean)
    pitch_seen, knee, _ = two_link(leg.thigh, leg.shank, leg.sign, away * np.cos(lean), -x)
    ankle = wrapped(-(pitch_seen + knee))
    rest = products(products(aim, turns(X, -ankle_roll)), turns(-Y, pitch_seen))
    roll = np.arcsin(np.clip(rest[:, 2, 1], -1.0, 1.0))
    yaw = np.arctan2(-rest[:, 0, 1], rest[:, 1, 1])
    pitch = np.arctan2(rest[:, 2, 0], rest[:, 2, 2])
    return np.column_stack([yaw, roll, pitch, knee, ankle, ankle_roll])


def _without_yaw(leg: Leg, p: Array, aim: Array) -> Array:
    """Five joints: roll, pitch, knee bring the ankle to its place; the ankle's two make the sole lie as asked."""
    normal = aim[:, :, 2]
    hip = HipAndKnee(-leg.above, leg.aside, leg.ahead, leg.thigh, leg.shank, leg.sign, leg.nearest)
    roll, pitch, knee = solve_leg(hip, p + leg.foot * normal, upright=True).joints[0].T
    shank_turn = turns(X, roll) @ turns(-Y, pitch + knee)
    m = np.einsum("sba,sb->sa", shank_turn, normal)
    ankle_roll = -np.arcsin(np.clip(m[:, 1], -1.0, 1.0))
    ankle = np.arctan2(-m[:, 0], m[:, 2])
    return np.column_stack([roll, pitch, knee, ankle, ankle_roll])
