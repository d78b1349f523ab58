"""What the clamp, the comparison and the frame's edits take and answer, as models."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field, Strict

from bustle.core.at_rest.foot_drift import Explanation
from bustle.core.at_rest.parts_list import Part, Total
from bustle.core.clamp.leg_on_the_clamp import JointState
from bustle.core.document.checked import CheckedProject
from bustle.core.document.differences import Difference
from bustle.core.kinds.legs.working import Triangle
from bustle.core.project.field_types import Length, Line, Name, PlanePoint, Point, Real, Tilt
from bustle.core.search.machines_side_by_side import Rival
from bustle.web.said.shapes import Body, Number, Whole

View = Literal["side", "plan", "front"]
LimbName = Annotated[str, Field(max_length=60)]


class SoleTurn(Body):
    """How the sole lies against the body: toes to the left, then toes down, then leaning to the right."""

    toe_deg: Tilt = 0.0
    pitch_deg: Tilt = 0.0
    roll_deg: Tilt = 0.0


class LegDraft(Body):
    """A leg of a draft, its foot at a place of the body frame."""

    project: CheckedProject
    limb: LimbName
    foot_mm: Point
    sole: SoleTurn = SoleTurn()
    views: Annotated[list[View], Field(max_length=3)] = ["side", "plan", "front"]  # noqa: RUF012


class SliceView(BaseModel):
    plane: View
    rings: list[list[tuple[float, float]]]
    edge_mm: float


class StepView(BaseModel):
    symbol: str
    formula: str
    numbers: str
    value: str
    unit: str
    about: str


class LegView(BaseModel):
    """All places in the body frame, mm."""

    limb: str
    label: str
    target: tuple[float, float, float]
    foot: tuple[float, float, float]
    points: list[tuple[float, float, float]]
    sole: list[tuple[float, float, float]]
    missing: tuple[float, float, float]
    short_mm: float
    tilt_deg: float
    straight_mm: float | None
    knee_deg_per_mm: float | None
    give_mm_per_n: tuple[float, float, float] | None
    joints: tuple[JointState, ...]
    slices: list[SliceView]
    steps: list[StepView]
    triangles: tuple[Triangle, ...]


class LineDraft(Body):
    """The straight-line test, with errors put in on purpose: lengths as built, zeros and play in degrees."""

    project: CheckedProject
    limb: LimbName
    foot_mm: Point
    sole: SoleTurn = SoleTurn()
    line: Literal["up_down", "fore_aft", "sideways", "mixed"]
    length_mm: Annotated[Real, Field(gt=0, le=2000)]
    link_length_mm: dict[str, Length] = {}  # noqa: RUF012
    joint_zero_deg: dict[str, Tilt] = {}  # noqa: RUF012
    joint_play_deg: dict[str, Annotated[Real, Field(ge=0, le=20)]] = {}  # noqa: RUF012


class LineView(BaseModel):
    label: str
    along_mm: list[float]
    off_mm: list[float]
    path: list[tuple[float, float, float]]
    lean_deg: float
    shift_mm: float
    worst_mm: float
    worst_at_mm: float
    limited: str | None
    limited_at_mm: float | None
    clear_mm: float


class DriftDraft(Body):
    project: CheckedProject
    limb: LimbName


class Explanations(BaseModel):
    spread_mm: float
    explanations: list[Explanation]


class RivalChoice(Body):
    """A starting shape with its leg length, or a walker on the shelf."""

    shape: str | None = None
    leg_length_mm: Number | None = None
    walker_id: Annotated[int, Strict(), Field(ge=1, le=2**62)] | None = None


class RivalsDraft(Body):
    project: CheckedProject
    rivals: Annotated[list[RivalChoice], Field(max_length=3)]


class Machine(BaseModel):
    name: str
    project: CheckedProject


class Machines(BaseModel):
    """Machines to be told side by side."""

    machines: list[Machine]


class Rivals(BaseModel):
    rivals: list[Rival]


class FrameEdit(Body):
    """mirror, copy, behind and remove take a limb; repeat a limb and how many in all; relabel a scheme; add a role, a
    family and where; refit a limb and a family, with `alike` all of its family; section the axis of a hinge behind the
    frame; hang a limb and the section it goes to, with `alike` its mirror image too; hinge a section whose hinge gets a
    servo; joint and unjoint a limb, the first the joint that it comes behind, or none, the second its joint, with
    `alike` all legs of its joints, and so call_joint and call_link, the part and what it is to be called; follow a limb
    that differs from `before`; sag and scale a factor, the second with `all_weights` bought parts too; turn_over a
    walk, which takes what it is joined to along."""

    project: CheckedProject
    action: Literal[
        "mirror",
        "copy",
        "behind",
        "remove",
        "repeat",
        "relabel",
        "add",
        "refit",
        "section",
        "hang",
        "hinge",
        "joint",
        "unjoint",
        "call_joint",
        "call_link",
        "follow",
        "sag",
        "scale",
        "turn_over",
    ]
    limb: LimbName = ""
    count: Whole = 6
    scheme: Annotated[str, Field(max_length=40)] = ""
    role: Literal["leg", "arm", "support"] = "leg"
    family: Annotated[str, Field(max_length=40)] = ""
    alike: bool = True
    axis: Literal["yaw", "pitch", "roll"] = "yaw"
    at_mm: PlanePoint | None = None
    joint: LimbName = ""
    link: LimbName = ""
    called: LimbName = ""
    section: LimbName = ""
    motion: Line = ""
    before: CheckedProject | None = None
    factor: Number = 1.0
    all_weights: bool = False


class EditedProject(BaseModel):
    project: CheckedProject
    differences: list[Difference]


class PartsDraft(Body):
    project: CheckedProject


class Parts(BaseModel):
    parts: list[Part]
    totals: list[Total]


class UrdfQuery(BaseModel):
    name: Name | None = None


class ReadUrdf(BaseModel):
    """A walker made from a URDF, what of the file could not be used, and which of its joints have other names here."""

    id: int
    unused: list[str]
    called: list[str]


class Written(BaseModel):
    """A file's text, and what it could not hold."""

    file_name: str
    text: str
    lost: list[str]
