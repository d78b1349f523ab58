"""A gait told as keyframes, and keyframes told as a gait.

As keyframes a gait is its poses at every lift-off, landing and mid-swing. Between them a standing foot goes evenly
against the body's travel, which is exact for a walk that does not turn, and a swinging one goes smoothly.

Back: a leg's touchdown is where its foot comes to the floor, its duty the share of the time it stays there; where a leg
comes down more than once, its longest stance counts. Lift is the highest any foot is, the twist is as stated.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.planar_twist import bring_back
from bustle.core.kinds.gaits import CUSTOM
from bustle.core.project.motion import FootAt, Keyframe, Keyframes, LegTiming, LimbEase, PhaseGait, Pose
from bustle.core.project.project import Project, fresh_name, gait_of
from bustle.core.walk.motions import compile_motion
from bustle.core.walk.motions.keyframes import timeline
from bustle.core.walk.motions.pace import Journey, Stretch
from bustle.core.walk.motions.stepping import body_places
from bustle.core.words.problems import refuse

# Instants at which a set of keyframes is looked at for who stands when.
LOOKS = 2000


def as_keyframes(project: Project, name: str) -> Keyframes:
    """The gait's poses at its events and in the middle of its swings."""
    gait = gait_of(project, name)
    if gait.held:
        raise refuse("motion", f"{name} has legs that take no part, and frames put every foot somewhere")
    cycle = gait.cycle_s
    times = {0.0}
    for leg in gait.legs:
        if leg.duty < 1:
            times |= {round(cycle * ((leg.phase + share) % 1.0), 6) % cycle
                      for share in (0.0, leg.duty, (1 + leg.duty) / 2)}  # fmt: skip
    moments = np.array(sorted(times))
    plain = gait.model_copy(update={"pauses": (), "moves_of_arms": ()})
    score = compile_motion(project, plain)
    targets, standing = score.feet_at(moments)[0], score.contacts(moments)
    travel = score.travel(moments)
    x, y = bring_back(travel, targets[..., 0], targets[..., 1])
    frames = []
    for k, at in enumerate(moments):
        sx, sy, ride = (float(v[0]) for v in body_places(Journey((Stretch(gait),)), 0.0, np.array([at])))
        pose = gait.pose.model_copy(
            update={"sway": (), "shift_mm": (round(sx, 3), round(sy, 3)), "ride_height_mm": round(ride, 3)}
        )
        feet = tuple(
            FootAt(limb=m.name, at_mm=(_mm(x[i, k]), _mm(y[i, k]), _mm(targets[i, k, 2])))
            for i, m in enumerate(project.walker.limbs)
            if m.steps
        )
        before = moments[k - 1] if k else moments[-1] - cycle
        ease = tuple(
            LimbEase(limb=m.name, ease="even")
            for i, m in enumerate(project.walker.limbs)
            if m.steps and standing[i, k - 1]
        )
        frames.append(Keyframe(name=f"{k + 1}", move_s=round(float(at - before), 6), pose=pose, feet=feet, ease=ease))
    if len(frames) > 100:
        raise refuse("motion", f"{name} comes to {len(frames)} keyframes; a set has at most 100")
    return Keyframes(
        name=fresh_name(project, f"{name} by frames"),
        frames=tuple(frames),
        twist=gait.twist,
        judged=gait.balance == "static",
    )


def _mm(value: float) -> float:
    return round(float(value), 3) + 0.0


def as_gait(project: Project, name: str) -> PhaseGait:
    """Phases and duties from who stands when."""
    motion = project.motion(name)
    if not isinstance(motion, Keyframes):
        raise refuse("motion", f"{name} is no set of keyframes")
    if not motion.repeats:
        raise refuse("motion", f"{name} does not repeat, so it has no phases")
    score, whole = compile_motion(project, motion), timeline(motion).whole_s
    t = np.arange(LOOKS) * whole / LOOKS
    standing, height = score.contacts(t), score.feet_at(t)[0][..., 2]
    legs = []
    for i, limb in enumerate(project.walker.limbs):
        if limb.steps:
            phase, duty = _stance(standing[i])
            if duty == 0:
                raise refuse("motion", f"{limb.name} never stands in {name}, so it has no duty")
            legs.append(LegTiming(limb=limb.name, phase=phase, duty=duty))
    lift = float(height.max())
    first = motion.frames[0].pose
    pose = Pose(ride_height_mm=first.ride_height_mm, shift_mm=first.shift_mm, bends=first.bends)
    twist = motion.twist
    if any(leg.duty == 1 for leg in legs) and any((twist.vx_mm_s, twist.vy_mm_s, twist.omega_deg_s)):
        idle = next(leg.limb for leg in legs if leg.duty == 1)
        raise refuse("motion", f"{idle} never lifts in {name} though the body moves, so it is no gait")
    return PhaseGait(
        name=fresh_name(project, f"{name} by phases"),
        gait=CUSTOM,
        legs=tuple(legs),
        cycle_s=round(whole, 6),
        twist=twist,
        foot_path="cycloid",
        lift_mm=round(lift, 2),
        pose=pose,
        balance="static" if motion.judged else "dynamic",
    )


def _stance(standing: np.ndarray) -> tuple[float, float]:
    """Touchdown and duty of the longest stance, round the end of the cycle."""
    if standing.all():
        return 0.0, 1.0
    if not standing.any():
        return 0.0, 0.0
    start = int(np.argmin(standing))
    turned = np.roll(standing, -start).astype(int)
    edges = np.diff(np.concatenate([[0], turned, [0]]))
    begins, ends = np.flatnonzero(edges > 0), np.flatnonzero(edges < 0)
    longest = int(np.argmax(ends - begins))
    phase = ((start + begins[longest]) % len(standing)) / len(standing)
    return round(float(phase), 4) % 1.0, round(float((ends - begins)[longest] / len(standing)), 4)
