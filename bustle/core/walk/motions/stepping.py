"""A phase gait over any course of its pace: steady, from rest, to rest, from rest to rest, or from twist to twist.

The gait's own time τ runs evenly; what changes is how far along its way X(t) the body is (see `pace`).

Mid-stance is at neutral, so a foot that stands from T(φ + k) to T(φ + k + duty) of τ stands at X(m)·neutral, m the
middle of its stance in time. Where X stands still that is the neutral place of standing, so the walk begins
and ends with all feet at neutral, and in between no foot moves over the ground while it stands. A step begun
before the pace or the twist changes lands where it would have without the change.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.planar_twist import carry
from bustle.core.geometry.serial_chain import turns
from bustle.core.kinds.foot_paths import FOOT_PATHS, Swing
from bustle.core.machine.sections import AXES, turned
from bustle.core.machine.tracks import BodyTrack
from bustle.core.project.motion import LegTiming, PhaseGait, Pose, SwayTerm
from bustle.core.project.project import Project
from bustle.core.project.walker import Limb
from bustle.core.walk.motions.given_joints import joint_track
from bustle.core.walk.motions.pace import Journey, velocity
from bustle.core.walk.score import Scored, Steps, no_steps

Clock = Callable[[Array], Array]

# Leaning into a gait's sway and out of it takes this share of its cycle.
LEAN_SHARE = 0.35


def swings_of_legs(gait: PhaseGait) -> dict[str, Swing]:
    """How each leg swings: legs alike in the very same swing."""
    alike = {(leg.foot_path, leg.lift_mm): leg for leg in gait.legs}
    swings = {told: _swing_of(gait, leg) for told, leg in alike.items()}
    return {leg.limb: swings[leg.foot_path, leg.lift_mm] for leg in gait.legs}


def _swing_of(gait: PhaseGait, leg: LegTiming) -> Swing:
    path = FOOT_PATHS[leg.foot_path or gait.foot_path]
    shape = gait.swing
    lift = gait.lift_mm if leg.lift_mm is None else leg.lift_mm
    first, last = shape.lift_start_mm, shape.lift_end_mm
    return Swing(
        path,
        (lift if first is None else first, lift, lift if last is None else last),
        shape.points if shape.points and len(shape.points) <= path.most_points else path.points,
        shape.early,
        shape.matched,
        shape.landing_mm_s if path.smooth or shape.matched else 0.0,
    )


def strokes(project: Project, way: Journey) -> Array:
    """(L,) mm: speed of the foot × duty × T, the longest on the way."""
    found = np.zeros(len(project.walker.limbs))
    for gait in (s.gait for s in way.stretches):
        vx, vy, omega = velocity(gait)
        timing = {leg.limb: leg for leg in gait.legs}
        for i, limb in enumerate(project.walker.limbs):
            if limb.steps and limb.neutral_mm is not None and limb.name in timing:
                x, y = limb.neutral_mm
                stroke = np.hypot(vx - omega * y, vy + omega * x) * timing[limb.name].duty * gait.cycle_s
                found[i] = max(found[i], stroke)
    return found


def bends_of(pose: Pose) -> dict[str, float]:
    return {b.section: b.angle_deg for b in pose.bends}


@dataclass(frozen=True)
class Stepping:
    """Gaits of one timing on a way, told from τ = tau_s at t = 0. step_s: no foot lifts before; None: as the steady
    gait does.

    Feet that have arrived where they stay are not lifted again once the pace is lost.
    """

    project: Project
    way: Journey
    tau_s: float
    step_s: float | None = None

    @property
    def gait(self) -> PhaseGait:
        """The first of them; its steps are the others' too."""
        return self.way.stretches[0].gait

    def steps(self, until_s: float) -> list[Steps]:
        """One entry per limb, every step that is under way at some t in [0, until_s], and one on either side."""
        timing = {leg.limb: leg for leg in self.gait.legs}
        found = [self._not_lifted(limb, timing.get(limb.name)) for limb in self.project.walker.limbs]
        lifted = [i for i, steps in enumerate(found) if steps is None]
        if not lifted:
            return [steps for steps in found if steps is not None]
        limbs = [self.project.walker.limbs[i] for i in lifted]
        legs = [timing[limb.name] for limb in limbs]
        stands = [self._stands(leg, until_s) for leg in legs]
        # A step lands where it was going to as it lifted; the step before the first lifted a cycle earlier.
        counts = [len(stand) for stand in stands]
        stand = np.concatenate(stands)
        duty: Array = np.repeat([self.gait.cycle_s * leg.duty for leg in legs], counts)
        x, y = (np.repeat(v, counts) for v in np.array([limb.neutral_mm for limb in limbs], dtype=float).T)
        toes = np.repeat([np.radians(limb.toe_deg) for limb in limbs], counts)
        known = self.way.known_at(stand + duty - self.gait.cycle_s)
        travelled = self.way.at(stand + duty / 2, known)
        prints, headings = np.stack(carry(travelled, x, y), axis=-1), travelled[2] + toes
        first, swings = 0, swings_of_legs(self.gait)
        for i, limb, leg, count in zip(lifted, limbs, legs, counts, strict=True):
            own = slice(first, first + count)
            lift, land = stand[own][:-1] + duty[first], stand[own][1:]
            found[i] = self._stepped(limb, swings[leg.limb], lift, land, prints[own], headings[own])
            first += count
        return [steps for steps in found if steps is not None]

    def _not_lifted(self, limb: Limb, leg: LegTiming | None) -> Steps | None:
        """What a limb does that lifts no foot by the gait's timing; None of one that does."""
        if limb.name in self.gait.held_legs:
            return no_steps("floor")
        if not limb.steps or limb.neutral_mm is None or leg is None:
            return no_steps("floor" if limb.passive else "none")
        return self._kept_down(limb) if leg.duty == 1 else None

    def _stands(self, leg: LegTiming, until_s: float) -> Array:
        """When its stances begin, s."""
        cycle = self.gait.cycle_s
        first = int(np.floor(self.tau_s / cycle - leg.phase)) - 2
        last = int(np.ceil((self.tau_s + until_s) / cycle - leg.phase)) + 2
        return np.asarray(cycle * (leg.phase + np.arange(first, last + 1)) - self.tau_s, dtype=float)

    def _stepped(self, limb: Limb, swing: Swing, lift: Array, land: Array, footprints: Array, headings: Array) -> Steps:
        """Without the steps that come before it may step, and those that are for nothing once the pace is lost."""
        if self.step_s is not None:
            early = int(np.searchsorted(lift, self.step_s - 1e-9))
            rest, heading = self._prints(limb, np.array([self.step_s]))
            lift, land = lift[early:], land[early:]
            footprints = np.concatenate([rest, footprints[early + 1 :]])
            headings = np.concatenate([heading, headings[early + 1 :]])
        if self.way.last.lose_s is not None:
            moved = np.linalg.norm(np.diff(footprints, axis=0), axis=1) + np.abs(np.diff(headings))
            goes = (moved > 1e-9) | (lift < self.way.stopped_s - 1e-9)
            kept = int(np.flatnonzero(goes)[-1]) + 1 if goes.any() else 0
            lift, land = lift[:kept], land[:kept]
            footprints, headings = footprints[: kept + 1], headings[: kept + 1]
        return Steps(lift, land, footprints, headings, swing)

    def _prints(self, limb: Limb, t: Array) -> tuple[Array, Array]:
        travelled = self.way.at(t)
        assert limb.neutral_mm is not None
        return np.stack(carry(travelled, *limb.neutral_mm), axis=-1), travelled[2] + np.radians(limb.toe_deg)

    def _kept_down(self, limb: Limb) -> Steps:
        """A foot that never lifts: it stays where it is, or rolls or slides along under a body that moves."""
        assert limb.neutral_mm is not None
        if not any(s.gait.moves for s in self.way.stretches):
            return stays(limb)

        def track(t: Array) -> tuple[Array, Array, Flags]:
            at, heading = self._prints(limb, t)
            return np.concatenate([at, np.zeros((len(t), 1))], axis=1), heading, np.ones(len(t), dtype=bool)

        nothing = np.empty(0)
        return Steps(nothing, nothing, np.zeros((1, 2)), np.zeros(1), None, "track", track)


def stays(limb: Limb) -> Steps:
    """A foot planted at neutral; a limb without one is asked for nothing."""
    if not limb.steps or limb.neutral_mm is None:
        return no_steps("floor" if limb.passive else "none")
    nothing = np.empty(0)
    return Steps(nothing, nothing, np.array([limb.neutral_mm]), np.radians([limb.toe_deg]), None)


def placed(pose: Pose, shape: tuple[int, ...]) -> tuple[Array, Array, Array]:
    """Shift and ride height, without sway: x, y, z in mm."""
    x, y = (np.full(shape, v) for v in pose.shift_mm)
    return x, y, np.full(shape, pose.ride_height_mm)


def swayed_at(gait: PhaseGait, tau_s: float) -> Array:
    """(3, 3): place, speed and acceleration (rows) of the gait's sway and heave at its time τ, mm and s."""
    found = np.zeros((3, 3))
    for term in gait.pose.sway:
        rate = 2 * np.pi * term.harmonic / gait.cycle_s
        c, s = np.cos(rate * tau_s), np.sin(rate * tau_s)
        cos = np.array([term.x_cos_mm, term.y_cos_mm, term.z_cos_mm])
        sin = np.array([term.x_sin_mm, term.y_sin_mm, term.z_sin_mm])
        place = cos * c + sin * s
        found += np.stack([place, rate * (sin * c - cos * s), -(rate**2) * place])
    return found


def body_places(way: Journey, tau_s: float, t: Array, share: Array | float = 1.0) -> tuple[Array, Array, Array]:
    """Where the poses on the way have the body in the travel frame at t, their sways by `share`: x, y, z in mm."""
    first = way.stretches[0].gait
    x, y, z = placed(first.pose, t.shape)
    # Mostly there is one sway, and it need not be parted.
    same = all(s.gait.pose.sway == first.pose.sway for s in way.stretches)
    for stretch, own in [(way.stretches[0], np.ones(t.shape))] if same else way.shares(t):
        if stretch.gait.pose.sway:
            swayed = _swayed(stretch.gait.pose.sway, 2 * np.pi / first.cycle_s * (tau_s + t)) * (share * own)
            x, y, z = x + swayed[0], y + swayed[1], z + swayed[2]
    return x, y, z


def _swayed(terms: tuple[SwayTerm, ...], turned_by: Array) -> Array:
    """(3, S) mm, of a cycle turned by so many radians (S,)."""
    angle = np.outer([term.harmonic for term in terms], turned_by)
    cos = np.array([(term.x_cos_mm, term.y_cos_mm, term.z_cos_mm) for term in terms]).T
    sin = np.array([(term.x_sin_mm, term.y_sin_mm, term.z_sin_mm) for term in terms]).T
    found: Array = cos @ np.cos(angle) + sin @ np.sin(angle)
    return found


def body_at(travel: tuple[Array, Array, Array], place: tuple[Array, Array, Array], tilt: Array) -> BodyTrack:
    """body = travel ∘ pose; place: x, y, z (S,) in the travel frame, tilt: (3, 3) or (S, 3, 3)."""
    x, y, z = place
    at = np.stack([*carry(travel, x, y), z], axis=-1)
    return BodyTrack(at, turns(AXES["yaw"], travel[2]) @ tilt, travel)


def tilt_of(pose: Pose) -> Array:
    return turned(pose.yaw_deg, pose.pitch_deg, pose.roll_deg)


def told(
    stepping: Stepping, duration_s: float, lean: Callable[[Array], Array] | None, periodic: bool,
    beside: Callable[[Array], Array] | None = None,
) -> Scored:  # fmt: skip
    """The stepping as a score; lean(t): the share of the sway; beside(t): (3, S) mm that the body is moved besides."""
    gait = stepping.gait
    tilt = tilt_of(gait.pose)
    if gait.inverted:
        tilt = tilt @ turns(AXES["roll"], np.array(np.pi))

    def body(t: Array) -> BodyTrack:
        share = lean(t) if lean else 1.0
        x, y, z = body_places(stepping.way, stepping.tau_s, t, share)
        if beside:
            more = beside(t)
            x, y, z = x + more[0], y + more[1], z + more[2]
        return body_at(stepping.way.at(t), (x, y, z), tilt)

    return Scored(
        duration_s,
        periodic,
        tuple(stepping.steps(duration_s)),
        body,
        strokes(stepping.project, stepping.way),
        bends_of(gait.pose),
        gait.joints,
        joint_track(stepping.project.walker, gait, stepping.tau_s, lean),
        legs_lead=gait.travel == "implied",
        travel_at=stepping.way.at,
    )
