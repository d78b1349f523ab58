"""Ways of mending, as values: what to try. Whoever evaluates does them, so that no judgement knows the front door.

A way turns one of the levers, offers edits outright, or names a search that finds its own.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any, Literal

from bustle.core.edits.levers import motion_index
from bustle.core.judge.finding import Finding
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import Project, gait_of
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class Mending:
    """What a way is told: the project as it stands, the motion, what was found, and the reading it was found in."""

    project: Project
    motion: str
    finding: Finding
    reading: Reading

    @property
    def path(self) -> str:
        """Of the motion in the document."""
        return f"/motions/{motion_index(self.project, self.motion)}"

    @property
    def gait(self) -> PhaseGait:
        """The motion as a gait. Raises InputRefused where it is none."""
        return gait_of(self.project, self.motion)


@dataclass(frozen=True)
class Edit:
    """An edit in words, and its operations (JSON Patch)."""

    title: str
    operations: tuple[dict[str, Any], ...]


@dataclass(frozen=True)
class Turn:
    """The least turn of a lever, up or down or both, that clears the finding; subject: of findings about that alone."""

    lever: str
    up: bool = True
    down: bool = True
    subject: str | None = None


@dataclass(frozen=True)
class Offer:
    """Edits that are tried whole.

    edits(mending) → those worth trying. keep: every one that clears the finding, the first that does, or the one that
    leaves the most of the figure named. any_motion: whether it turns nothing that a gait alone has.
    """

    edits: Callable[[Mending], Iterator[Edit]]
    keep: Literal["all", "first"] | str = "all"
    any_motion: bool = False


@dataclass(frozen=True)
class Found:
    """A search by name that finds its own edit by evaluating many times."""

    search: Literal["smallest_sway", "least_slip_heave", "pendulum_sway"]


Way = Turn | Offer | Found
