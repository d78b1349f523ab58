"""Motions in a row, each from rest to rest: what has to happen between two of them is put in.

Between two standing poses the body moves over planted feet. Where other legs take part, those that did not are put down
first, all stand while the pose changes, and those that no longer do are taken up. Into a pose given by its joints the
body first goes down as far as the legs let it, on to its belly where they can, and then the joints turn; out of one the
same way back.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np

from bustle.core.at_rest.posed_joints import posed_joints
from bustle.core.at_rest.resting_height import lies_at_mm
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.easing import eased
from bustle.core.machine.kit import kit_of
from bustle.core.machine.limb_groups import limits_of
from bustle.core.machine.tracks import JointTrack
from bustle.core.project.motion import HeldLeg, JointPose, Keyframes, PhaseGait, Pose, Swings
from bustle.core.project.project import Project
from bustle.core.project.walker import JointAngle
from bustle.core.walk.course import TOUCHES_MM, joints_of
from bustle.core.walk.motions.from_rest_to_rest import changed_pose, same_stance, standing
from bustle.core.walk.motions.given_joints import held_columns, steered_to
from bustle.core.walk.motions.joint_pose import given_joints
from bustle.core.walk.motions.keyframes import Feet, compile_keyframes, feet_of, stepped_over
from bustle.core.walk.motions.swings import compile_swings, middle_of
from bustle.core.walk.score import Score
from bustle.core.walk.scores_in_a_row import Chained, chained

# Heights tried on the way down, and what a leg may miss by.
HEIGHTS = 25
MISS_MM = 1e-3
# Joints so near each other are the same, rad or mm.
SAME = 1e-9


@dataclass
class Row:
    """What has been put in a row so far, and how the walker stands at its end: in a pose, or with joints given.

    gait: the last that stood or walked, by which legs are held.
    feet: where they stand, where that is not neutral. arms: joints of limbs that do not step, as frames have them.
    played: sets of frames compiled before, by name.
    """

    project: Project
    pose_s: float
    scores: list[tuple[str, Score]] = field(default_factory=list)
    pose: Pose | None = None
    joints: Array | None = None
    gait: PhaseGait | None = None
    feet: Feet | None = None
    arms: tuple[JointAngle, ...] = ()
    played: dict[str, Score] = field(default_factory=dict)

    def add(self, name: str, score: Score) -> None:
        self.scores.append((name, score))

    def to_pose(self, gait: PhaseGait) -> None:
        """Stand as the gait does before its first step."""
        self._home()
        if self.joints is not None and self._stands(gait, gait.pose, self.joints):
            self.pose, self.joints, self.gait = gait.pose, None, gait
        if self.joints is not None:
            low = self._lowered(gait)
            self.add("Get up", given_joints(self.project, self.joints, _standing_joints(self.project, gait, low),
                                            self.pose_s))  # fmt: skip
            self.pose, self.joints, self.gait = low, None, gait
        before = self.gait if self.gait and self.pose is not None else gait
        down = gait
        if _others(self.project, before, gait):
            assert self.pose is not None
            down = gait.model_copy(update={"held": tuple(h for h in gait.held if h.limb in before.held_legs)})
            if _others(self.project, before, down):
                name = "Legs down" if before.held_legs - gait.held_legs else "Wheels turn"
                self.add(name, _taking_part(self.project, self.pose, before, down, self.pose_s))
        if self.pose is not None and not same_stance(self.pose, gait.pose):
            self.add(f"Into {gait.name}", changed_pose(self.project, self.pose, gait.pose, self.pose_s, down))
        if _others(self.project, down, gait):
            self.add("Legs up", _taking_part(self.project, gait.pose, down, gait, self.pose_s))
        self.pose, self.gait = gait.pose, gait

    def to_joints(self, pose: JointPose, gait: PhaseGait) -> None:
        """Into a pose of joints; `gait` says how it stands where nothing has been in the row yet."""
        self._home()
        joints = posed_joints(self.project.walker, pose.joints)
        if self.joints is None:
            if self.pose is not None and self._stands(self.gait or gait, self.pose, joints):
                self.joints = joints
            elif self.pose is not None:
                gait = self.gait or gait
                low = self._lowered(gait)
                if not same_stance(self.pose, low):
                    self.add("Down", changed_pose(self.project, self.pose, low, self.pose_s, gait))
                self.joints = _standing_joints(self.project, gait, low)
            else:
                self.joints = joints
        if np.abs(joints - self.joints).max(initial=0.0) > 1e-9:
            self.add(f"Into {pose.name}", given_joints(self.project, self.joints, joints, self.pose_s))
        self.pose, self.joints = None, joints

    def swing_from_rest(self, swings: Swings, gait: PhaseGait) -> None:
        """Into the middles of its swings, and into them."""
        self.to_joints(middle_of(swings), gait)
        into = swings.model_copy(update={"goes": "from_rest"})
        self.add(f"{swings.name} from rest", compile_swings(self.project, into))

    def swing(self, swings: Swings, cycles: int) -> None:
        """On and on, for so many cycles."""
        on = compile_swings(self.project, swings.model_copy(update={"goes": "on"}))
        self.add(swings.name, replace(on, duration_s=cycles * swings.cycle_s, periodic=False))

    def swing_to_rest(self, swings: Swings) -> None:
        out = swings.model_copy(update={"goes": "to_rest"})
        self.add(f"{swings.name} to rest", compile_swings(self.project, out))
        self.pose, self.joints = None, posed_joints(self.project.walker, middle_of(swings).joints)

    def hold(self, name: str, seconds: float, gait: PhaseGait) -> None:
        if self.joints is not None:
            self.add(name, given_joints(self.project, self.joints, self.joints, seconds))
        else:
            self.add(name, standing(self.project, gait, seconds))

    def to_frames(self, keyframes: Keyframes, gait: PhaseGait) -> None:
        """Into the first frame: its pose, then feet to where it has them, one after another."""
        first = keyframes.frames[0].pose
        if self.joints is not None or self.pose is None or not same_stance(self.pose, first):
            # Frames put every foot somewhere.
            self.to_pose(gait.model_copy(update={"pose": first, "held": ()}))
        self.arms = keyframes.frames[0].joints
        self._step_over(feet_of(self.project, keyframes, 0), f"Into {keyframes.name}")

    def stands_in(self, keyframes: Keyframes, frame: int) -> None:
        """As where the row begins, or after it has been played."""
        self.pose, self.feet = keyframes.frames[frame].pose, feet_of(self.project, keyframes, frame)
        self.gait = None
        self.arms = keyframes.frames[frame].joints

    def play(self, keyframes: Keyframes) -> None:
        if keyframes.name not in self.played:
            self.played[keyframes.name] = compile_keyframes(self.project, keyframes)
        self.add(keyframes.name, self.played[keyframes.name])
        self.stands_in(keyframes, 0 if keyframes.repeats else -1)

    def _home(self) -> None:
        if self.feet is not None:
            self._step_over(_neutral(self.project), "Feet to neutral")
            self.feet = None

    def _step_over(self, feet: Feet, name: str) -> None:
        assert self.pose is not None
        score = stepped_over(
            self.project, self.pose, self.arms, self.feet or _neutral(self.project), feet, self.pose_s / 2
        )
        if score:
            self.add(name, score)
        self.feet = feet

    @property
    def lasts(self) -> bool:
        """Whether anything in it takes time."""
        return any(score.duration_s > 0 for _, score in self.scores)

    def whole(self) -> Chained:
        return chained(self.scores)

    def _stands(self, gait: PhaseGait, pose: Pose, joints: Array) -> bool:
        """Whether it stands in a pose with these very joints: nothing has to go down in between."""
        return bool(np.abs(_standing_joints(self.project, gait, pose) - joints).max(initial=0.0) < SAME)

    def _lowered(self, gait: PhaseGait) -> Pose:
        """The gait's pose, level and as low as its legs can carry it, no lower than on its belly or what holds that up.
        A curved sole rolls: as a leg lets the body down it leans aside at once."""
        level = Pose(ride_height_mm=gait.pose.ride_height_mm, bends=gait.pose.bends)
        walker = self.project.walker
        belly = max(1.0, lies_at_mm(walker, {b.section: b.angle_deg for b in gait.pose.bends}))
        if level.ride_height_mm <= belly + TOUCHES_MM or kit_of(self.project).rolls:
            return level
        down = changed_pose(self.project, level, level.model_copy(update={"ride_height_mm": belly}), 1.0, gait)
        t = np.linspace(0.0, 1.0, HEIGHTS)
        solved = joints_of(self.project, down, t)
        low, high = (np.concatenate(ends) for ends in zip(*(limits_of(m) for m in walker.limbs), strict=True))
        good = (solved.miss_mm <= MISS_MM).all(axis=0)
        good &= ((solved.joints >= low - 1e-9) & (solved.joints <= high + 1e-9)).all(axis=1)
        last = int(np.flatnonzero(~good)[0]) - 1 if not good.all() else HEIGHTS - 1
        height = float(down.body(t[max(last, 0) : max(last, 0) + 1]).at[0, 2])
        return level.model_copy(update={"ride_height_mm": height})


def _others(project: Project, one: PhaseGait, other: PhaseGait) -> bool:
    """Whether other legs take part, legs that take none are held otherwise, or wheels steered elsewhere."""
    if one.held_legs != other.held_legs or steered_to(project.walker, one) != steered_to(project.walker, other):
        return True
    held = [{a for a in gait.joints if a.limb in one.held_legs} for gait in (one, other)]
    return held[0] != held[1]


def _taking_part(project: Project, pose: Pose, before: PhaseGait, after: PhaseGait, seconds: float) -> Score:
    """Standing in a pose on the legs that take part before and after, while others are put down or taken up."""
    first, last = (_standing_joints(project, gait, pose) for gait in (before, after))
    standing_on = after.model_copy(
        update={"held": tuple(HeldLeg(limb=name) for name in sorted(before.held_legs | after.held_legs))}
    )
    columns = [*held_columns(project.walker, standing_on), *steered_to(project.walker, after)]
    score = changed_pose(project, pose, pose, seconds, standing_on)

    def joints(t: Array) -> JointTrack:
        assert score.joints_at
        found, share = score.joints_at(t), eased(t, 0.0, seconds)[:, None]
        found.values[:, columns] = first[columns] + share * (last - first)[columns]
        return found

    return replace(score, joints_at=joints)


def _neutral(project: Project) -> Feet:
    return {m.name: (*m.neutral_mm, 0.0) for m in project.walker.legs if m.neutral_mm is not None}


def _standing_joints(project: Project, gait: PhaseGait, pose: Pose) -> Array:
    joints: Array = joints_of(project, changed_pose(project, pose, pose, 1.0, gait), np.zeros(1)).joints[0]
    return joints


def usual_gait(project: Project) -> PhaseGait:
    """How the walker stands where a motion does not say: as in its first standing pose, else its first gait."""
    gaits = [m for m in project.motions if isinstance(m, PhaseGait)]
    return next((g for g in gaits if g.stands), gaits[0])
