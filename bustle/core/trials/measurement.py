"""A measurement that a builder makes in a minute: what is read, what the plan says of it, and what it changes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from bustle.core.document.checked import CheckedProject
from bustle.core.walk.reading import Reading

Patch = tuple[dict[str, Any], ...]


@dataclass(frozen=True)
class Asked:
    """A number that is read off: its key, how it is asked for, its unit and ends. each_leg: one for each leg's foot."""

    name: str
    label: str
    unit: str
    low: float
    high: float
    usual: float | None = None
    each_leg: bool = False


@dataclass(frozen=True)
class Against:
    """What was measured beside what was planned, one number each, and what takes it over into the project."""

    what: str
    planned: float
    measured: float
    unit: str
    digits: int
    patch: Patch


@dataclass(frozen=True)
class Given:
    """motion: the walk it stands as; standing: how it stands still; values: what was read, by name: a leg's
    own of what is read of each leg."""

    project: CheckedProject
    motion: str
    standing: Reading
    values: Mapping[str, float]


@dataclass(frozen=True, eq=False)
class Measurement:
    """told(given) → what it comes to, raising InputRefused in words where it comes to nothing. care: what may hurt."""

    name: str
    label: str
    how: str
    asked: tuple[Asked, ...]
    told: Callable[[Given], tuple[Against, ...]]
    care: str = ""
