"""How numbers and lists read in sentences."""

from __future__ import annotations

from collections.abc import Callable, Sequence

# So many digits tell nearly all apart.
DIGITS = 3


def number(value: float, digits: int = 1) -> str:
    """Fixed decimals, a true minus sign, never a minus zero, no trailing zeros after the point."""
    text = f"{abs(value):.{digits}f}"
    if "." in text:
        text = text.rstrip("0").rstrip(".")
    return f"−{text}" if value < 0 and float(text) else text


def length(value: float, digits: int = 0) -> str:
    """Millimetres: one decimal below 10, none above, or more."""
    return f"{number(value, max(digits, 1 if abs(value) < 9.95 else 0))} mm"


def degrees(value: float, digits: int = 0) -> str:
    return f"{number(value, max(digits, 1 if abs(value) < 9.95 else 0))}°"


def seconds(value: float) -> str:
    return f"{number(value, 3 if value < 0.1 else 2)} s"


def newtons(value: float) -> str:
    return f"{number(value, 1 if abs(value) < 100 else 0)} N"


def percent(share: float, digits: int = 0) -> str:
    return f"{number(100 * share, digits)} %"


def told_apart(say: Callable[[float, int], str], value: float, limit: float) -> tuple[str, str]:
    """A value and what it is held against, with as many digits as tell them apart: a hair over reads as no fault."""
    told = [(say(value, digits), say(limit, digits)) for digits in range(DIGITS + 1)]
    return next((both for both in told if both[0] != both[1]), told[0])


def joined(names: Sequence[str]) -> str:
    """ "lift", "lift and cycle", "lift, cycle and pose"."""
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


def also(names: Sequence[str]) -> str:
    """ " Also R1 and R3." or nothing."""
    if not names:
        return ""
    if len(names) > 3:
        return f" Also {', '.join(names[:2])} and {len(names) - 2} more."
    return f" Also {joined(names)}."
