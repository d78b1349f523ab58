"""What a motion asks for: where each foot steps and when, and where the body is, as functions of time.

A score is the same thing for every kind of motion, so what follows it need not know the kind.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, Protocol

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.compiled import compiled_for, flags, floats, indices
from bustle.core.kinds.foot_paths import Swing
from bustle.core.machine.tracks import BodyTrack, JointTrack, Travel
from bustle.core.project.walker import JointAngle

# A phase this near to an event is that event.
PHASE_TOLERANCE = 1e-9


@dataclass(frozen=True)
class Steps:
    """The steps of one foot in time order; step k swings from footprint k to footprint k+1.

    lift_s, land_s: (K,) s. footprints: (K+1, 2) mm in the ground frame; headings: (K+1,) rad, which way the toes point.
    Before the first lift and after the last landing the foot stands. K may be 0: a planted foot. A track has no
    footprints, and its lifts and landings need not be as many.
    role: "steps" (planted included); "track" for a foot whose place is given outright by `track`, (S, 3) mm, its
    heading (S,) and whether it stands (S,); "floor" for a foot that stands wherever it touches: a support on the frame,
    or a leg whose joints are given; "none" for a limb without a foot.
    """

    lift_s: Array
    land_s: Array
    footprints: Array
    headings: Array
    swing: Swing | None
    role: Literal["steps", "track", "floor", "none"] = "steps"
    track: Callable[[Array], tuple[Array, Array, Flags]] | None = None


class Score(Protocol):
    """duration_s: one cycle, or the whole. stroke_mm: (L,), the foot's travel in stance as seen from the travel frame.

    bends_deg: the hinged sections' angles; held: joints of limbs that do not step. may_rest: the body may lie on the
    floor. landing_mm_s: (L, 2), across and down.
    """

    @property
    def duration_s(self) -> float: ...
    @property
    def periodic(self) -> bool: ...
    @property
    def stroke_mm(self) -> Array: ...
    @property
    def bends_deg(self) -> Mapping[str, float]: ...
    @property
    def held(self) -> tuple[JointAngle, ...]: ...
    @property
    def may_rest(self) -> bool: ...
    @property
    def landing_mm_s(self) -> Array: ...
    @property
    def tolerance_s(self) -> float: ...

    def events(self) -> Array:
        """Times in [0, duration) at which some foot lifts or lands, each once."""
        ...

    def contacts(self, t: Array, before: Flags | bool = False) -> Flags:
        """(L, S): which feet stand at t; where t is an event, just after it, or just before where `before`."""
        ...

    def on_floor(self, t: Array, before: Flags | bool = False) -> Flags:
        """(L, S): which feet stand if they touch, whatever `contacts` says; t and before as there."""
        ...

    def planted(self, t: Array) -> Flags:
        """(L, S): which feet are asked to stand still wherever they stand."""
        ...

    def feet_at(self, t: Array) -> tuple[Array, Array]:
        """Where each foot should be, (L, S, 3) mm, and which way its toes should point, (L, S) rad, in the ground
        frame."""
        ...

    def body(self, t: Array) -> BodyTrack: ...

    def travel(self, t: Array) -> Travel:
        """The travel of `body` alone."""
        ...

    def joints(self, t: Array) -> JointTrack | None:
        """Joints that are given at t; None where none ever is."""
        ...

    def led_by_legs(self, t: Array) -> Flags:
        """(S,): when the body goes as the feet that stand let it, and not as it was asked to."""
        ...


@dataclass(frozen=True)
class Scored:
    """A score of its own: feet, one entry per limb, and the body as a function of time.

    travel_at: the body's travel, where telling all of it takes longer. clock: from time to the time the steps and the
    body are told in, for a walk with pauses; unclock goes back. legs_lead: the body goes as its feet let it. stands_on:
    legs whose joints are given stand still where they touch.
    """

    duration_s: float
    periodic: bool
    feet: tuple[Steps, ...]
    body_at: Callable[[Array], BodyTrack]
    stroke_mm: Array
    bends_deg: Mapping[str, float] = field(default_factory=dict)
    held: tuple[JointAngle, ...] = ()
    joints_at: Callable[[Array], JointTrack] | None = None
    may_rest: bool = False
    clock: Callable[[Array], Array] | None = None
    unclock: Callable[[Array], Array] | None = None
    legs_lead: bool = False
    stands_on: bool = False
    travel_at: Callable[[Array], Travel] | None = None

    @property
    def tolerance_s(self) -> float:
        return PHASE_TOLERANCE * self.duration_s

    @cached_property
    def landing_mm_s(self) -> Array:
        found = np.zeros((len(self.feet), 2))
        for flight in self._flights:
            found[flight.limbs] = flight.landing_mm_s()
        return found

    def told(self, t: Array) -> Array:
        return self.clock(t) if self.clock else t

    def events(self) -> Array:
        times = np.array([t for foot in self.feet for t in (*foot.lift_s, *foot.land_s)])
        if self.unclock:
            times = self.unclock(times)
        inside = np.sort(times[(times >= -self.tolerance_s) & (times < self.duration_s - self.tolerance_s)])
        if inside.size:
            apart = np.concatenate([[True], np.diff(inside) > self.tolerance_s])
            inside = np.maximum(inside[apart], 0.0)
        return inside

    def contacts(self, t: Array, before: Flags | bool = False) -> Flags:
        shifted = self.told(t) + np.where(before, -self.tolerance_s, self.tolerance_s)
        found = np.zeros((len(self.feet), len(shifted)), dtype=bool)
        for i, foot in enumerate(self.feet):
            if foot.track:
                found[i] = foot.track(shifted)[2]
        for flight in self._flights:
            _, air = steps_at(flight.lift_s, flight.land_s, shifted)
            steps = np.array([self.feet[i].role == "steps" for i in flight.limbs.tolist()])
            found[flight.limbs] = ~air & steps[:, None]
        return found

    def on_floor(self, t: Array, before: Flags | bool = False) -> Flags:
        return self._in_roles(("floor",), t)

    def planted(self, t: Array) -> Flags:
        kept = ("steps", "track", "floor") if self.stands_on else ("steps", "track")
        return self._in_roles(kept, t)

    def _in_roles(self, roles: tuple[str, ...], t: Array) -> Flags:
        """(L, S): which feet have one of these roles."""
        return np.repeat([[foot.role in roles] for foot in self.feet], len(t), axis=1)

    def feet_at(self, t: Array) -> tuple[Array, Array]:
        told = self.told(t)
        places, headings = np.zeros((len(self.feet), len(t), 3)), np.zeros((len(self.feet), len(t)))
        for i, foot in enumerate(self.feet):
            if foot.track:
                places[i], headings[i], _ = foot.track(told)
        for flight in self._flights:
            flight.put(places, headings, told, self.tolerance_s)
        return places, headings

    @cached_property
    def _flights(self) -> tuple[Flight, ...]:
        """Feet without a track, those with one swing together."""
        alike: dict[int, list[int]] = {}
        for i, foot in enumerate(self.feet):
            if not foot.track:
                alike.setdefault(id(foot.swing) if len(foot.lift_s) else 0, []).append(i)
        each = ([self.feet[i] for i in limbs] for limbs in alike.values())
        return tuple(
            Flight.of(feet[0].swing if own else None, limbs, feet)
            for (own, limbs), feet in zip(alike.items(), each, strict=True)
        )

    def body(self, t: Array) -> BodyTrack:
        return self.body_at(self.told(t))

    def travel(self, t: Array) -> Travel:
        return self.travel_at(self.told(t)) if self.travel_at else self.body(t).travel

    def joints(self, t: Array) -> JointTrack | None:
        return self.joints_at(self.told(t)) if self.joints_at else None

    def led_by_legs(self, t: Array) -> Flags:
        return np.full(t.shape, self.legs_lead)


def no_steps(role: Literal["floor", "none"]) -> Steps:
    """A limb that is asked for nothing."""
    nothing = np.empty(0)
    return Steps(nothing, nothing, np.zeros((1, 2)), np.zeros(1), None, role)


@compiled_for(floats(2), floats(2), floats(1))
def steps_at(lift_s: Array, land_s: Array, t: Array) -> tuple[Indices, Flags]:
    """(G, S) each, of feet that lift and land at (G, K), in order: the step that each is in or had last at t (S,), −1:
    none yet; and whether it is in the air."""
    feet, most = lift_s.shape
    step, air = np.empty((feet, len(t)), dtype=np.intp), np.zeros((feet, len(t)), dtype=np.bool_)
    for g in range(feet):
        k = -1
        for s in range(len(t)):
            while k >= 0 and lift_s[g, k] > t[s]:
                k -= 1
            while k + 1 < most and lift_s[g, k + 1] <= t[s]:
                k += 1
            step[g, s] = k
            air[g, s] = k >= 0 and t[s] < land_s[g, k]
    return step, air


@compiled_for(floats(2), floats(2), floats(3))
def _longest_and_quickest(lift_s: Array, land_s: Array, prints: Array) -> tuple[Array, Array]:
    """(G,) each, of feet that lift and land at (G, K) and go from print to print (G, K+1, 2): the longest step, mm, and
    the least time that one of them takes."""
    feet, most = lift_s.shape
    longest, quickest = np.zeros(feet), np.full(feet, np.inf)
    for g in range(feet):
        for k in range(most):
            if lift_s[g, k] < np.inf:
                x, y = prints[g, k + 1, 0] - prints[g, k, 0], prints[g, k + 1, 1] - prints[g, k, 1]
                longest[g] = max(longest[g], np.sqrt(x * x + y * y))
                quickest[g] = min(quickest[g], land_s[g, k] - lift_s[g, k])
    return longest, quickest


@compiled_for(floats(2), floats(2), indices(2), flags(2), floats(1))
def _under_way(lift_s: Array, land_s: Array, step: Indices, air: Flags, t: Array) -> tuple[Array, Array]:
    """Of every foot (G, S) that is in the air, one after the other: which share of its swing is over, and how long that
    takes, s."""
    count = 0
    for g in range(air.shape[0]):
        for s in range(air.shape[1]):
            count += air[g, s]
    share, takes, n = np.empty(count), np.empty(count), 0
    for g in range(air.shape[0]):
        for s in range(air.shape[1]):
            if air[g, s]:
                lift = lift_s[g, step[g, s]]
                takes[n] = land_s[g, step[g, s]] - lift
                share[n] = min(max((t[s] - lift) / takes[n], 0.0), 1.0)
                n += 1
    return share, takes


@compiled_for(floats(3), floats(2), indices(2), flags(2), floats(1), floats(1))
def _put(prints: Array, headings: Array, step: Indices, air: Flags, along: Array, height: Array) -> tuple[Array, Array]:
    """Places (G, S, 3) and headings (G, S) of feet on their prints, and of those in the air as far along and as high,
    one after the other; of no swing, where they will land."""
    places, turned, n, flies = np.empty((air.shape[0], air.shape[1], 3)), np.empty(air.shape), 0, len(along) > 0
    for g in range(air.shape[0]):
        for s in range(air.shape[1]):
            k = step[g, s] + 1
            x, y, z, toes = prints[g, k, 0], prints[g, k, 1], 0.0, headings[g, k]
            if air[g, s] and flies:
                share, last = along[n], k - 1
                x = prints[g, last, 0] + share * (x - prints[g, last, 0])
                y = prints[g, last, 1] + share * (y - prints[g, last, 1])
                toes = headings[g, last] + share * (toes - headings[g, last])
                z = height[n]
                n += 1
            places[g, s, 0], places[g, s, 1], places[g, s, 2], turned[g, s] = x, y, z, toes
    return places, turned


@dataclass(frozen=True)
class Flight:
    """Feet with one swing, G of them: limbs (G,), where they are among the limbs. lift_s, land_s: (G, K); prints
    (G, K+1, 2) mm and headings (G, K+1) rad: those with fewer steps never lift again."""

    swing: Swing | None
    limbs: Indices
    lift_s: Array
    land_s: Array
    prints: Array
    headings: Array

    @staticmethod
    def of(swing: Swing | None, limbs: list[int], feet: list[Steps]) -> Flight:
        most = max(len(foot.lift_s) for foot in feet)
        lift, land = np.full((len(feet), most), np.inf), np.full((len(feet), most), np.inf)
        prints, headings = np.zeros((len(feet), most + 1, 2)), np.zeros((len(feet), most + 1))
        for n, foot in enumerate(feet):
            count = len(foot.lift_s)
            lift[n, :count], land[n, :count] = foot.lift_s, foot.land_s
            prints[n, : count + 1], headings[n, : count + 1] = foot.footprints, foot.headings
        return Flight(swing, np.array(limbs, dtype=np.intp), lift, land, prints, headings)

    def landing_mm_s(self) -> list[tuple[float, float]]:
        """The greatest speeds over the ground with which each lands: across and down."""
        if self.swing is None:
            return [(0.0, 0.0)] * len(self.limbs)
        # Both speeds grow with the step and shrink with the time it has.
        steps, times = _longest_and_quickest(self.lift_s, self.land_s, self.prints)
        return [self.swing.landing(step, time) for step, time in zip(steps.tolist(), times.tolist(), strict=True)]

    def put(self, places: Array, headings: Array, t: Array, tolerance_s: float) -> None:
        """Write into places (L, S, 3) and headings (L, S) where these feet are at t (S,)."""
        step, air = steps_at(self.lift_s, self.land_s, t + tolerance_s)
        along = height = np.empty(0)
        if self.swing and air.any():
            u, takes_s = _under_way(self.lift_s, self.land_s, step, air, t)
            along, height = self.swing.along(u), self.swing.height_mm(u, takes_s)
        places[self.limbs], headings[self.limbs] = _put(self.prints, self.headings, step, air, along, height)
