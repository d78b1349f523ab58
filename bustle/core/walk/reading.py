"""The arrays of one evaluation, and what has been read off them so far.

A reading knows none of its readers. A measure is a function of a reading; `reading.of(measure)` works it out the first
time somebody asks and keeps it, so that nothing is computed that nobody asked for, and nothing twice. A hurried one, of
a handle that is being dragged, works out no measure that can wait for the hand to rest.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypeVar

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices, kept
from bustle.core.geometry.planar_twist import told_beside
from bustle.core.machine.kit import Assembled, Kit
from bustle.core.project.motion import Balance, LegTiming, Motion, PhaseGait
from bustle.core.project.project import Project
from bustle.core.walk.course import Course
from bustle.core.walk.motions.made_of import balance_of
from bustle.core.walk.score import Score

T = TypeVar("T")

# Share of the cycle by which "just before an event" is earlier, for whoever looks there.
JUST_BEFORE = 1e-6


# What a hurried reading does not work out.
_WAITING: set[Callable[..., Any]] = set()


class Waits(Exception):
    """What was asked for needs a measure that waits for the hand to rest."""


def waits_for_rest(measure: Callable[[Reading], T]) -> Callable[[Reading], T]:
    """Marks a measure as one that no drag is to be held up by, where the open station does not show it."""
    _WAITING.add(measure)
    return measure


@dataclass(frozen=True)
class Reading:
    """course covers the samples first (`samples` of them), then each event from before and after.

    At the instants past the samples only contacts differ from a plain sample. hurried: raises `Waits` for what
    `waits_for_rest`, unless it is known already.
    """

    project: Project
    motion: Motion
    score: Score
    kit: Kit
    course: Course
    samples: int
    before: Flags
    hurried: bool = False
    _known: dict[Callable[..., Any], Any] = field(default_factory=dict, repr=False, compare=False)

    def of(self, measure: Callable[[Reading], T]) -> T:
        """What the measure comes to here; its arrays are read-only."""
        try:
            known: T = self._known[measure]
        except KeyError:
            if self.hurried and measure in _WAITING:
                raise Waits from None
            known = self._known[measure] = kept(measure(self))
        return known

    def at_once(self, ask: Callable[[Reading], T]) -> T | None:
        """What it answers; None where that waits for the hand to rest."""
        try:
            return ask(self)
        except Waits:
            return None

    def in_a_hurry(self) -> Reading:
        """The same reading, as far as it is told without what waits for the hand to rest."""
        return replace(self, hurried=True)

    def time_at(self, instant: int) -> float:
        """When an instant is. Just before an event it is a hair earlier: at 0 that is the end of the cycle."""
        time = float(self.course.time_s[instant])
        if not self.before[instant]:
            return time
        return (time or self.score.duration_s) - JUST_BEFORE * self.score.duration_s

    @cached_property
    def times(self) -> Array:
        """(S + 2E,) s: when every instant is, as `time_at`."""
        time, whole = self.course.time_s, self.score.duration_s
        return np.where(self.before, np.where(time == 0.0, whole, time) - JUST_BEFORE * whole, time)

    @cached_property
    def _beside(self) -> Indices:
        """(S + 2E,), counted on over the ends of a cycle."""
        found = np.ceil(self.course.time_s / self.row_s - 1e-6).astype(np.intp) - self.before
        return found if self.score.periodic else np.clip(found, 0, self.samples - 1)

    @cached_property
    def row_beside(self) -> Indices:
        """(S + 2E,): its own row of every sample; of an event, before or after it, the nearest row on that side."""
        return self._beside % self.samples

    def as_beside(self, ways: Array) -> Array:
        """Ways over the ground at the rows, (N, 2) or (N, 3) → (S + 2E, …): at an event as at the row beside it, turned
        where that is told over the ground of another cycle."""
        found: Array = told_beside(ways, self._beside, self.goes_on[2])
        return found

    @property
    def row_s(self) -> float:
        """Time from one sample to the next."""
        return self.score.duration_s / (self.samples if self.score.periodic else self.samples - 1)

    @cached_property
    def goes_on(self) -> tuple[float, float, float]:
        """mm, mm, rad: how far the travel frame goes from a cycle's beginning to its end."""
        begins, ends = np.stack(self.score.travel(np.array([0.0, self.score.duration_s])), axis=1)
        x, y, theta = (np.array(self.course.ends) if self.course.ends else ends) - begins
        return float(x), float(y), float(theta)

    @cached_property
    def assembled(self) -> Assembled:
        return self.kit.assembled(self.score.bends_deg, self.score.held)

    @cached_property
    def angles(self) -> Array:
        """(S, J) at the samples, rad or mm."""
        return self.course.solved.joints[: self.samples]

    @cached_property
    def gait(self) -> PhaseGait | None:
        """The motion where it is a gait: told by phases, duties and a twist."""
        return self.motion if isinstance(self.motion, PhaseGait) else None

    @cached_property
    def timing(self) -> dict[str, LegTiming]:
        """The gait's timing by leg; empty where it is none."""
        return {leg.limb: leg for leg in self.gait.legs} if self.gait else {}

    @cached_property
    def balance(self) -> Balance:
        return balance_of(self.project, self.motion)
