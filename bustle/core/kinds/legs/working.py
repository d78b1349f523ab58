"""A closed form written out with one leg's numbers, so that a builder can follow it with a pocket calculator.

Every line is computed from the numbers shown in the lines above it, rounded as shown; the last digits may therefore
differ a little from the joint angles of the table, never by more than the rounding.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

DIGITS = {"mm": 2, "°": 2, "": 5, "mm²": 1}

_SYMBOL = re.compile(r"[A-Za-zα-ω_]+[₀-₉′]*")


@dataclass(frozen=True)
class Step:
    """`symbol = formula = numbers = value unit`; a given number has no formula, and says what it is instead."""

    symbol: str
    formula: str
    numbers: str
    value: float
    unit: str
    about: str = ""


Corner = tuple[float, float, float]


def corner(point: Sequence[float]) -> Corner:
    """A point (3,) mm as plain numbers."""
    x, y, z = (float(v) for v in point)
    return x, y, z


@dataclass(frozen=True)
class Triangle:
    """A triangle on the leg: corners in the mount's frame (3, 3) mm; sides[k] leads from corner k to the next.

    sides and angles are the labels to write, "" for none; angles[k] is at corner k.
    """

    corners: tuple[Corner, Corner, Corner]
    sides: tuple[str, str, str]
    angles: tuple[str, str, str]


def shown(value: float, unit: str) -> str:
    """The number as the sheet shows it, with a true minus sign."""
    text = f"{abs(value):.{DIGITS[unit]}f}"
    text = text.rstrip("0").rstrip(".") if "." in text else text
    return f"−{text}" if value < 0 and float(text) else text


class Sheet:
    """Builds the lines. Angles are in degrees."""

    def __init__(self) -> None:
        self.steps: list[Step] = []
        self._values: dict[str, tuple[float, str]] = {}

    def __getitem__(self, symbol: str) -> float:
        return self._values[symbol][0]

    def __contains__(self, symbol: str) -> bool:
        return symbol in self._values

    def _keep(self, symbol: str, value: float, unit: str) -> float:
        kept = round(float(value), DIGITS[unit]) + 0.0
        self._values[symbol] = (kept, unit)
        return kept

    def given(self, symbol: str, value: float, unit: str, about: str) -> None:
        self.steps.append(Step(symbol, "", "", self._keep(symbol, value, unit), unit, about))

    def step(self, symbol: str, formula: str, compute: Callable[[], float], unit: str, about: str = "") -> None:
        """compute must do what `formula` says, on this sheet's rounded numbers."""
        numbers = _SYMBOL.sub(self._number, formula)
        value = compute()
        self.steps.append(Step(symbol, formula, numbers, self._keep(symbol, value, unit), unit, about))

    def _number(self, match: re.Match[str]) -> str:
        entry = self._values.get(match[0])
        if entry is None:
            return match[0]
        text = shown(*entry)
        return f"({text})" if text.startswith("−") else text

    def label(self, symbol: str) -> str:
        value, unit = self._values[symbol]
        return f"{symbol} {shown(value, unit)}{'' if unit == '°' else ' '}{unit}".rstrip()


def sin(degrees: float) -> float:
    return float(np.sin(np.radians(degrees)))


def cos(degrees: float) -> float:
    return float(np.cos(np.radians(degrees)))


def atan2(y: float, x: float) -> float:
    return float(np.degrees(np.arctan2(y, x)))


def acos(x: float) -> float:
    return float(np.degrees(np.arccos(np.clip(x, -1.0, 1.0))))


def asin(x: float) -> float:
    return float(np.degrees(np.arcsin(np.clip(x, -1.0, 1.0))))
