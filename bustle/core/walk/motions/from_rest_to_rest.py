"""A gait from rest, to rest, from rest to rest, and into another; and one standing pose into another."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from itertools import pairwise

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.easing import eased, joining
from bustle.core.geometry.serial_chain import turns
from bustle.core.machine.masses import GRAVITY
from bustle.core.machine.sections import AXES, turned_each
from bustle.core.machine.tracks import BodyTrack
from bustle.core.project.motion import PhaseGait, Pose
from bustle.core.project.project import Project
from bustle.core.walk.motions.given_joints import joint_track
from bustle.core.walk.motions.pace import Journey, Pace, Stretch
from bustle.core.walk.motions.phase_gait import with_pauses
from bustle.core.walk.motions.stepping import LEAN_SHARE, Stepping, bends_of, body_at, placed, stays, swayed_at, told
from bustle.core.walk.score import Scored, no_steps

# A mass on two legs is set going over both feet in so many times √(height/g): 0.65 s of a leg of 260 mm.
SET_GOING = 3.6


def lean_s(*gaits: PhaseGait) -> float:
    """How long they lean into their sway before the first foot lifts: a walk that lives by its timing as its mass takes
    to be set going over both feet, others a share of their cycle."""
    if not any(g.pose.sway or g.moves_of_arms for g in gaits):
        return 0.0
    if any(joins(g) for g in gaits):
        return SET_GOING * float(np.sqrt(gaits[0].pose.ride_height_mm / 1000 / GRAVITY))
    return LEAN_SHARE * gaits[0].cycle_s


def joins(gait: PhaseGait) -> bool:
    """Whether its sway is taken up at its own place, speed and acceleration, since its balance hangs on them."""
    return gait.balance == "dynamic" and bool(gait.pose.sway)


def _joined(gait: PhaseGait, tau_s: float, at_s: float, takes: float, away: bool) -> Callable[[Array], Array]:
    """(S,) → (3, S) mm: from rest to the sway that the gait has at τ, reached at at_s; or away from it, begun then."""
    there, rest = swayed_at(gait, tau_s), np.zeros((3, 3))
    path = joining(there, rest, takes) if away else joining(rest, there, takes)
    begins = at_s if away else at_s - takes

    def beside(t: Array) -> Array:
        on = np.clip(t - begins, 0.0, takes)
        inside = (t >= at_s) if away else (t < at_s)
        found: Array = np.einsum("pk,pt->kt", path, on ** np.arange(6)[:, None]) * inside
        return found

    return beside


def first_lift_s(gait: PhaseGait) -> float:
    """The gait time at which, of the feet that lift, the first one does."""
    lifts = [(leg.phase + leg.duty) % 1.0 for leg in gait.legs if leg.duty < 1]
    return min(lifts, default=0.0) * gait.cycle_s


def setting_out(project: Project, gait: PhaseGait, phase: float) -> Scored:
    """From standing at neutral to the steady gait, which it joins at that phase."""
    if gait.stands:
        return standing(project, gait, 0.0)
    lean, cycle = lean_s(gait), gait.cycle_s
    # All steps begin in order with the first lift; a cycle after full pace every footprint is the steady gait's.
    tau = first_lift_s(gait) - lean
    least = lean + 2 * cycle
    more = (phase * cycle - (tau + least)) % cycle
    whole = least + more
    way = Journey((Stretch(gait, Pace(gather_s=lean, gather_over_s=cycle)),))
    stepping = Stepping(project, way, tau, lean)
    if joins(gait):
        beside = _joined(gait, tau + lean, lean, lean, False)
        return with_pauses(told(stepping, whole, lambda t: np.where(t >= lean, 1.0, 0.0), False, beside), gait, tau)
    return with_pauses(told(stepping, whole, lambda t: eased(t, 0.0, lean), False), gait, tau)


def coming_to_rest(project: Project, gait: PhaseGait, phase: float) -> Scored:
    """From the steady gait at that phase to standing at neutral."""
    if gait.stands:
        return standing(project, gait, 0.0)
    way = Journey((Stretch(gait, Pace(lose_s=0.0, lose_over_s=gait.cycle_s)),))
    return _to_rest(Stepping(project, way, phase * gait.cycle_s), None, lean_s(gait))


# What two walks have to have alike for one to flow into the other, in the builder's words.
ALIKE = {
    "cycle_s": "cycle",
    "legs": "timing",
    "lift_mm": "lift",
    "foot_path": "foot path",
    "swing": "swing",
    "pose": "pose",
    "pauses": "pauses",
    "joints": "held joints",
    "held": "legs that take part",
    "moves_of_arms": "arms",
    "inverted": "side up",
    "travel": "way the body goes",
}


def apart(one: PhaseGait, other: PhaseGait) -> list[str]:
    """What keeps a walk from taking the other's twist and sway without coming to rest; nothing where it can."""
    found = []
    for name, word in ALIKE.items():
        a, b = (getattr(gait, name) for gait in (one, other))
        if not (same_stance(a, b) if name == "pose" else a == b):
            found.append(word)
    return found


def same_stance(one: Pose, other: Pose) -> bool:
    """The same pose, sways aside."""
    return one.model_copy(update={"sway": ()}) == other.model_copy(update={"sway": ()})


def flows_into(one: PhaseGait, other: PhaseGait) -> bool:
    return not one.stands and not apart(one, other)


def flowing(project: Project, one: PhaseGait, phase: float, other: PhaseGait, into: float) -> Scored:
    """From one steady gait at a phase into another that it flows into, at that one's."""
    cycle = one.cycle_s
    # A cycle after the change every footprint is the other gait's.
    whole = 2 * cycle + (into - phase) % 1.0 * cycle
    way = Journey((Stretch(one, Pace(lose_s=0.0, lose_over_s=cycle)), Stretch(other, Pace(0.0, gather_over_s=cycle))))
    tau = phase * cycle
    return with_pauses(told(Stepping(project, way, tau), whole, None, False), one, tau)


def walked(project: Project, ways: Sequence[tuple[PhaseGait, float]]) -> Scored:
    """From rest to rest, as far as so many cycles of a steady gait, then of the next that it flows into."""
    first = ways[0][0]
    cycle = first.cycle_s
    lean = lean_s(*(gait for gait, _ in ways))
    takes = [cycles * cycle for _, cycles in ways]
    # A change takes a cycle, or as long as the shorter of what it lies between.
    ramps = [min(cycle, *near) for near in pairwise([cycle, *takes, cycle])]
    stretches, begins = [], lean
    for (gait, _), took, over, out_over in zip(ways, takes, ramps, ramps[1:], strict=False):
        ends = begins + over / 2 + took - out_over / 2
        stretches.append(Stretch(gait, Pace(begins, ends, over, out_over)))
        begins = ends
    return _to_rest(Stepping(project, Journey(tuple(stretches)), first_lift_s(first) - lean, lean), lean, lean)


def _to_rest(stepping: Stepping, lean_in_s: float | None, lean_out_s: float) -> Scored:
    """Until the last foot has arrived, then out of the sway."""
    stopped = stepping.way.stopped_s
    arrived = max((float(foot.land_s[-1]) for foot in stepping.steps(stopped + 2 * stepping.gait.cycle_s)
                   if len(foot.land_s)), default=0.0)  # fmt: skip
    still = max(stopped, arrived)

    first, last = stepping.gait, stepping.way.stretches[-1].gait
    if joins(first) and joins(last):
        out = _joined(last, stepping.tau_s + still, still, lean_out_s, True)
        into = _joined(first, stepping.tau_s + lean_in_s, lean_in_s, lean_in_s, False) if lean_in_s else None

        def sways(t: Array) -> Array:
            return np.where((t < still) & (t >= (lean_in_s or 0.0)), 1.0, 0.0)

        def beside(t: Array) -> Array:
            return out(t) + into(t) if into else out(t)

        return with_pauses(told(stepping, still + lean_out_s, sways, False, beside), first, stepping.tau_s)

    def lean(t: Array) -> Array:
        share = 1.0 - eased(t, still, lean_out_s)
        return share if lean_in_s is None else share * eased(t, 0.0, lean_in_s)

    return with_pauses(told(stepping, still + lean_out_s, lean, False), stepping.gait, stepping.tau_s)


def standing(project: Project, gait: PhaseGait, seconds: float) -> Scored:
    """Standing in the gait's pose, without its sway."""
    return changed_pose(project, gait.pose, gait.pose, seconds, gait)


def changed_pose(project: Project, before: Pose, after: Pose, seconds: float, gait: PhaseGait) -> Scored:
    """From one standing pose into another, all feet planted at neutral. `gait` holds the joints that do not step."""
    first, last = (np.array(_numbers(p)) for p in (before, after))

    def body(t: Array) -> BodyTrack:
        share = eased(t, 0.0, seconds)[:, None]
        x, y, z, roll, pitch, yaw = (first + share * (last - first)).T
        nought = np.zeros(len(t))
        tilt = turned_each(yaw, pitch, roll)
        if gait.inverted:
            tilt = tilt @ turns(AXES["roll"], np.array(np.pi))
        return body_at((nought, nought, nought), (x, y, z), tilt)

    held = gait.held_legs
    feet = tuple(no_steps("floor") if limb.name in held else stays(limb) for limb in project.walker.limbs)
    joints = joint_track(project.walker, gait.model_copy(update={"moves_of_arms": ()}))
    return Scored(seconds, False, feet, body, np.zeros(len(feet)), bends_of(after), gait.joints, joints)


def _numbers(pose: Pose) -> tuple[float, ...]:
    """x, y, ride height, roll, pitch, yaw."""
    x, y, z = (float(v[0]) for v in placed(pose, (1,)))
    return x, y, z, pose.roll_deg, pose.pitch_deg, pose.yaw_deg
