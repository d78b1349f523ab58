"""What became of a walk that an engine played, and what is called a bad outcome."""

from __future__ import annotations

from dataclasses import dataclass

# It fell where its body leans so far. It went badly where it covered less or more of its plan, where it leaned so much
# further than planned, or where, in a walk that may be stopped at any instant, a foot that should be in the air lay on
# the floor over most of the middle half of its swings.
FELL_DEG = 37.0
COVERED = (0.8, 1.2)
LEANED_DEG = 8.0
DRAGGED_SHARE = 0.5


@dataclass(frozen=True)
class Outcome:
    """covered: the way it went, as a share of its plan. leaned_deg: most beyond the plan. dragged: of the foot that did
    most, None where that is not looked at."""

    up: bool
    covered: float
    leaned_deg: float
    dragged: float | None

    @property
    def bad(self) -> str:
        """In a word, or nothing."""
        if not self.up:
            return "fell"
        if not COVERED[0] <= self.covered <= COVERED[1]:
            return f"covered {self.covered:.0%}"
        if self.leaned_deg > LEANED_DEG:
            return f"leaned {self.leaned_deg:.0f}°"
        if self.dragged is not None and self.dragged > DRAGGED_SHARE:
            return f"dragged {self.dragged:.0%}"
        return ""
