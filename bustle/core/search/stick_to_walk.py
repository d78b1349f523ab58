"""Stick deflection → a walk between those of the set.

The stick asks for shares (ahead, left, turn) in −1 … 1 of what the set's own motions do that way: the twist is their
sum. It is scaled down where some foot would make more than its stroke in the motion it has most of, so that no mixture
strides longer than its parts. Two schools of what less deflection means: shorter steps at the same cycle time, or the
same steps at a slower cycle. Either way a foot on the inner side of a turn makes the shorter step, as it moves less.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.project.motion import FreeWalk, PhaseGait, Twist, TwistFrom
from bustle.core.project.project import gait_of
from bustle.core.search.longest_stride import steadied
from bustle.core.search.stride import DIRECTIONS
from bustle.core.words.problems import refuse

School = Literal["shorter_steps", "slower_pace"]

# Below this share of full deflection the walker stands.
DEAD_SHARE = 0.05
SLOWEST = 4.0

AXES: dict[str, tuple[str, str]] = {
    "ahead": ("Forward", "Back"),
    "left": ("Left", "Right"),
    "turn": ("Turn left", "Turn right"),
}
WORDS = {
    "Forward": "ahead", "Back": "back", "Left": "to the left", "Right": "to the right",
    "Turn left": "round to the left", "Turn right": "round to the right",
}  # fmt: skip


@dataclass(frozen=True)
class Stick:
    """Shares of full deflection: ahead, to the left, turning left."""

    ahead: float
    left: float
    turn: float

    @property
    def size(self) -> float:
        return min(1.0, max(abs(self.ahead), abs(self.left), abs(self.turn)))


def steered(project: CheckedProject, stick: Stick, school: School = "shorter_steps") -> PhaseGait:
    """The walk for a stick; its name is "Drive". Raises InputRefused where the set lacks what the stick asks for."""
    parts: list[tuple[float, PhaseGait]] = []
    for share, (one, other) in zip((stick.ahead, stick.left, stick.turn), AXES.values(), strict=True):
        if abs(share) > DEAD_SHARE:
            parts.append((abs(share), _going(project, one if share > 0 else other)))
    if not parts:
        base = next((m for m in project.motions if isinstance(m, PhaseGait) and m.moves), None)
        if base is None:
            raise refuse("motions", "has no walk yet to drive; make the set first")
        return base.model_copy(update={"name": "Drive", "twist": Twist(), "pose": _without_sway(base)})
    most = max(parts, key=lambda p: p[0])[1]
    twist = np.sum([s * np.array(_numbers(m.twist)) for s, m in parts], axis=0)
    allowed = min(_stroke(project, most, np.array(_numbers(m.twist)) * s / max(stick.size, 1e-9)) for s, m in parts)
    allowed = max(allowed, _stroke(project, most, np.array(_numbers(most.twist))) * stick.size)
    made = _stroke(project, most, twist)
    twist = twist * min(1.0, allowed / made) if made > 0 else twist
    cycle = most.cycle_s
    if school == "slower_pace":
        slower = min(SLOWEST, 1.0 / stick.size)
        row = project.controller.frame_period_ms / 1000
        cycle = float(round(np.ceil(round(cycle * slower / row, 6)) * row, 6))
        twist = twist / stick.size * most.cycle_s / cycle
    vx, vy, omega = (round(float(v), 3) + 0.0 for v in twist)
    mixed = most.model_copy(
        update={
            "name": "Drive",
            "cycle_s": cycle,
            "twist": Twist(vx_mm_s=vx, vy_mm_s=vy, omega_deg_s=omega),
        }
    )
    return steadied(project, mixed)


@dataclass(frozen=True)
class StickAt:
    """Where the stick is from a time on."""

    from_s: float
    stick: Stick


def driven_by_rule(project: CheckedProject, sticks: Sequence[StickAt], takes_s: float, name: str) -> FreeWalk:
    """A walk that goes where the stick asked for, its legs lifting by the rule. Raises InputRefused as `steered` does,
    and where no walk of this walker lifts all its legs."""
    like = next((m for m in project.motions if isinstance(m, PhaseGait) and m.moves and not m.inverted
                 and all(leg.duty < 1 for leg in m.legs)), None)  # fmt: skip
    if like is None:
        raise refuse("motions", "has no walk yet to drive; make the set first")
    ways = tuple(TwistFrom(from_s=at.from_s, twist=steered(project, at.stick).twist) for at in sticks)
    return FreeWalk(name=name, like=like.name, ways=ways, takes_s=takes_s)


def _going(project: CheckedProject, name: str) -> PhaseGait:
    """The motion of that name, else the first walk that goes that way and no other."""
    if name in {m.name for m in project.motions}:
        return gait_of(project, name)
    way = np.array(DIRECTIONS[name])
    for motion in project.motions:
        if isinstance(motion, PhaseGait) and motion.moves and not motion.inverted:
            twist = np.array(_numbers(motion.twist))
            if np.array_equal(np.sign(twist), way):
                return motion
    raise refuse("stick", f"none of this walker's motions goes {WORDS[name]}, so the stick does nothing that way. "
                 "Make the set, and it has one")  # fmt: skip


def _without_sway(gait: PhaseGait):  # type: ignore[no-untyped-def]
    return gait.pose.model_copy(update={"sway": ()})


def _numbers(twist: Twist) -> tuple[float, float, float]:
    return twist.vx_mm_s, twist.vy_mm_s, twist.omega_deg_s


def _stroke(project: CheckedProject, gait: PhaseGait, twist: np.ndarray) -> float:
    """The longest foot's stroke, mm, under a twist."""
    vx, vy, omega = twist[0], twist[1], np.radians(twist[2])
    duty = {leg.limb: leg.duty for leg in gait.legs}
    return max(
        float(np.hypot(vx - omega * limb.neutral_mm[1], vy + omega * limb.neutral_mm[0]))
        * duty[limb.name]
        * gait.cycle_s
        for limb in project.walker.legs
        if limb.neutral_mm is not None
    )
