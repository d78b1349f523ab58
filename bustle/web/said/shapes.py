"""What the API takes and answers, as models: the server's document and the interface's types come from these."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, Strict

from bustle.core.document.checked import CheckedProject
from bustle.core.document.differences import Difference
from bustle.core.project.field_types import Name, Real, Text
from bustle.core.search.attempt import Change
from bustle.jobs.job import Progress

Whole = Annotated[int, Strict()]
# No number of a request is beyond these, whatever it stands for; a column of the database holds the first.
Number = Annotated[Real, Field(ge=-1e6, le=1e6)]
RevisionNumber = Annotated[int, Strict(), Field(ge=1, le=2**31 - 1)]


class Body(BaseModel):
    model_config = ConfigDict(extra="forbid")


class WalkerPath(BaseModel):
    walker_id: Annotated[int, Field(ge=1, le=2**62)]


class RevisionPath(WalkerPath):
    number: Annotated[int, Field(ge=1, le=2**31 - 1)]


class HashPath(WalkerPath):
    told: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class ShelfQuery(BaseModel):
    archived: bool = False


class MotionQuery(BaseModel):
    motion: Name | None = None


class SinceQuery(BaseModel):
    to: Annotated[int, Field(ge=1, le=2**31 - 1)]


class OwnBody(Body):
    """A walker by numbers: links in the family's order, legs along the sides of the body or evenly round it. servo: one
    of the catalogue's servo types; frame_g: the frame and all it carries; null: as is usual for its size."""

    family: Annotated[str, Field(max_length=40)]
    legs: Whole
    placed: Literal["sides", "round"] = "sides"
    body_mm: tuple[Number, Number, Number]
    body: Literal["box", "round"] = "box"
    links_mm: Annotated[tuple[Number, ...], Field(max_length=8)]
    servo: Annotated[str, Field(max_length=60)] | None = None
    frame_g: Number | None = None


class Looked(Body):
    """Numbers that are still being typed."""

    own: OwnBody


class MachineLines(BaseModel):
    """A machine at rest as lines x, y, x, y … on a page of 120 by 84, and how it stands. long_mm, wide_mm: from foot to
    foot. frame_g: what its frame weighs with all it carries, stall_nm: what its servos stall at. against: what stops it
    as it stands, or at any stride; None where nothing does."""

    body: list[list[float]]
    limbs: list[list[float]]
    high_mm: float
    long_mm: float
    wide_mm: float
    frame_g: float
    stall_nm: float
    against: str | None


class NewWalker(Body):
    """A starting shape with its leg length, the builder's own numbers, or a whole project."""

    name: Name | None = None
    shape: str | None = None
    leg_length_mm: Number | None = None
    own: OwnBody | None = None
    project: CheckedProject | None = None


class SaveRevision(Body):
    parent: RevisionNumber
    project: CheckedProject
    note: Text = ""


class NameRevision(Body):
    """note: null leaves the one it has."""

    name: Name | None
    note: Annotated[Text, Field(max_length=200)] | None = None


class Draft(Body):
    """A project as it stands on the screen, saved or not."""

    project: CheckedProject
    motion: Name


class Glimpse(Draft):
    """station: with what is open while a handle is dragged, only what it shows is told; without, everything. rest: with
    the machine at rest beside it, standing or folded. drawn_first: with what is drawn as a part of its own, before
    anything is judged."""

    station: Annotated[str, Field(max_length=20)] | None = None
    rest: Literal["standing", "folded"] | None = None
    drawn_first: bool = False


class FigureDraft(Draft):
    figure: Annotated[str, Field(max_length=40)]


class Working(BaseModel):
    lines: list[str]


class FindingName(Body):
    code: Annotated[str, Field(max_length=8)]
    subject: Annotated[str, Field(max_length=60)] = ""


class RemedyDraft(Draft):
    finding: FindingName


class BandDraft(Draft):
    lever: str
    low: Number
    high: Number


class ExportDraft(Body):
    revision: RevisionNumber
    motion: Name
    format: str
    decimals: Whole = 2
    anyway: bool = False
    facts: bool = False
    values: Literal["angles", "pulses", "ticks"] = "angles"
    cut: bool = False


class RevisionLine(BaseModel):
    number: int
    parent: int | None
    hash: str
    name: str | None
    note: str
    created_at: datetime


class SavedWalker(RevisionLine):
    id: int
    archived: bool
    project: CheckedProject


class ShelfEntry(BaseModel):
    """unreadable: why this version of Bustle does not understand what is stored, null where it does."""

    id: int
    name: str
    note: str
    archived: bool
    revision: int
    saved_at: datetime
    legs: int
    motions: list[str]
    mass_g: float
    unreadable: str | None


class PassedOn(BaseModel):
    """A project on its way to a worker, or back."""

    project: CheckedProject


class Health(BaseModel):
    ok: bool


class Searches(BaseModel):
    searches: list[Progress]


class Ending(Body):
    """number: end what was asked for drafts before it; kind: what is of that kind; closed: everything, for good."""

    number: Annotated[int, Strict(), Field(ge=0, le=2**53)] | None = None
    kind: Annotated[str, Field(max_length=40)] | None = None
    closed: bool = False


class Verdict(BaseModel):
    """unjudged: how many motions nobody knows to be well."""

    stops: int
    warns: int
    unjudged: int
    verdict: str


class Shelf(BaseModel):
    walkers: list[ShelfEntry]


class Revisions(BaseModel):
    revisions: list[RevisionLine]


class Differences(BaseModel):
    differences: list[Difference]


class Merged(BaseModel):
    project: CheckedProject
    mine: list[Difference]
    theirs: list[Difference]


class Band(BaseModel):
    ranges: list[tuple[float, float]]


class RemedyView(BaseModel):
    title: str
    patch: list[dict[str, Any]]
    changes: tuple[Change, ...]
    project: CheckedProject


class Remedies(BaseModel):
    finding: FindingName
    remedies: list[RemedyView]


class ExportLine(BaseModel):
    id: int
    revision: int
    motion: str
    format: str
    file_name: str
    sha256: str
    size_bytes: int
    created_at: datetime


class Exports(BaseModel):
    exports: list[ExportLine]


class Phases(BaseModel):
    gait: str
    duty: float
    balance: Literal["static", "dynamic"]
    phases: list[float]


class PhasesDraft(Body):
    """legs: those that take part, None: all."""

    project: CheckedProject
    gait: str
    legs: Annotated[list[str], Field(max_length=24)] | None = None


class ProblemDetail(BaseModel):
    """RFC 9457."""

    type: str
    title: str
    status: int
    detail: str
    problems: list[dict[str, str]]


class ConflictDetail(ProblemDetail):
    """A save on a revision that is no longer the newest."""

    saved: SavedWalker
    merged: Merged | None
