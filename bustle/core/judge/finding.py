"""A finding: the tool's judgement, with the number and the limit."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from typing_extensions import TypedDict

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.extremes import greatest

Severity = Literal["stop", "warn", "note"]
Subject = tuple[str, str]  # (leg, joint), either may be ""


class FindingPlace(TypedDict):
    leg: str | None
    joint: str | None
    time_s: float | None


@dataclass(frozen=True)
class Finding:
    """`subjects` are the legs and joints it is about, the worst first; `time_s` is the worst instant."""

    code: str
    severity: Severity
    title: str
    message: str
    subjects: tuple[Subject, ...]
    time_s: float | None
    value: float
    limit: float
    unit: str

    @property
    def where(self) -> FindingPlace:
        limb, joint = self.subjects[0] if self.subjects else ("", "")
        return FindingPlace(leg=limb or None, joint=joint or None, time_s=self.time_s)

    @property
    def subject(self) -> str:
        """What tells this finding from another with the same code: the joint's name in the family, if any."""
        return self.subjects[0][1] if self.subjects else ""


def offenders(excess: Array) -> tuple[list[int], int] | None:
    """excess: (S, N), above 0 where too much. The columns at fault, worst first, and the worst one's row."""
    worst = excess.max(axis=0, initial=-np.inf)
    if not worst.max(initial=-np.inf) > 0:
        return None
    at_fault = np.flatnonzero(worst > 0)
    columns: list[int] = at_fault[np.argsort(-np.round(worst[at_fault], 6), kind="stable")].tolist()
    return columns, greatest(excess[:, columns[0]])


def by_joint(names: Sequence[str], columns: Sequence[int]) -> dict[str, list[int]]:
    """Columns grouped by joint name, keeping their order."""
    found: dict[str, list[int]] = {}
    for column in columns:
        found.setdefault(names[column], []).append(column)
    return found
