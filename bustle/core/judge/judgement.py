"""A judgement: one thing that may go wrong, whether it can be told here, its numbers, and what mends it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

from bustle.core.geometry.arrays import Flags
from bustle.core.judge.figure import FigureSpec
from bustle.core.judge.finding import Finding
from bustle.core.judge.ways import Way
from bustle.core.walk.reading import Reading

Tier = Literal["drag", "settled"]


def always(r: Reading) -> str | None:
    """Judged of every motion."""
    return None


def of_gaits(r: Reading) -> str | None:
    """Judged of gaits alone."""
    return None if r.gait else "only a gait has phases, strides and a lift of its own"


@dataclass(frozen=True, eq=False)
class Judgement:
    """check(reading) → its findings. judged(reading) → None, or why it cannot be judged here.

    stations: where it is marked, the first its home. tier: "drag" for what is needed while a handle is dragged at any
    station; "settled" for what can wait until the hand rests, but at its own stations. stops: whether it ever stops a
    walk; some warn at most. limits_stride: whether a stride is as long as it may be where this warns, but where
    the warning is of one of the subjects no_limit. figures: the first is what the finding is about. ways: in the order
    in which builders try them. matters: whether nobody knows that all is well where this is not judged, nor any of
    those that do `instead`. unplayable(reading) → (S + 2E,), when no machine can take the table's row. bench: of the
    machine as it is wired and fitted, whatever it walks: no search for a motion asks it. at_once(reading) → what of it
    a drag asks, where the whole takes long; None where that tells nothing yet.
    """

    code: str
    label: str
    stations: tuple[str, ...]
    check: Callable[[Reading], Iterator[Finding]]
    judged: Callable[[Reading], str | None] = always
    tier: Tier = "settled"
    stops: bool = True
    matters: bool = False
    instead: tuple[str, ...] = ()
    limits_stride: bool = False
    no_limit: tuple[str, ...] = ()
    figures: tuple[FigureSpec, ...] = ()
    ways: tuple[Way, ...] = ()
    bench: bool = False
    unplayable: Callable[[Reading], Flags] | None = None
    at_once: Callable[[Reading], Sequence[Finding] | None] | None = None

    def found(self, r: Reading) -> tuple[Finding, ...]:
        """The findings, each worked out once for a reading."""
        return r.of(self._found)

    def found_at_once(self, r: Reading) -> Sequence[Finding] | None:
        """The findings that a drag asks; None where nothing is known yet."""
        return self.found(r) if self.at_once is None or self.judged(r) else self.at_once(r)

    def _found(self, r: Reading) -> tuple[Finding, ...]:
        return () if self.judged(r) else tuple(self.check(r))
