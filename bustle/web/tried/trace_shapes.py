"""What is answered of a trace beside its plan."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, Field

from bustle.web.said.shapes import RevisionNumber
from bustle.web.tried.shapes import SeenView

Reads = Literal["found out", "more", "less"]


class TraceQuery(BaseModel):
    """loaded: whether a foot reads more or less under load; full_scale: what its converter reads at the supply's
    voltage, where that is known."""

    loaded: Reads = "found out"
    full_scale: float | None = Field(default=None, gt=0, le=1e6)


class LeanView(BaseModel):
    """Over the cycle, degrees, about their means: as told, as seen, and how far that spreads."""

    way: str
    told: list[float]
    seen: list[float]
    spread: list[float]
    told_deg: float
    seen_deg: float
    again: float


class FootView(BaseModel):
    """Over the cycle: what its sensor reads and when it is told down. threshold, off_by: in its own unit."""

    limb: str
    seen: list[float]
    down: list[bool]
    threshold: float | None
    off_by: float | None
    misread: float
    lands_ms: float | None


class TraceView(BaseModel):
    """A trial's trace beside what its revision planned. placed: whether anything tells where in the cycle it begins;
    passed_over: columns that say nothing here."""

    number: int
    motion: str
    revision: RevisionNumber
    lasts_s: float
    lines: int
    period_s: float
    told_s: float
    placed: bool
    more: bool
    leans: list[LeanView]
    feet: list[FootView]
    seen: list[SeenView]
    passed_over: list[str]
