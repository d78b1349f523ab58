"""Poses made by hand, one after another, with durations and an easing per limb."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.easing import quintic
from bustle.core.geometry.planar_twist import carry, displacement
from bustle.core.machine.limb_groups import joint_slices
from bustle.core.machine.sections import turned_each
from bustle.core.machine.tracks import BodyTrack, JointTrack
from bustle.core.project.motion import FootAt, Keyframe, Keyframes, Pose
from bustle.core.project.project import Project
from bustle.core.project.walker import JointAngle, Limb
from bustle.core.walk.motions.stepping import bends_of, body_at
from bustle.core.walk.score import Scored, Steps, no_steps

FootPlace = tuple[float, float, float]
Feet = dict[str, FootPlace]

# A foot this near to the floor stands.
STANDS_MM = 0.05
# How high a foot is lifted that steps over to where a set of frames begins.
STEP_OVER_MM = 15.0

EASES: dict[str, Callable[[Array], Array]] = {
    "smooth": quintic,
    "even": lambda x: x,
    "late": lambda x: x**3,
    "early": lambda x: 1 - (1 - x) ** 3,
}


@dataclass(frozen=True)
class Timeline:
    """When each frame is reached and left. reach_s, leave_s: (F,); whole_s with the way back to the first."""

    reach_s: Array
    leave_s: Array
    whole_s: float
    repeats: bool

    def share(self, t: Array) -> tuple[Indices, Indices, Array]:
        """At t (S,): the frame last reached, the one that follows, and the share of the way to it."""
        t = t % self.whole_s if self.repeats else t
        last = np.clip(np.searchsorted(self.reach_s, t, side="right") - 1, 0, len(self.reach_s) - 1)
        following = (last + 1) % len(self.reach_s)
        arrives = np.where(following == 0, self.whole_s, self.reach_s[following])
        takes = arrives - self.leave_s[last]
        x = np.clip((t - self.leave_s[last]) / np.where(takes > 0, takes, 1.0), 0.0, 1.0)
        return last, following, np.where(takes > 0, x, 0.0)

    def stands(self, low: Flags, t: Array) -> Flags:
        """(S,): whether a foot stands that is on the floor in the frames `low` (F,).

        From floor to floor it stays there; up, it leaves the floor as its frame is left; down, it stands as the other
        is reached.
        """
        last, following, x = self.share(t)
        return low[last] & (low[following] | (x == 0.0))

    def changes(self, low: Flags) -> tuple[Array, Array]:
        """When such a foot lifts and when it lands, s."""
        following = np.roll(low, -1)
        arrives = np.append(self.reach_s[1:], 0.0)
        goes = np.arange(len(low)) < len(low) - (0 if self.repeats else 1)
        return self.leave_s[goes & low & ~following] % self.whole_s, arrives[goes & ~low & following]


def timeline(asked: Keyframes) -> Timeline:
    """The first frame is where it begins; its move_s is the way back to it, where the set repeats."""
    reach, leave, now = [], [], 0.0
    for n, frame in enumerate(asked.frames):
        now += frame.move_s if n else 0.0
        reach.append(now)
        now += frame.hold_s
        leave.append(now)
    whole = now + (asked.frames[0].move_s if asked.repeats else 0.0)
    return Timeline(np.array(reach), np.array(leave), max(whole, 0.02), asked.repeats)


def compile_keyframes(project: Project, asked: Keyframes) -> Scored:
    """Feet are tracks over the place of the body on the floor; they stand where they are on the floor."""
    walker, times = project.walker, timeline(asked)
    frames = asked.frames
    twist = (asked.twist.vx_mm_s, asked.twist.vy_mm_s, float(np.radians(asked.twist.omega_deg_s)))

    def travel(t: Array) -> tuple[Array, Array, Array]:
        return displacement(*twist, t)

    def foot(limb: Limb) -> Steps:
        if not limb.steps or limb.neutral_mm is None:
            return no_steps("floor" if limb.passive else "none")
        places = np.array(_placed(asked, limb.name, (*limb.neutral_mm, 0.0)))
        low = places[:, 2] <= STANDS_MM

        def track(t: Array) -> tuple[Array, Array, Flags]:
            local = _between(times, frames, limb.name, places, t)
            gone = travel(t)
            at = np.stack([*carry(gone, local[:, 0], local[:, 1]), local[:, 2]], axis=-1)
            return at, gone[2] + np.radians(limb.toe_deg), times.stands(low, t)

        lift, land = times.changes(low)
        return Steps(lift, land, np.zeros((1, 2)), np.zeros(1), None, "track", track)

    poses = np.array([_numbers(frame) for frame in frames])

    def body(t: Array) -> BodyTrack:
        x, y, z, roll, pitch, yaw = _between(times, frames, "", poses, t).T
        return body_at(travel(t), (x, y, z), turned_each(yaw, pitch, roll))

    return Scored(
        times.whole_s,
        asked.repeats,
        tuple(foot(limb) for limb in walker.limbs),
        body,
        np.zeros(len(walker.limbs)),
        bends_of(frames[0].pose),
        frames[0].joints,
        _held_joints(project, asked, times),
    )


def feet_of(project: Project, asked: Keyframes, frame: int) -> Feet:
    """Where every foot is in a frame; those never placed are at neutral."""
    return {
        limb.name: _placed(asked, limb.name, (*limb.neutral_mm, 0.0))[frame]
        for limb in project.walker.legs
        if limb.neutral_mm is not None
    }


def stepped_over(
    project: Project, pose: Pose, joints: tuple[JointAngle, ...], before: Feet, after: Feet, seconds: float
) -> Scored | None:
    """From one placement of the feet to another, one foot after the other; None where they are alike.

    A foot that goes from floor to floor is lifted on the way; each takes `seconds`. joints: of limbs that do not step.
    """
    stands = tuple(FootAt(limb=limb, at_mm=place) for limb, place in before.items())
    frames = [Keyframe(name="0", move_s=0.0, pose=pose, feet=stands, joints=joints)]
    for limb, there in after.items():
        here = before[limb]
        if np.abs(np.subtract(there, here)).max() <= STANDS_MM:
            continue
        ways = [there]
        if max(here[2], there[2]) <= STANDS_MM:
            ways.insert(0, ((here[0] + there[0]) / 2, (here[1] + there[1]) / 2, STEP_OVER_MM))
        for way in ways:
            foot = FootAt(limb=limb, at_mm=way)
            frames.append(Keyframe(name=str(len(frames)), move_s=seconds / len(ways), pose=pose, feet=(foot,)))
    if len(frames) == 1:
        return None
    return compile_keyframes(project, Keyframes(name="Step over", frames=tuple(frames), repeats=False))


def _placed(asked: Keyframes, limb: str, neutral: FootPlace) -> list[FootPlace]:
    said = [next((f.at_mm for f in frame.feet if f.limb == limb), None) for frame in asked.frames]
    return [(float(x), float(y), float(z)) for x, y, z in _filled(said, neutral)]


def _numbers(frame: Keyframe) -> tuple[float, ...]:
    p = frame.pose
    return (*p.shift_mm, p.ride_height_mm, p.roll_deg, p.pitch_deg, p.yaw_deg)


def _filled(values: Sequence[tuple[float, ...] | None], at_first: tuple[float, ...]) -> Array:
    """What a frame does not say stays as it was."""
    kept, found = at_first, []
    for value in values:
        kept = kept if value is None else value
        found.append(kept)
    return np.array(found)


def _between(times: Timeline, frames: tuple[Keyframe, ...], limb: str, values: Array, t: Array) -> Array:
    """values (F, N) of the frames at t (S,), each way eased as its arrival frame says for the limb."""
    last, following, x = times.share(t)
    eases = [next((e.ease for e in frame.ease if e.limb == limb), "smooth") for frame in frames]
    share = x.copy()
    for name in set(eases):
        own = np.array([e == name for e in eases])[following]
        share[own] = EASES[name](x[own])
    out: Array = values[last] + share[:, None] * (values[following] - values[last])
    return out


def _held_joints(project: Project, asked: Keyframes, times: Timeline) -> Callable[[Array], JointTrack] | None:
    """Joints of heads, arms and moving masses over the frames; None where no frame moves any."""
    if not any(frame.joints for frame in asked.frames):
        return None
    walker, total = project.walker, sum(len(limb.joints) for limb in project.walker.limbs)
    tracks: list[tuple[int, str, Array]] = []
    for limb, columns in zip(walker.limbs, joint_slices(walker), strict=True):
        for n, joint in enumerate(limb.joints):
            said = [next(((a.value,) for a in frame.joints if (a.limb, a.joint) == (limb.name, joint.name)), None)
                    for frame in asked.frames]  # fmt: skip
            if any(v is not None for v in said):
                scale = 1.0 if joint.kind == "slide" else float(np.radians(1.0))
                tracks.append((columns.start + n, limb.name, _filled(said, (0.0,)) * scale))

    def joints(t: Array) -> JointTrack:
        values, given = np.zeros((len(t), total)), np.zeros((len(t), total), dtype=bool)
        for column, limb, over in tracks:
            values[:, column] = _between(times, asked.frames, limb, over, t)[:, 0]
            given[:, column] = True
        return JointTrack(values, given)

    return joints
