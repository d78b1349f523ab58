"""Figures: what a plan comes to in numbers, each with how it came about.

A figure is told without its working; the lines are made when somebody opens it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from bustle.core.walk.reading import Reading

Told = tuple[float, float | None]
Lines = tuple[str, ...]


@dataclass(frozen=True, eq=False)
class FigureSpec:
    """A figure that some plans have.

    read(reading) → (value, instant in s or None), or None where it does not apply; working(reading) → the formula with
    this walker's numbers in it, line by line, asked for only where read gave a value. digits: how many decimals mean
    anything. stations: where it is shown, the first its home. better: whether more of it is better (1), less (−1), or
    neither. compared: whether it is told where a change moves it.
    """

    name: str
    label: str | Callable[[Reading], str]
    unit: str
    digits: int
    read: Callable[[Reading], Told | None]
    working: Callable[[Reading], Lines]
    stations: tuple[str, ...] = ()
    better: int = 0
    compared: bool = False


@dataclass(frozen=True)
class Figure:
    """One figure of one plan."""

    spec: FigureSpec
    reading: Reading
    value: float
    time_s: float | None

    @property
    def name(self) -> str:
        return self.spec.name

    @property
    def label(self) -> str:
        label = self.spec.label
        return label if isinstance(label, str) else label(self.reading)

    @property
    def unit(self) -> str:
        return self.spec.unit

    @property
    def digits(self) -> int:
        return self.spec.digits

    @property
    def working(self) -> Lines:
        return self.spec.working(self.reading)


def figure_of(spec: FigureSpec, r: Reading) -> Figure | None:
    """The figure, None where it does not apply to this walker or motion."""
    told = r.of(spec.read)
    return None if told is None else Figure(spec, r, *told)
