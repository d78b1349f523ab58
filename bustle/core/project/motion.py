"""The motions of a walker as immutable, validated values. Each kind compiles to a score (see `motions`)."""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field, Strict

from bustle.core.project.field_types import (
    Angle,
    Coordinate,
    Flag,
    Name,
    PartName,
    PlanePoint,
    Point,
    Real,
    Tilt,
    UpTo,
    Value,
    tagged,
    told_by_kind,
)
from bustle.core.project.walker import JointAngle

Lift = Annotated[Real, Field(ge=0, le=1000)]
Balance = Literal["static", "dynamic"]
PathPoint = tuple[Annotated[Real, Field(ge=-2, le=3)], Annotated[Real, Field(ge=0, le=4)]]


class LegTiming(Value):
    """Phase: the share of the cycle at which this leg touches down. Duty: its share of the cycle in stance.

    lift_mm, foot_path: this leg's own, where it differs from the motion's.
    """

    limb: PartName
    phase: Annotated[Real, Field(ge=0, lt=1)]
    duty: Annotated[Real, Field(gt=0, le=1)]
    lift_mm: Lift | None = None
    foot_path: str | None = None


class Twist(Value):
    """Body velocity in its own frame: forward, left, and turning left."""

    vx_mm_s: Annotated[Real, Field(ge=-3000, le=3000)] = 0.0
    vy_mm_s: Annotated[Real, Field(ge=-3000, le=3000)] = 0.0
    omega_deg_s: Annotated[Real, Field(ge=-720, le=720)] = 0.0


class SwayTerm(Value):
    """One harmonic of the body's sway and heave: offset += cos·cos(2πnt/T) + sin·sin(2πnt/T)."""

    harmonic: Annotated[int, Strict(), Field(ge=1, le=12)] = 1
    x_cos_mm: Coordinate = 0.0
    x_sin_mm: Coordinate = 0.0
    y_cos_mm: Coordinate = 0.0
    y_sin_mm: Coordinate = 0.0
    z_cos_mm: Coordinate = 0.0
    z_sin_mm: Coordinate = 0.0


class SectionAngle(Value):
    """How far a hinged section is bent in this motion."""

    section: PartName
    angle_deg: Angle


class Pose(Value):
    """The body against the travel frame. No sway terms: no sway; one term: a sine; more: harmonics."""

    ride_height_mm: Annotated[Real, Field(gt=0, le=3000)]
    shift_mm: PlanePoint = (0.0, 0.0)
    roll_deg: Tilt = 0.0
    pitch_deg: Tilt = 0.0
    yaw_deg: Tilt = 0.0
    sway: Annotated[tuple[SwayTerm, ...], UpTo(12)] = ()
    bends: Annotated[tuple[SectionAngle, ...], UpTo(2)] = ()


class SwingShape(Value):
    """How feet swing, beyond path and lift.

    points: the path's control points, each (share of the way, share of the lift); empty: the path's usual ones.
    lift_start_mm, lift_end_mm: where they differ from the lift in the middle. early: how far the foot runs ahead of its
    path's own way across. matched: lift off and land with no speed over the ground whatever the path. landing_mm_s:
    the speed downwards at which a foot lands that would otherwise land with none. search_mm: how far below
    the plan a foot may still reach for the ground.
    """

    points: Annotated[tuple[PathPoint, ...], UpTo(6)] = ()
    lift_start_mm: Lift | None = None
    lift_end_mm: Lift | None = None
    early: Annotated[Real, Field(ge=-0.3, le=0.3)] = 0.0
    matched: Flag = False
    landing_mm_s: Annotated[Real, Field(ge=0, le=1000)] = 0.0
    search_mm: Annotated[Real, Field(ge=0, le=500)] = 0.0


class Pause(Value):
    """The walk stands still for a while at a share of its cycle, easing into it and out of it."""

    at: Annotated[Real, Field(ge=0, lt=1)]
    hold_s: Annotated[Real, Field(ge=0.02, le=60)]


class ArmMove(Value):
    """A joint of a limb that does not step goes to a value and back, once per cycle; at, back_at and takes are
    shares of the cycle."""

    limb: PartName
    joint: PartName
    to: Annotated[Real, Field(ge=-2000, le=2000)]
    at: Annotated[Real, Field(ge=0, lt=1)]
    back_at: Annotated[Real, Field(ge=0, lt=1)]
    takes: Annotated[Real, Field(ge=0.01, le=0.5)] = 0.1


class HeldLeg(Value):
    """A leg that takes no part in a walk: folded, or steering a wheel."""

    limb: PartName


class PhaseGait(Value):
    """A periodic walk: every leg repeats its step once per cycle, at its own phase and duty.

    cycle_s is the time it moves in one cycle; pauses come on top. `joints` holds the joints of limbs that do not step:
    a head, an arm, a moving mass. Those not named stand at 0, or at the end of their travel nearest to it. `held`: legs
    that take no part: they have no phase and duty, and their joints are as in `joints`, else at their servos' centres.
    inverted: it walks on the feet of the upper side. travel: whether the body is taken to go as the twist asks, or as
    the feet that stand let it; the joints are the same. steer_mm_m: how far to the left its legs bring it in a
    metre besides, turning, against a drift to the right; what is asked stays as it is.
    """

    kind: Literal["phase_gait"] = "phase_gait"
    name: Name
    gait: str
    legs: Annotated[tuple[LegTiming, ...], UpTo(12)]
    cycle_s: Annotated[Real, Field(ge=0.1, le=60)]
    twist: Twist = Twist()
    foot_path: str
    lift_mm: Lift
    swing: SwingShape = SwingShape()
    pose: Pose
    pauses: Annotated[tuple[Pause, ...], UpTo(12)] = ()
    joints: Annotated[tuple[JointAngle, ...], UpTo(84)] = ()
    held: Annotated[tuple[HeldLeg, ...], UpTo(12)] = ()
    moves_of_arms: Annotated[tuple[ArmMove, ...], UpTo(24)] = ()
    balance: Balance = "static"
    inverted: Flag = False
    travel: Literal["asked", "implied"] = "asked"
    steer_mm_m: Annotated[Real, Field(ge=-1000, le=1000)] = 0.0

    @property
    def moves(self) -> bool:
        """Whether the body travels."""
        return any((self.twist.vx_mm_s, self.twist.vy_mm_s, self.twist.omega_deg_s))

    @cached_property
    def held_legs(self) -> frozenset[str]:
        return frozenset(leg.limb for leg in self.held)

    @property
    def stands(self) -> bool:
        """Whether no foot ever lifts: a pose."""
        return all(leg.duty == 1 for leg in self.legs)


class JointPose(Value):
    """A pose given by its joints instead of its feet: folded, every servo centred, fail-safe.

    Joints not named are where their servo is centred. The body lies level, as low as its feet or its belly let it.
    """

    kind: Literal["joint_pose"] = "joint_pose"
    name: Name
    joints: Annotated[tuple[JointAngle, ...], UpTo(84)] = ()


class JointSwing(Value):
    """A joint that swings to and fro about its middle: middle + swing·cos(2π·times·(t/T − at)). Degrees, or mm where it
    slides; at: the share of the cycle at which it is furthest."""

    limb: PartName
    joint: PartName
    middle: Annotated[Real, Field(ge=-2000, le=2000)] = 0.0
    swing: Annotated[Real, Field(ge=-2000, le=2000)]
    at: Annotated[Real, Field(ge=0, lt=1)] = 0.0
    times: Annotated[int, Strict(), Field(ge=1, le=6)] = 1


class Swings(Value):
    """Joints given outright, each to and fro: for machines that walk by tipping and turning on what they stand on. The
    body lies as the feet let it, and goes as the standing ones do.

    goes: on and on; from rest into its swings; or from them to rest. Joints not named are where their servo is centred.
    """

    kind: Literal["swings"] = "swings"
    name: Name
    cycle_s: Annotated[Real, Field(ge=0.1, le=60)]
    joints: Annotated[tuple[JointSwing, ...], UpTo(84)] = ()
    goes: Literal["on", "from_rest", "to_rest"] = "on"


class FootAt(Value):
    """Where a foot is against the body's place on the floor; up from the floor."""

    limb: PartName
    at_mm: Point


class LimbEase(Value):
    limb: PartName
    ease: Literal["smooth", "even", "late", "early"]


class Keyframe(Value):
    """A pose that is reached in move_s and kept for hold_s.

    Feet not named stay where they were, joints of limbs that do not step likewise. ease: limbs that do not move
    smoothly from rest to rest: evenly, or late or early in the time they have.
    """

    name: Name
    move_s: Annotated[Real, Field(ge=0, le=60)] = 0.5
    hold_s: Annotated[Real, Field(ge=0, le=60)] = 0.0
    pose: Pose
    feet: Annotated[tuple[FootAt, ...], UpTo(12)] = ()
    joints: Annotated[tuple[JointAngle, ...], UpTo(84)] = ()
    ease: Annotated[tuple[LimbEase, ...], UpTo(24)] = ()


class Keyframes(Value):
    """A sequence of poses made by hand. repeats: from the last back to the first. twist: how the body travels.

    judged: false for sets that live by tipping, rocking or a thrown mass; static balance says nothing of them.
    """

    kind: Literal["keyframes"] = "keyframes"
    name: Name
    frames: Annotated[tuple[Keyframe, ...], UpTo(100, least=1)]
    repeats: Flag = True
    twist: Twist = Twist()
    judged: Flag = True


class MotionAt(Value):
    """A motion of the project, at a share of its cycle."""

    motion: Name
    phase: Annotated[Real, Field(ge=0, lt=1)] = 0.0


class Transition(Value):
    """From one motion into another, by way of standing: the walk comes to rest, the pose changes, the other starts.

    flows: from a walk into another that differs in twist and sway alone it goes without coming to rest.
    """

    kind: Literal["transition"] = "transition"
    name: Name
    start: MotionAt
    end: MotionAt
    pose_s: Annotated[Real, Field(ge=0.1, le=60)] = 1.0
    flows: Flag = False


class Portion(Value):
    """A motion and how much of it: in cycles, as a distance or a turn, or in seconds (a pose is held for them)."""

    motion: Name
    amount: Annotated[Real, Field(gt=0, le=100_000)] = 1.0
    by: Literal["cycles", "distance_mm", "turn_deg", "seconds"] = "cycles"


class Programme(Value):
    """Motions in a row, each starting and ending at rest.

    flows: walks in a row that differ in twist and sway alone are walked without coming to rest between them.
    """

    kind: Literal["programme"] = "programme"
    name: Name
    parts: Annotated[tuple[Portion, ...], UpTo(200, least=1)]
    pose_s: Annotated[Real, Field(ge=0.1, le=60)] = 1.0
    flows: Flag = False


class TwistFrom(Value):
    """How the body is to travel from a time on."""

    from_s: Annotated[Real, Field(ge=0, le=600)]
    twist: Twist = Twist()


class FreeWalk(Value):
    """A walk whose legs lift by a rule instead of by phases, as the way changes; it begins standing at neutral.

    like: the gait whose pose, lift, foot path and swing times its steps have. Before the first way it stands.
    """

    kind: Literal["free_walk"] = "free_walk"
    name: Name
    like: Name
    ways: Annotated[tuple[TwistFrom, ...], UpTo(400, least=1)]
    takes_s: Annotated[Real, Field(ge=0.5, le=120)] = 10.0


Motion = Annotated[
    Annotated[PhaseGait, tagged("phase_gait")]
    | Annotated[JointPose, tagged("joint_pose")]
    | Annotated[Keyframes, tagged("keyframes")]
    | Annotated[Transition, tagged("transition")]
    | Annotated[Programme, tagged("programme")]
    | Annotated[FreeWalk, tagged("free_walk")]
    | Annotated[Swings, tagged("swings")],
    told_by_kind("phase_gait"),
]


def named_by(motion: Transition | Programme | FreeWalk) -> list[str]:
    """The motions that one is made of."""
    if isinstance(motion, FreeWalk):
        return [motion.like]
    if isinstance(motion, Transition):
        return [motion.start.motion, motion.end.motion]
    return [part.motion for part in motion.parts]
