"""The machine as immutable, validated values: sections, limbs, feet, masses, drives, leads, and what was measured.

Named things are lists with unique names. A part is named by its path: a section "body", a link "L1/femur", a joint
"L1/yaw".
"""

from __future__ import annotations

from functools import cached_property
from typing import Annotated, Literal

from pydantic import Field

from bustle.core.project.field_types import (
    Angle,
    Coordinate,
    FileName,
    Flag,
    Grams,
    Hours,
    Length,
    Line,
    Name,
    PartName,
    PartPath,
    PlanePoint,
    Point,
    Price,
    Radius,
    Real,
    Size,
    Tilt,
    UpTo,
    Value,
    tagged,
    told_by_kind,
)


class SectionHinge(Value):
    """How a section hangs on another: a hinge at `at_mm` of that one, `to_mm` from the hinge to this one's middle.

    turned_by: the joint of a limb without a foot ("spine/bend") that it stands at, driven like any other; None: it is
    bent by hand, once for a motion.
    """

    on: PartName
    at_mm: Point
    to_mm: Point
    axis: Literal["yaw", "pitch", "roll"] = "yaw"
    min_deg: Angle = -45.0
    max_deg: Angle = 45.0
    turned_by: PartPath | None = None


class Section(Value):
    """A part of the frame. Section 0 is the body frame, its origin at its middle. A round one stands on end and is as
    wide as it is long."""

    name: PartName
    size_mm: Size
    shape: Literal["box", "round"] = "box"
    hinge: SectionHinge | None = None


class Mount(Value):
    """Where a limb's first joint sits on its section, and which way the limb points: yaw, then pitch, then roll."""

    at_mm: Point
    yaw_deg: Angle = 0.0
    pitch_deg: Angle = 0.0
    roll_deg: Angle = 0.0


class InFiles(Value):
    """What tables and robot files call a joint, and whether they count it the other way: as the robot's own do."""

    called: FileName
    reversed: Flag = False


class HingeJoint(Value):
    """A joint that turns, with its end stops. Positive by the right hand about its axis.

    `axis` is for free chains; a family has its own. A `free` joint has no servo. `friction_nm` is what a friction ring
    on it holds against. `in_files`: where those call it otherwise than limb and joint are called here.
    """

    name: PartName
    kind: Literal["hinge"] = "hinge"
    min_deg: Angle
    max_deg: Angle
    axis: Point | None = None
    free: Flag = False
    friction_nm: Annotated[Real, Field(ge=0, le=100)] = 0.0
    in_files: InFiles | None = None


class SlideJoint(Value):
    """A joint that slides along its axis, with its ends."""

    name: PartName
    kind: Literal["slide"] = "slide"
    min_mm: Coordinate
    max_mm: Coordinate
    axis: Point | None = None
    free: Flag = False
    in_files: InFiles | None = None


Joint = Annotated[
    Annotated[HingeJoint, tagged("hinge")] | Annotated[SlideJoint, tagged("slide")], told_by_kind("hinge")
]


class Link(Value):
    """A link; its mass is taken at its middle, and for collisions it is a rod of `radius_mm` with round ends.

    `offset_mm` is for free chains: from this link's joint to the next, as measured at zero pose.
    """

    name: PartName
    length_mm: Length
    mass_g: Grams = 0.0
    offset_mm: Point | None = None
    radius_mm: Length = 6.0
    price: Price = 0.0
    print_h: Hours = 0.0


class PointSole(Value):
    """A sole without extent."""

    kind: Literal["point"] = "point"


class BallSole(Value):
    """A ball at the end of the leg; the leg ends at its middle."""

    kind: Literal["ball"] = "ball"
    radius_mm: Length


class EdgeSole(Value):
    """A straight edge or blade under the end of the leg; heading 0 lies fore and aft."""

    kind: Literal["edge"] = "edge"
    length_mm: Length
    heading_deg: Angle = 0.0


class RectangleSole(Value):
    """A flat sole; its middle lies `ahead_mm` of the leg's end and `left_mm` to the left."""

    kind: Literal["rectangle"] = "rectangle"
    length_mm: Length
    width_mm: Length
    ahead_mm: Coordinate = 0.0
    left_mm: Coordinate = 0.0


class CurvedSole(Value):
    """A sole curved fore and aft by one radius and sideways by another; it rolls on the floor.

    length_mm, width_mm: where the curve ends, and the sole stands on an edge; None: it goes on as far as it rolls.
    """

    kind: Literal["curved"] = "curved"
    radius_fore_mm: Radius
    radius_side_mm: Radius
    length_mm: Length | None = None
    width_mm: Length | None = None


Sole = Annotated[
    Annotated[PointSole, tagged("point")]
    | Annotated[BallSole, tagged("ball")]
    | Annotated[EdgeSole, tagged("edge")]
    | Annotated[RectangleSole, tagged("rectangle")]
    | Annotated[CurvedSole, tagged("curved")],
    told_by_kind(),
]


class PlantedContact(Value):
    """A contact that stays where it was put."""

    kind: Literal["planted"] = "planted"


class RollingContact(Value):
    """A wheel or blade: free along its heading, against the limb's own; with `any_way` a caster, free every way.

    steered: the limb's first joint turns it to where the walk takes it; such a limb is a support, and no leg.
    """

    kind: Literal["rolls"] = "rolls"
    heading_deg: Angle = 0.0
    any_way: Flag = False
    steered: Flag = False


class SlidingContact(Value):
    """A skid."""

    kind: Literal["slides"] = "slides"


Contact = Annotated[
    Annotated[PlantedContact, tagged("planted")]
    | Annotated[RollingContact, tagged("rolls")]
    | Annotated[SlidingContact, tagged("slides")],
    told_by_kind(),
]


class Foot(Value):
    """A foot at `at_mm` from the end of the last link, in that link's frame. An upper foot serves inverted walking."""

    name: PartName = "foot"
    side: Literal["under", "upper"] = "under"
    at_mm: Point = (0.0, 0.0, 0.0)
    sole: Sole = PointSole()
    contact: Contact = PlantedContact()


class Limb(Value):
    """A serial chain on a section. A leg is a limb with joints and a foot; no joints and a foot is a passive support;
    joints and no foot is a head, an arm, a moving mass.

    `mirrored` flips the chain across the x–z plane of its mount (right-hand upright legs).
    `hip_offset_mm` leads from the first joint to the second, beyond the family's own, in the unmirrored leg's frame.
    `keep` says which coordinates a leg with too few joints follows; the family's first choice if none.
    `neutral_mm` is where the foot stands at mid-stance, in the travel frame; `toe_deg` its heading there and `lean_deg`
    how far its sole is leaned to the right, about that heading. `gives_mm_per_n` is how far its foot gives by mount and
    links bending, besides its servos; None: next to nothing is assumed.
    """

    name: PartName
    section: PartName = "body"
    mount: Mount
    family: str
    mirrored: Flag = False
    branch: str
    keep: str | None = None
    hip_offset_mm: Point = (0.0, 0.0, 0.0)
    joints: Annotated[tuple[Joint, ...], UpTo(7)]
    links: Annotated[tuple[Link, ...], UpTo(8)]
    feet: Annotated[tuple[Foot, ...], UpTo(2)] = (Foot(),)
    neutral_mm: PlanePoint | None = None
    gives_mm_per_n: Annotated[Real, Field(ge=0, le=50)] | None = None
    toe_deg: Angle = 0.0
    lean_deg: Tilt = 0.0

    def called_in_files(self, joint: HingeJoint | SlideJoint) -> tuple[str, float]:
        """What robot files call one of its joints, and −1 where they count it the other way, else 1."""
        if joint.in_files is None:
            return f"{self.name}/{joint.name}", 1.0
        return joint.in_files.called, -1.0 if joint.in_files.reversed else 1.0

    @cached_property
    def steers(self) -> bool:
        """Whether it is a wheel that a joint turns to where the walk takes it."""
        return bool(self.joints and self.feet) and self.feet[0].contact.kind == "rolls" and self.feet[0].contact.steered

    @cached_property
    def steps(self) -> bool:
        """Whether this limb is a leg: it has joints to step with and a foot to stand on."""
        return bool(self.joints and self.feet) and not self.steers

    @cached_property
    def passive(self) -> bool:
        """Whether it stands on the floor without stepping: a caster, wheel or skid."""
        return bool(self.feet) and (not self.joints or self.steers)


class Mass(Value):
    """A mass on a section ("body") or on a link ("L1/femur"); `at_mm` is in that part's own frame.

    One that `fills` its section is spread over the whole of it, however large that becomes.
    """

    name: Name
    mass_g: Grams
    at_mm: Point = (0.0, 0.0, 0.0)
    on: PartPath = "body"
    size_mm: Size = (0.0, 0.0, 0.0)
    fills: Flag = False
    price: Price = 0.0
    print_h: Hours = 0.0


class DriveServo(Value):
    """One servo of a drive. `centre_deg` is the joint angle at which the servo stands at its centre.

    `sits_on` is the part that carries the servo's body: by default the one before its joint.
    """

    name: Name
    type: Name
    centre_deg: Angle = 0.0
    sits_on: PartPath | None = None


class Drive(Value):
    """What turns joints: servos on one side, joints ("L1/femur") on the other.

    `settings` are the kind's own numbers (a ratio, rod lengths), by name, with their unit in it.
    `stiffness_nm_deg`: what a sprung horn gives, None where it is stiff.
    """

    kind: str = "direct"
    servos: Annotated[tuple[DriveServo, ...], UpTo(4, least=1)]
    joints: Annotated[tuple[str, ...], UpTo(4, least=1)]
    settings: Annotated[dict[str, Real], UpTo(24)] = Field(default={})
    stiffness_nm_deg: Annotated[Real, Field(gt=0, le=1000)] | None = None


class Waypoint(Value):
    """A place on a part that a lead passes."""

    on: PartPath = "body"
    at_mm: Point = (0.0, 0.0, 0.0)


class Lead(Value):
    """A servo or sensor lead, held at each waypoint and free between them."""

    name: Name
    length_mm: Annotated[Real, Field(gt=0, le=5000)]
    path: Annotated[tuple[Waypoint, ...], UpTo(12, least=2)]


class Drag(Value):
    """What holds the machine back where it goes: a cable, a stick, a skid. `pull_n`: what it takes to draw it along on
    its own; `at_mm`: where it hangs on its section."""

    name: Name
    pull_n: Annotated[Real, Field(ge=0, le=1000)]
    at_mm: Point = (0.0, 0.0, 0.0)
    on: PartName = "body"


class JointAngle(Value):
    """A joint held at a value: degrees, or mm where it slides."""

    limb: PartName
    joint: PartName
    value: Annotated[Real, Field(ge=-2000, le=2000)]


class FoldedPose(Value):
    """The pose the walker is carried in, and the box it has to fit: length, width, height. Joints not named stand at
    their servo's centre."""

    box_mm: Size
    joints: Annotated[tuple[JointAngle, ...], UpTo(84)] = ()


class DriftReading(Value):
    """How far off the foot was found, at one height of the foot below the hip: forward and left, on a straight line
    meant to stand still."""

    height_mm: Coordinate
    drift_mm: PlanePoint


class MeasuredLimb(Value):
    """What was measured on one built limb: link lengths, what each joint's zero is off by, its play end to end."""

    limb: PartName
    link_length_mm: Annotated[dict[str, Length], UpTo(8)] = Field(default={})
    joint_zero_deg: Annotated[dict[str, Tilt], UpTo(7)] = Field(default={})
    joint_play_deg: Annotated[dict[str, Annotated[Real, Field(ge=0, le=20)]], UpTo(7)] = Field(default={})
    drift: Annotated[tuple[DriftReading, ...], UpTo(12)] = ()


class AsBuilt(Value):
    """Measured truth laid over the design: the table is solved on the design, the rest follows the overlay."""

    limbs: Annotated[tuple[MeasuredLimb, ...], UpTo(12)] = ()


class Walker(Value):
    """The machine. `held` says what holds it sideways from outside, if anything: a boom or a rail; `lifted_n` how much
    of its weight a counterweight on it lifts."""

    sections: Annotated[tuple[Section, ...], UpTo(3, least=1)]
    limbs: Annotated[tuple[Limb, ...], UpTo(24, least=1)]
    masses: Annotated[tuple[Mass, ...], UpTo(200)] = ()
    drives: Annotated[tuple[Drive, ...], UpTo(100)] = ()
    leads: Annotated[tuple[Lead, ...], UpTo(60)] = ()
    drags: Annotated[tuple[Drag, ...], UpTo(12)] = ()
    folded: FoldedPose | None = None
    held: Literal["free", "boom", "rail"] = "free"
    lifted_n: Annotated[Real, Field(ge=0, le=10_000)] = 0.0
    currency: Line = ""
    as_built: AsBuilt = AsBuilt()

    @cached_property
    def legs(self) -> tuple[Limb, ...]:
        return tuple(limb for limb in self.limbs if limb.steps)
