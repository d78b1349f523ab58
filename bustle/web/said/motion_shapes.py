"""What the motion studio takes and answers, as models."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field, RootModel

from bustle.core.document.checked import CheckedProject
from bustle.core.dry_run.dry_run import DryRun
from bustle.core.project.field_types import Name, Real
from bustle.core.search.attempt import Change
from bustle.core.search.longest_stride import LeftOut
from bustle.core.servo.power_on_order import SoftStart
from bustle.web.said.shapes import Body, Number, RevisionNumber, Whole

Mixed = Annotated[Real, Field(ge=-10, le=10)]


class SetDraft(Body):
    """A draft, and the gait its set is to be made of; None: the one its first walk has.

    mixture: parts of forward, left and turning left, for an arc of one's own. one_order: legs step in one order
    whatever the way, so that rows of one motion may be mixed with those of another.
    """

    project: CheckedProject
    gait: Annotated[str, Field(max_length=40)] | None = None
    mixture: tuple[Mixed, Mixed, Mixed] | None = None
    one_order: bool = False


class MadeView(BaseModel):
    """unjudged: why whether it falls, or what it holds, is not told; None where all is. run: how it goes in a dry run,
    by the machine as its sheets say; None where none can be told. cycle_s: longer than the standing pose's where its
    servos are too slow for that."""

    name: str
    gait: str
    cycle_s: float
    stroke_mm: float
    step_mm: float
    speed_mm_s: float
    turn_deg_s: float
    code: str | None
    limited_by: str | None
    unjudged: str | None
    run: DryRun | None


class SetView(BaseModel):
    """The set, and the project with it in place of motions of the same names."""

    gait: str
    made: list[MadeView]
    left_out: tuple[LeftOut, ...]
    project: CheckedProject


class FreshWalk(BaseModel):
    """stride_mm, turn_deg: how far it goes and turns a cycle; None of what has no end of a cycle. against: the worst
    that is found of it, in words; None where it is sound. unjudged, run: as above."""

    name: str
    stride_mm: float | None
    turn_deg: float | None
    cycle_s: float
    severity: Literal["stop", "warn"] | None
    against: str | None
    unjudged: str | None
    run: DryRun | None


class FreshSet(BaseModel):
    """Motions from the machine alone, and the project with them in place of all it had."""

    made: list[FreshWalk]
    project: CheckedProject


class FittingGaits(BaseModel):
    usual: str
    gaits: list[str]


class ProjectDraft(Body):
    project: CheckedProject


class StickDraft(Body):
    """A draft, and the stick in shares of full deflection."""

    project: CheckedProject
    ahead: Annotated[Real, Field(ge=-1, le=1)] = 0.0
    left: Annotated[Real, Field(ge=-1, le=1)] = 0.0
    turn: Annotated[Real, Field(ge=-1, le=1)] = 0.0
    school: Literal["shorter_steps", "slower_pace"] = "shorter_steps"
    lift_mm: Annotated[Real, Field(ge=0, le=1000)] | None = None
    ride_height_mm: Annotated[Real, Field(gt=0, le=3000)] | None = None


class StickAtBody(Body):
    """Where the stick is from a time on."""

    from_s: Annotated[Real, Field(ge=0, le=600)]
    ahead: Annotated[Real, Field(ge=-1, le=1)] = 0.0
    left: Annotated[Real, Field(ge=-1, le=1)] = 0.0
    turn: Annotated[Real, Field(ge=-1, le=1)] = 0.0


class FreeDraft(Body):
    """A draft, and where the stick was and is; the legs lift by the rule. Kept: the walk joins the draft's motions."""

    project: CheckedProject
    sticks: Annotated[tuple[StickAtBody, ...], Field(min_length=1, max_length=400)]
    takes_s: Annotated[Real, Field(ge=0.5, le=120)] = 10.0


class StartView(RootModel[SoftStart]):
    pass


class MotionDraft(Body):
    project: CheckedProject
    motion: Name


class NextLegDraft(MotionDraft):
    """The instant of the cycle, and the way it is to go on; None: as it walks."""

    time_s: Annotated[Real, Field(ge=0, le=1e6)]
    vx_mm_s: Number | None = None
    vy_mm_s: Number | None = None
    omega_deg_s: Number | None = None


class CandidateView(BaseModel):
    leg: str
    left_s: float | None
    margin_mm: float | None
    beside_air: bool
    may: bool


class NextLeg(BaseModel):
    rule: list[str]
    legs: list[CandidateView]


class Rule(BaseModel):
    rule: list[str]


class AddedView(BaseModel):
    """The project with one motion more, and its name."""

    name: str
    project: CheckedProject


class ChangesDraft(MotionDraft):
    """Two states of a project by the same motion, or by another one."""

    before: CheckedProject
    before_motion: Name


class Changes(BaseModel):
    changes: list[Change]
    new: list[str]
    gone: list[str]


class SetExport(Body):
    revision: RevisionNumber
    format: str
    decimals: Whole = 2
    anyway: bool = False
