"""A walk whose legs lift by the rule of `lifting_rule`, as a small controller would follow it, frame by frame.

Once per frame of the controller: feet whose swing is over stand; of those that may, legs lift; the body moves on.
What a leg does is settled when it lifts, so nothing here looks ahead: a way that changes later leaves what came
before as it was.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.easing import eased
from bustle.core.geometry.planar_twist import bring_back, carry, displacement
from bustle.core.geometry.support_polygon import Support, margin_in, support
from bustle.core.kinds.gaits import spots_of
from bustle.core.machine.kit import kit_of
from bustle.core.machine.masses import centre_of_mass
from bustle.core.machine.slope import downhill_of
from bustle.core.machine.tracks import BodyTrack
from bustle.core.project.motion import FreeWalk, PhaseGait, Twist
from bustle.core.project.project import Project
from bustle.core.walk.course import joints_of
from bustle.core.walk.motions.from_rest_to_rest import standing
from bustle.core.walk.motions.lifting_rule import Stance, beside_each_other, left_s
from bustle.core.walk.motions.stepping import bends_of, body_at, placed, stays, swings_of_legs, tilt_of
from bustle.core.walk.score import Scored, Steps

Planar = tuple[float, float, float]

# The body takes up a new way, and leans, over these shares of the gait's cycle.
TAKE_UP_SHARE = 0.5
LEAN_SHARE = 0.35
# Over this last share of a leg's stroke the body slows.
SLOW_SHARE = 0.25
# Over this last margin above what is kept too.
SLOW_MM = 10.0
# A foot this near to neutral is there.
HOME_MM = 1.0
# Times left that differ by less than this share of the time a leg stands are alike.
ALIKE_SHARE = 0.1
# Margins that agree to so many digits are alike.
ALIKE_DIGITS = 6
# The centre of mass moves a little with the legs: margin kept beyond what is asked.
RESERVE_MM = 5.0
# How far towards the middle of the other feet the body may lean, tried in this many steps.
LEANS = 25
NOWHERE = np.empty((0, 2))


@dataclass
class Leg:
    """The steps of one leg so far."""

    lift_s: list[float] = field(default_factory=list)
    land_s: list[float] = field(default_factory=list)
    prints: list[Array] = field(default_factory=list)
    headings: list[float] = field(default_factory=list)


@dataclass(frozen=True)
class Lean:
    """The body's shift in the travel frame goes from one place to another."""

    at_s: float
    start: Array
    end: Array


class Stepper:
    """What the small controller knows: where the body is, where the feet are, who is in the air."""

    def __init__(self, project: Project, gait: PhaseGait, frame_s: float) -> None:
        limbs = project.walker.limbs
        timing = {leg.limb: leg for leg in gait.legs}
        self.index = [i for i, m in enumerate(limbs) if m.steps and m.neutral_mm is not None and m.name in timing]
        own = [limbs[i] for i in self.index]
        duty = np.array([timing[m.name].duty for m in own])
        self.gait, self.frame_s = gait, frame_s
        self.keep_mm = project.limits.margin_mm + RESERVE_MM
        self.neutral = np.array([m.neutral_mm for m in own], dtype=float)
        self.toe = np.radians([m.toe_deg for m in own])
        self.stance_s, self.swing_s = duty * gait.cycle_s, (1 - duty) * gait.cycle_s
        self.beside = beside_each_other(spots_of([m.mount.at_mm[:2] for m in own]))
        self.com, self.downhill = _standing_com(project, gait), downhill_of(project.floor)
        self.feet = self.neutral.copy()
        self.landing = self.neutral.copy()
        self.until = np.full(len(own), -np.inf)
        self.legs = [Leg(prints=[p], headings=[float(h)]) for p, h in zip(self.neutral, self.toe, strict=True)]
        self.travel: Planar = (0.0, 0.0, 0.0)
        self.twist, self.asked = np.zeros(3), np.zeros(3)
        self.was, self.since = np.zeros(3), -np.inf
        self.pace = 1.0
        self.held: tuple[Flags, Support] | None = None
        self.leans: list[Lean] = []

    def shift(self, t: float) -> Array:
        if not self.leans:
            return np.zeros(2)
        lean = self.leans[-1]
        share = float(eased(np.array([t]), lean.at_s, self._lean_s)[0])
        shift: Array = lean.start + share * (lean.end - lean.start)
        return shift

    def over(self, t: float) -> Array:
        """(2,) mm in the travel frame: where a plumb line from the mass meets the floor."""
        slid = bring_back(_arrays((0.0, 0.0, self.travel[2])), *(self.com[2] * self.downhill))
        over: Array = self.com[:2] + self.shift(t) + np.array(slid)
        return over

    @property
    def _lean_s(self) -> float:
        return LEAN_SHARE * self.gait.cycle_s

    @property
    def _take_up_s(self) -> float:
        return TAKE_UP_SHARE * self.gait.cycle_s

    def frame(self, t: float, asked: Array) -> None:
        """One frame of the controller, up to where the body moves on."""
        if (asked != self.asked).any():
            self.was, self.since, self.asked = self.twist.copy(), t, asked
        share = float(eased(np.array([t]), self.since, self._take_up_s)[0])
        self.twist = self.was + share * (self.asked - self.was)
        down = self.until <= t + 1e-9
        self.feet[down] = self.landing[down]
        self._lift(t)
        self._pace(t)

    def move_on(self) -> None:
        self.travel = _then(self.travel, self.pace * self.twist, self.frame_s)

    def _seen(self) -> Array:
        """Feet in the travel frame."""
        return np.stack(bring_back(_arrays(self.travel), self.feet[:, 0], self.feet[:, 1]), axis=-1)

    def _lift(self, t: float) -> None:
        """Legs lift by the rule until none may."""
        alike_s = ALIKE_SHARE * float(self.stance_s.mean())
        leaning = bool(self.leans) and t < self.leans[-1].at_s + self._lean_s - 1e-9
        while not leaning:
            at, down = self._seen(), self.until <= t + 1e-9
            left = left_s(at, self.neutral, self.stance_s, _planar(self.asked))
            away = np.linalg.norm(at - self.neutral, axis=-1)
            # To stand still, the leg furthest from neutral is the next.
            order = np.where(np.isinf(left), -away, left)
            due = np.where(np.isinf(left), away > HOME_MM, left <= self.stance_s / 2 + 1e-9)
            free = down & due & ~(self.beside & ~down).any(axis=1)
            legs = [int(n) for n in np.flatnonzero(free)]
            if not legs:
                self._straighten(t, down, due)
                return
            margin = self._least_margin(t, at, down, legs)
            # Of two that are alike in all, the one further ahead, then the one on the left, whatever their order.
            ranked = sorted(
                range(len(legs)),
                key=lambda k: (
                    round(float(order[legs[k]]) / alike_s),
                    -round(float(margin[k]), ALIKE_DIGITS),
                    *(-self.neutral[legs[k]]),
                ),
            )
            chosen = next((k for k in ranked if margin[k] >= self.keep_mm), None)
            if chosen is not None:
                self._swing(legs[chosen], t)
            else:
                if down.all():
                    self._lean(t, [legs[k] for k in ranked], at)
                return

    def _least_margin(self, t: float, at: Array, down: Flags, legs: list[int]) -> Array:
        """(len(legs),) mm: of the others when one of these lifts, and when it is about to land."""
        com = self.over(t)
        there = _then((0.0, 0.0, 0.0), self.pace * (self.twist + self.asked) / 2, float(self.swing_s.max()))
        later = np.array(carry(_arrays(there), *com))
        both = np.repeat(np.stack([com, later]), len(legs), axis=0)
        least: Array = Stance(at, down, NOWHERE).margin_without([*legs, *legs], both).reshape(2, -1).min(axis=0)
        return least

    def _swing(self, leg: int, t: float) -> None:
        swing_s, half_s = float(self.swing_s[leg]), float(self.stance_s[leg]) / 2
        there = _then(self.travel, self.pace * (self.twist + self.asked) / 2, swing_s)
        ahead = _then(there, self.asked, half_s)
        x, y = carry(_arrays(ahead), *self.neutral[leg])
        self.landing[leg] = (x, y)
        self.until[leg] = t + swing_s
        found = self.legs[leg]
        found.lift_s.append(t)
        found.land_s.append(t + swing_s)
        found.prints.append(self.landing[leg].copy())
        found.headings.append(ahead[2] + float(self.toe[leg]))

    def _lean(self, t: float, legs: list[int], at: Array) -> None:
        """Towards the middle of the other feet, just far enough that the first of these legs may lift."""
        # The feet come nearer to the end of their strokes while it leans.
        then = _then((0.0, 0.0, 0.0), self.pace * self.twist, self._lean_s)
        at = np.stack(bring_back(_arrays(then), at[:, 0], at[:, 1]), axis=-1)
        now, over = self.shift(t), self.over(t)
        for leg in legs:
            others = np.delete(np.arange(len(at)), leg)
            way = at[others].mean(axis=0) - over
            steps = np.linspace(0.0, 1.0, LEANS)[:, None] * way
            stance = Stance(at, np.ones(len(at), dtype=bool), NOWHERE)
            enough = np.flatnonzero(stance.margin_without([leg] * LEANS, over + steps) >= self.keep_mm)
            if len(enough):
                self.leans.append(Lean(t, now, now + steps[enough[0]]))
                return

    def _straighten(self, t: float, down: Flags, due: Flags) -> None:
        """Once it stands and every foot is home, out of the lean."""
        if self.asked.any() or due.any() or not down.all() or not self.leans or not self.leans[-1].end.any():
            return
        self.leans.append(Lean(t, self.shift(t), np.zeros(2)))

    def _pace(self, t: float) -> None:
        """Slower where a standing leg comes to the end of its stroke, or the margin to what is kept; not at once."""
        down = self.until <= t + 1e-9
        at = self._seen()
        way = -_speeds(at, self.twist)
        speed = np.linalg.norm(way, axis=-1)
        moving = down & (speed > 1e-6)
        wanted = 1.0
        if moving.any():
            most = np.maximum(
                np.linalg.norm(_speeds(at, self.asked), axis=-1), np.linalg.norm(_speeds(at, self.was), axis=-1)
            )
            half = most * self.stance_s / 2
            along = ((at - self.neutral) * way).sum(axis=-1) / np.maximum(speed, 1e-6)
            room = (half - along)[moving] / np.maximum(SLOW_SHARE * half[moving], 1e-6)
            wanted = float(np.clip(room.min(), 0.0, 1.0))
        if not down.all():
            wanted = min(wanted, self._margin_room(t, down))
        step = self.frame_s / (0.1 * self.gait.cycle_s)
        self.pace += float(np.clip(wanted - self.pace, -step, step))

    def _margin_room(self, t: float, down: Flags) -> float:
        """How much of the last SLOW_MM of margin is left, where the way it goes is using it up; else 1."""
        com = self.over(t)
        ahead = _then(self.travel, self.twist, self.frame_s)
        coms = np.array([carry(_arrays(pose), *com) for pose in (self.travel, ahead)])
        # Feet that stand keep their polygon on the floor until one lifts or lands.
        if self.held is None or (self.held[0] != down).any():
            self.held = down, support(self.feet[:, None], down[:, None], coms[:1])
        now, then = margin_in(self.held[1], 0, coms)
        return 1.0 if then >= now else float(np.clip((now - self.keep_mm) / SLOW_MM, 0.0, 1.0))


def compile_free_walk(project: Project, asked: FreeWalk) -> Scored:
    gait = project.motion(asked.like)
    assert isinstance(gait, PhaseGait)
    frame_s = project.controller.frame_period_ms / 1000
    frames = int(np.ceil(asked.takes_s / frame_s - 1e-9))
    stepper = Stepper(project, gait, frame_s)
    travels, twists = np.zeros((frames, 3)), np.zeros((frames, 3))
    starts = np.array([way.from_s for way in asked.ways])
    ways = np.array([[0.0, 0.0, 0.0], *(_numbers(way.twist) for way in asked.ways)])
    for k in range(frames):
        t = k * frame_s
        stepper.frame(t, ways[np.searchsorted(starts, t + 1e-9, side="right")])
        travels[k], twists[k] = stepper.travel, stepper.pace * stepper.twist
        stepper.move_on()
    return Scored(
        asked.takes_s,
        False,
        _steps(project, stepper),
        _body(gait, stepper, travels, twists),
        _strokes(project, stepper),
        bends_of(gait.pose),
        gait.joints,
        legs_lead=gait.travel == "implied",
    )


def _body(gait: PhaseGait, stepper: Stepper, travels: Array, twists: Array) -> Callable[[Array], BodyTrack]:
    """Between frames the body keeps its twist."""
    tilt, leans, lean_s = tilt_of(gait.pose), list(stepper.leans), LEAN_SHARE * gait.cycle_s

    def body(t: Array) -> BodyTrack:
        k = np.clip((t / stepper.frame_s + 1e-9).astype(int), 0, len(travels) - 1)
        since = t - k * stepper.frame_s
        x, y, theta = travels[k].T
        vx, vy, omega = twists[k].T
        dx, dy, turn = displacement(vx, vy, omega, since)
        travel = (*carry((x, y, theta), dx, dy), theta + turn)
        sx, sy, z = placed(gait.pose, t.shape)
        for lean in leans:
            # Each begins where the one before it ended, so what they add adds up.
            share = eased(t, lean.at_s, lean_s)
            step = lean.end - lean.start
            sx, sy = sx + share * step[0], sy + share * step[1]
        return body_at(travel, (sx, sy, z), tilt)

    return body


def _steps(project: Project, stepper: Stepper) -> tuple[Steps, ...]:
    swings = swings_of_legs(stepper.gait)
    found = [stays(limb) for limb in project.walker.limbs]
    for i, leg in zip(stepper.index, stepper.legs, strict=True):
        swing = swings[project.walker.limbs[i].name]
        found[i] = Steps(
            np.array(leg.lift_s), np.array(leg.land_s), np.array(leg.prints), np.array(leg.headings), swing
        )
    return tuple(found)


def _strokes(project: Project, stepper: Stepper) -> Array:
    """(L,) mm: the longest step of each foot."""
    found = np.zeros(len(project.walker.limbs))
    for i, leg in zip(stepper.index, stepper.legs, strict=True):
        if leg.lift_s:
            found[i] = np.linalg.norm(np.diff(np.array(leg.prints), axis=0), axis=-1).max()
    return found


def _standing_com(project: Project, gait: PhaseGait) -> Array:
    """(3,) mm: the centre of mass in the travel frame, standing in the gait's pose at neutral."""
    score = standing(project, gait, 1.0)
    weights = kit_of(project).assembled(score.bends_deg, score.held).weights
    centre = centre_of_mass(weights, joints_of(project, score, np.zeros(1)))[0]
    track = score.body(np.zeros(1))
    com: Array = track.turn[0] @ centre + track.at[0]
    return com


def _numbers(twist: Twist) -> Planar:
    return twist.vx_mm_s, twist.vy_mm_s, float(np.radians(twist.omega_deg_s))


def _planar(twist: Array) -> Planar:
    vx, vy, omega = (float(v) for v in twist)
    return vx, vy, omega


def _arrays(pose: Planar) -> tuple[Array, Array, Array]:
    x, y, theta = pose
    return np.array(x), np.array(y), np.array(theta)


def _speeds(at: Array, twist: Array) -> Array:
    """(n, 2) mm/s: of the travel frame at places of it."""
    return np.stack([twist[0] - twist[2] * at[:, 1], twist[1] + twist[2] * at[:, 0]], axis=-1)


def _then(pose: Planar, twist: Array, seconds: float) -> Planar:
    dx, dy, turn = displacement(*_planar(twist), seconds)
    x, y = carry(_arrays(pose), dx, dy)
    return float(x), float(y), pose[2] + float(turn)
