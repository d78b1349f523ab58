"""A gait from rest, to rest, and from rest to rest; and one standing pose into another."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from bustle.core.chain import turns
from bustle.core.frame import AXES, turned_each
from bustle.core.motion import PhaseGait, Pose
from bustle.core.motions.phase_gait import with_pauses
from bustle.core.motions.stepping import (
    LEAN_SHARE,
    Pace,
    Stepping,
    bends_of,
    body_at,
    eased,
    stays,
    swayed,
    told,
)
from bustle.core.project import Project
from bustle.core.score import BodyTrack, Scored

Array = NDArray[np.float64]


def lean_s(gait: PhaseGait) -> float:
    """How long it leans into its sway before the first foot lifts."""
    return LEAN_SHARE * gait.cycle_s if gait.pose.sway or gait.moves_of_arms else 0.0


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
    pace = Pace(gather_s=lean, ramp_s=cycle)
    score = told(Stepping(project, gait, tau, pace, lean), whole, lambda t: eased(t, 0.0, lean), False)
    return with_pauses(score, gait, tau)


def coming_to_rest(project: Project, gait: PhaseGait, phase: float) -> Scored:
    """From the steady gait at that phase to standing at neutral."""
    if gait.stands:
        return standing(project, gait, 0.0)
    pace = Pace(lose_s=0.0, ramp_s=gait.cycle_s)
    stepping = Stepping(project, gait, phase * gait.cycle_s, pace)
    return _to_rest(stepping, None, lean_s(gait))


def walked(project: Project, gait: PhaseGait, cycles: float) -> Scored:
    """From rest to rest, as far as `cycles` of the steady gait."""
    lean, cycle = lean_s(gait), gait.cycle_s
    ramp = min(cycle, cycles * cycle)
    pace = Pace(gather_s=lean, lose_s=lean + ramp + (cycles * cycle - ramp), ramp_s=ramp)
    stepping = Stepping(project, gait, first_lift_s(gait) - lean, pace, lean)
    return _to_rest(stepping, lean, lean)


def _to_rest(stepping: Stepping, lean_in_s: float | None, lean_out_s: float) -> Scored:
    """Until the last foot has arrived, then out of the sway."""
    pace = stepping.pace
    assert pace.lose_s is not None
    stopped = pace.lose_s + pace.ramp_s
    arrived = max((float(foot.land_s[-1]) for foot in stepping.steps(stopped + 2 * stepping.gait.cycle_s)
                   if len(foot.land_s)), default=0.0)  # fmt: skip
    still = max(stopped, arrived)

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

    feet = tuple(stays(limb) for limb in project.walker.limbs)
    return Scored(seconds, False, feet, body, np.zeros(len(feet)), bends_of(after), gait.joints)


def _numbers(pose: Pose) -> tuple[float, ...]:
    """x, y, ride height, roll, pitch, yaw."""
    x, y, z = (float(v[0]) for v in swayed(pose, 1.0, np.zeros(1), 0.0))
    return x, y, z, pose.roll_deg, pose.pitch_deg, pose.yaw_deg
