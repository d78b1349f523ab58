"""A trial: a motion that the machine itself walked, as a builder saw and measured it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import Field, Strict

from bustle.core.project.field_types import Flag, Name, PartPath, Real, Text, Value

Soles = Literal["as they were", "cleaned", "new"]


class Trial(Value):
    """along_mm: how far it got along the way asked; beside_mm: how far to the left of that way it ended; turned_deg:
    how far it had turned, to the left; None: not measured. floor: what it walked on, in the builder's word; gives:
    whether that is soft or springy. soles: what was done to them since the trial before. falls: how often it was caught
    or fell. dragged: limbs whose feet caught or dragged. pack_v: what the pack had afterwards."""

    motion: Name
    floor: Name
    gives: Flag = False
    time_s: Annotated[Real, Field(gt=0, le=3600)]
    along_mm: Annotated[Real, Field(ge=-100_000, le=100_000)] | None = None
    beside_mm: Annotated[Real, Field(ge=-100_000, le=100_000)] | None = None
    turned_deg: Annotated[Real, Field(ge=-36_000, le=36_000)] | None = None
    falls: Annotated[int, Strict(), Field(ge=0, le=100)] = 0
    dragged: Annotated[tuple[PartPath, ...], Field(max_length=24)] = ()
    soles: Soles = "as they were"
    pack_v: Annotated[Real, Field(gt=0, le=100)] | None = None
    note: Annotated[Text, Field(max_length=400)] = ""


@dataclass(frozen=True)
class Planned:
    """What its plan told for as long as it walked: how far along the way asked, by what was asked and by what its legs
    walk, None where it has no way; how far that turns, to the left; what is left under each foot that swings, by limb,
    of a gait; the hardest landing's jolt as a share of the weight; and how it was steered and lifted then."""

    asked_mm: float | None
    along_mm: float | None
    turned_deg: float
    left_mm: dict[str, float]
    jolt_share: float | None
    steer_mm_m: float
    lift_mm: float


@dataclass(frozen=True)
class Logged:
    """A trial in the log: its number there, the revision that was walked, what that told, and what had been changed
    since the trial before of the same motion: fields in a builder's words, and how many they are."""

    number: int
    revision: int
    trial: Trial
    planned: Planned
    changed: tuple[str, ...]
    changes: int

    @property
    def covered(self) -> float | None:
        """Of what the plan told by its legs; None where one of the two is not known."""
        told, got = self.planned.along_mm, self.trial.along_mm
        return None if told is None or got is None or abs(told) < LEAST_MM else got / told

    @property
    def drift_mm_m(self) -> float | None:
        """How far left of its way once it has gone a metre: it goes on a curve, y = κ·x²/2."""
        along, beside = self.trial.along_mm, self.trial.beside_mm
        if along is None or beside is None or along < FAR_ENOUGH_MM:
            return None
        return beside * (METRE_MM / along) ** 2

    @property
    def went_well(self) -> bool | None:
        """Whether it stayed up and got about as far as told; None where that is not known."""
        if self.trial.falls:
            return False
        return None if self.covered is None else self.covered >= WELL


# A plan that goes less far is none to be held against; a drift over less is too little to tell.
LEAST_MM, FAR_ENOUGH_MM, METRE_MM = 20.0, 300.0, 1000.0
# Of the way told, so much is about as far.
WELL = 0.8
