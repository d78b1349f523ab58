"""The motions of a walker as immutable, validated values."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, Strict

from bustle.core.values import Angle, Coordinate, Name, PartName, PlanePoint, Real, Tilt, Value
from bustle.core.walker import JointAngle


class LegTiming(Value):
    """Phase: the share of the cycle at which this leg touches down. Duty: its share of the cycle in stance."""

    limb: PartName
    phase: Annotated[Real, Field(ge=0, lt=1)]
    duty: Annotated[Real, Field(gt=0, le=1)]


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
    sway: Annotated[tuple[SwayTerm, ...], Field(max_length=12)] = ()
    bends: Annotated[tuple[SectionAngle, ...], Field(max_length=2)] = ()


class PhaseGait(Value):
    """A periodic walk: every leg repeats its step once per cycle, at its own phase and duty.

    `joints` holds the joints of limbs that do not step: a head, an arm, a moving mass. Those not named stand at 0, or
    at the end of their travel nearest to it.
    """

    kind: Literal["phase_gait"] = "phase_gait"
    name: Name
    gait: str
    legs: Annotated[tuple[LegTiming, ...], Field(max_length=12)]
    cycle_s: Annotated[Real, Field(ge=0.1, le=60)]
    twist: Twist = Twist()
    foot_path: str
    lift_mm: Annotated[Real, Field(ge=0, le=1000)]
    pose: Pose
    joints: Annotated[tuple[JointAngle, ...], Field(max_length=84)] = ()
    balance: Literal["static", "dynamic"] = "static"


# One kind so far. A second one makes this a union told apart by `kind`.
Motion = PhaseGait
