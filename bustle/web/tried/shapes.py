"""What is asked and answered of what is tried."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from bustle.core.document.checked import CheckedProject
from bustle.core.dry_run.dry_run import DryRun
from bustle.core.project.field_types import Name
from bustle.core.project.walker import Mass
from bustle.core.trials.seen.what_was_seen import Seen
from bustle.core.trials.trial import Planned, Trial
from bustle.web.said.shapes import Body, Draft, Number, RevisionNumber, WalkerPath


class MeasuredDraft(Draft):
    """One measurement by name, and what was read, by name."""

    measurement: Annotated[str, Field(max_length=40)]
    values: dict[Annotated[str, Field(max_length=60)], Number]


class AgainstView(BaseModel):
    """What was measured beside what was planned."""

    what: str
    planned: float
    measured: float
    unit: str
    digits: int


class TurnedView(BaseModel):
    """A verdict that turns when it is taken over: sound, note, warn or stop."""

    motion: str
    code: str
    before: str
    after: str


class Measured(BaseModel):
    """project: the draft with it taken over."""

    against: list[AgainstView]
    turned: list[TurnedView]
    project: CheckedProject


class MendView(BaseModel):
    """A change with which it goes well. project: the draft with it."""

    title: str
    project: CheckedProject
    run: DryRun


class DryRunView(BaseModel):
    """in_order: the motions that are run. wanted: between which shares of its way it goes well. runs: as its sheets say
    first, then with other servos and on another floor."""

    in_order: list[str]
    wanted: tuple[float, float]
    runs: list[DryRun]
    mends: list[MendView]


class DryRunAlone(BaseModel):
    """run: of the machine as its sheets say; None where none can be told, and then why."""

    run: DryRun | None
    why: str | None


class RungView(BaseModel):
    """One rung: what must be seen before the next, what speaks against it most, what becomes of it in a dry run, and
    what would fell it first."""

    name: str
    seen: str
    severity: str | None
    against: str | None
    run: DryRun | None
    felled_by: str | None


class Ladder(BaseModel):
    """project: the draft with every rung, its start and its stop."""

    rungs: list[RungView]
    project: CheckedProject


class WhatIfDraft(Draft):
    """A mass that is not there yet."""

    mass: Mass


class RoomView(BaseModel):
    """Of one motion: its margin, or how far inside its soles it pushes, before and after; what then stops it."""

    motion: str
    before_mm: float | None
    after_mm: float | None
    stops: tuple[str, ...]


class PartView(BaseModel):
    """How far one mass moves the whole's: ahead, left, up."""

    name: str
    mass_g: float
    moves_mm: tuple[float, float, float]


class WhatIfView(BaseModel):
    """mass_g, com_height_mm: before and after. project: the draft with the mass."""

    mass_g: tuple[float, float]
    com_height_mm: tuple[float, float]
    motions: list[RoomView]
    parts: list[PartView]
    project: CheckedProject


class OwnEndsView(BaseModel):
    """added: the motions that are new in the project; stops: what stops one of them, a sentence each."""

    project: CheckedProject
    added: list[str]
    stops: list[str]


class PlannedSway(BaseModel):
    """residual_mm: how far the pushing point is still off the middle of its soles; near_mm: what is near enough."""

    project: CheckedProject
    residual_mm: float
    near_mm: float


class LogTrial(Body):
    """A trial of a saved revision."""

    revision: RevisionNumber
    trial: Trial


class TrialPath(WalkerPath):
    number: Annotated[int, Field(ge=1, le=2**31 - 1)]


class LogQuery(BaseModel):
    revision: Annotated[int, Field(ge=1, le=2**31 - 1)] | None = None


class TrialTold(Body):
    """What a motion of a revision is told to do in so many seconds."""

    revision: RevisionNumber
    motion: Name
    time_s: Annotated[Number, Field(gt=0, le=3600)]


class PlannedView(BaseModel):
    planned: Planned


class TrialLine(BaseModel):
    """A trial in the log. planned: what its revision told then. covered: of that; drift_mm_m: how far left of its way
    after a metre; None where that was not measured. withdrawn: it does not count; traced: its machine's
    sensors told of it."""

    number: int
    revision: int
    at: datetime
    trial: Trial
    planned: Planned
    covered: float | None
    drift_mm_m: float | None
    changed: list[str]
    changes: int
    withdrawn: bool
    traced: bool


class SeenView(BaseModel):
    """What the log tells. code: of the catalogue, "" of none. project: the revision with the change."""

    motion: str
    code: str
    title: str
    message: str
    do: str
    trials: list[int]
    change: str
    project: CheckedProject | None


def seen_views(found: Sequence[Seen]) -> list[SeenView]:
    return [SeenView(**{**vars(each), "trials": list(each.trials)}) for each in found]


class LogView(BaseModel):
    """Trials, the newest first; seen: what they tell of a revision; floors: what was walked on, the latest first."""

    revision: int
    trials: list[TrialLine]
    seen: list[SeenView]
    floors: list[str]
