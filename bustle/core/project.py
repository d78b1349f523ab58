"""The design of a walker and its motions as immutable, validated values.

Units as at every border: millimetres, degrees, grams, seconds, newton metres, volts. Named things are lists
with unique names. Numbers are strict: text is not read as a number, and nothing is clamped.
"""

from __future__ import annotations

import re
from typing import Annotated, Any, Final, Literal

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    Strict,
    StringConstraints,
    model_validator,
)
from pydantic_core import PydanticCustomError

FORMAT: Final = "bustle"
VERSION: Final = 1
MAX_ROWS = 12_000

_TAG = re.compile(r"<\s*[A-Za-z/!?]|&[#A-Za-z0-9]+;")
_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f\u202a-\u202e\u2066-\u2069]")


def _plain_text(text: str) -> str:
    if _CONTROL.search(text):
        raise ValueError("must not hold control characters")
    if _TAG.search(text):
        raise ValueError("must be plain text without markup")
    return text


def _plain_line(text: str) -> str:
    _plain_text(text)
    if "\n" in text or "\r" in text or "\t" in text:
        raise ValueError("must be one line")
    if text != text.strip():
        raise ValueError("must not begin or end with a space")
    return text


def _whole_number(value: Any) -> Any:
    # True equals 1 and would pass for it, and 1.0 would be written back as another spelling.
    if type(value) is not int:
        raise ValueError(f"must be a whole number, got {value!r:.40}")
    return value


def _part_name(text: str) -> str:
    if not re.fullmatch(r"[A-Za-z][A-Za-z0-9_]*", text):
        raise ValueError(f"must begin with a letter and hold only letters, digits and _, got {text!r}")
    return text


Real = Annotated[float, Strict(), Field(allow_inf_nan=False)]
Flag = Annotated[bool, Strict()]
Name = Annotated[str, StringConstraints(min_length=1, max_length=60), AfterValidator(_plain_line)]
PartName = Annotated[str, StringConstraints(min_length=1, max_length=24), AfterValidator(_part_name)]
Text = Annotated[str, StringConstraints(max_length=4000), AfterValidator(_plain_text)]
Length = Annotated[Real, Field(ge=0, le=2000)]
Coordinate = Annotated[Real, Field(ge=-3000, le=3000)]
Angle = Annotated[Real, Field(ge=-360, le=360)]
Tilt = Annotated[Real, Field(ge=-60, le=60)]
Grams = Annotated[Real, Field(ge=0, le=100_000)]
Point = tuple[Coordinate, Coordinate, Coordinate]
PlanePoint = tuple[Coordinate, Coordinate]


class Value(BaseModel):
    """Base of everything in a project: frozen, no unknown fields, finite numbers."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)


class Section(Value):
    """A part of the frame. Section 0 is the body frame, its origin at the middle of the box."""

    name: PartName
    size_mm: tuple[Length, Length, Length]


class Mount(Value):
    """Where a limb's first joint sits on its section, and which way the limb points."""

    at_mm: Point
    yaw_deg: Angle = 0.0


class Joint(Value):
    """A joint with its end stops. Angles are positive by the right hand about the joint's axis."""

    name: PartName
    kind: Literal["hinge"] = "hinge"
    min_deg: Angle
    max_deg: Angle


class Link(Value):
    """A link; its mass is taken at its middle."""

    name: PartName
    length_mm: Length
    mass_g: Grams = 0.0


class PointSole(Value):
    """A sole without extent."""

    kind: Literal["point"] = "point"


class PlantedContact(Value):
    """A contact that stays where it was put."""

    kind: Literal["planted"] = "planted"


class Foot(Value):
    """A foot on the end of the last link."""

    name: PartName = "foot"
    sole: PointSole = PointSole()
    contact: PlantedContact = PlantedContact()


class Limb(Value):
    """A serial chain on a section. A leg is a limb with joints and a foot.

    `mirrored` flips the chain across the x–z plane of its mount (right-hand upright legs).
    `neutral_mm` is where the foot stands at mid-stance, in the travel frame.
    """

    name: PartName
    section: PartName = "body"
    mount: Mount
    family: str
    mirrored: Flag = False
    branch: str
    joints: Annotated[tuple[Joint, ...], Field(max_length=7)]
    links: Annotated[tuple[Link, ...], Field(max_length=8)]
    feet: Annotated[tuple[Foot, ...], Field(min_length=1, max_length=1)] = (Foot(),)
    neutral_mm: PlanePoint


class Mass(Value):
    """A mass on a section ("body") or on a link ("L1/femur"); `at_mm` is in that part's own frame."""

    name: Name
    mass_g: Grams
    at_mm: Point = (0.0, 0.0, 0.0)
    on: Annotated[str, StringConstraints(min_length=1, max_length=60)] = "body"
    size_mm: tuple[Length, Length, Length] = (0.0, 0.0, 0.0)


class ServoType(Value):
    """A servo's sheet, copied into the project. Speed is without load at the rated voltage."""

    name: Name
    mass_g: Grams
    stall_torque_nm: Annotated[Real, Field(gt=0, le=1000)]
    no_load_speed_deg_s: Annotated[Real, Field(gt=0, le=10_000)]
    rated_v: Annotated[Real, Field(gt=0, le=100)]
    travel_deg: Annotated[Real, Field(gt=0, le=3600)]
    frame_period_ms: Annotated[Real, Field(ge=1, le=100)] = 20.0


class DriveServo(Value):
    """One servo of a drive. `centre_deg` is the joint angle at which the servo stands at its centre."""

    name: Name
    type: Name
    centre_deg: Angle = 0.0


class Drive(Value):
    """What turns joints: servos on one side, joints ("L1/femur") on the other."""

    kind: str = "direct"
    servos: Annotated[tuple[DriveServo, ...], Field(min_length=1, max_length=4)]
    joints: Annotated[tuple[str, ...], Field(min_length=1, max_length=4)]


class MeasuredLimb(Value):
    """What was measured on one built limb: link lengths, and what each joint's zero is off by."""

    limb: PartName
    link_length_mm: dict[str, Length] = {}
    joint_zero_deg: dict[str, Tilt] = {}


class AsBuilt(Value):
    """Measured truth laid over the design: the table is solved on the design, the rest follows the overlay."""

    limbs: Annotated[tuple[MeasuredLimb, ...], Field(max_length=12)] = ()


class Walker(Value):
    """The machine."""

    sections: Annotated[tuple[Section, ...], Field(min_length=1, max_length=1)]
    limbs: Annotated[tuple[Limb, ...], Field(min_length=1, max_length=12)]
    masses: Annotated[tuple[Mass, ...], Field(max_length=200)] = ()
    drives: Annotated[tuple[Drive, ...], Field(max_length=100)] = ()
    as_built: AsBuilt = AsBuilt()


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
    """One harmonic of the body's sway: offset += cos·cos(2πnt/T) + sin·sin(2πnt/T)."""

    harmonic: Annotated[int, Strict(), Field(ge=1, le=12)] = 1
    x_cos_mm: Coordinate = 0.0
    x_sin_mm: Coordinate = 0.0
    y_cos_mm: Coordinate = 0.0
    y_sin_mm: Coordinate = 0.0


class Pose(Value):
    """The body against the travel frame. No sway terms: no sway; one term: a sine; more: harmonics."""

    ride_height_mm: Annotated[Real, Field(gt=0, le=3000)]
    shift_mm: PlanePoint = (0.0, 0.0)
    roll_deg: Tilt = 0.0
    pitch_deg: Tilt = 0.0
    yaw_deg: Tilt = 0.0
    sway: Annotated[tuple[SwayTerm, ...], Field(max_length=12)] = ()


class PhaseGait(Value):
    """A periodic walk: every leg repeats its step once per cycle, at its own phase and duty."""

    kind: Literal["phase_gait"] = "phase_gait"
    name: Name
    gait: str
    legs: Annotated[tuple[LegTiming, ...], Field(min_length=1, max_length=12)]
    cycle_s: Annotated[Real, Field(ge=0.1, le=60)]
    twist: Twist = Twist()
    foot_path: str
    lift_mm: Annotated[Real, Field(ge=0, le=1000)]
    pose: Pose
    balance: Literal["static", "dynamic"] = "static"


# One kind so far. A second one makes this a union told apart by `kind`.
Motion = PhaseGait


class Controller(Value):
    """What plays the table: one row per frame period."""

    frame_period_ms: Annotated[Real, Field(ge=2, le=100)] = 20.0


class Limits(Value):
    """How much the builder keeps in hand. Below it a finding warns."""

    margin_mm: Annotated[Real, Field(ge=0, le=500)] = 10.0
    end_stop_deg: Annotated[Real, Field(ge=0, le=45)] = 2.0
    speed_share: Annotated[Real, Field(gt=0, le=1)] = 0.85
    straight_knee_mm: Annotated[Real, Field(ge=0, le=100)] = 4.0
    row_step_deg: Annotated[Real, Field(gt=0, le=90)] = 12.0


class Project(Value):
    """A walker, its motions and the parts they use: one file, one revision."""

    format: Literal["bustle"] = FORMAT
    version: Annotated[Literal[1], BeforeValidator(_whole_number)] = VERSION
    name: Name
    note: Text = ""
    walker: Walker
    motions: Annotated[tuple[Motion, ...], Field(max_length=64)] = ()
    servo_types: Annotated[tuple[ServoType, ...], Field(max_length=40)] = ()
    controller: Controller = Controller()
    limits: Limits = Limits()

    @model_validator(mode="after")
    def _consistent(self) -> Project:
        from bustle.core.consistency import inconsistencies

        problems = list(inconsistencies(self))
        if problems:
            raise PydanticCustomError("inconsistent", "the parts do not fit", {"problems": problems})
        return self

    def motion(self, name: str) -> Motion:
        """The motion of that name; KeyError names those there are."""
        for motion in self.motions:
            if motion.name == name:
                return motion
        known = ", ".join(m.name for m in self.motions) or "none"
        raise KeyError(f"no motion is called {name!r}; this project has: {known}")


def document(project: Project) -> dict[str, Any]:
    """The project as plain JSON values, in the order of the file."""
    return project.model_dump(mode="json")
