"""What became of a walk that an engine played, and what is called a bad outcome."""

from __future__ import annotations

from dataclasses import dataclass

# Two rules are later than the first run: how far a walk that is told to crawl goes counts within what it is told, and
# how far a machine leans is not looked at where its plan tells nothing of how its body lies, as on curved soles.
# It fell where its body leans so far. It went badly where it covered less or more of its plan, where it leaned so much
# further than planned, or where, in a walk that may be stopped at any instant, a foot that should be in the air lay on
# the floor over most of the middle half of its swings.
FELL_DEG = 37.0
COVERED, CRAWLED = (0.8, 1.2), (0.5, 1.2)
LEANED_DEG = 8.0
DRAGGED_SHARE = 0.5


@dataclass(frozen=True)
class Outcome:
    """covered: the way it went, as a share of its plan. leaned_deg: most beyond the plan. dragged: of the foot that did
    most, None where that is not looked at. crawls: whether it is told that the floor decides how far it goes."""

    up: bool
    covered: float
    leaned_deg: float | None
    dragged: float | None
    crawls: bool = False

    @property
    def bad(self) -> str:
        """In a word, or nothing."""
        if not self.up:
            return "fell"
        low, high = CRAWLED if self.crawls else COVERED
        if not low <= self.covered <= high:
            return f"covered {self.covered:.0%}"
        if self.leaned_deg is not None and self.leaned_deg > LEANED_DEG:
            return f"leaned {self.leaned_deg:.0f}°"
        if self.dragged is not None and self.dragged > DRAGGED_SHARE:
            return f"dragged {self.dragged:.0%}"
        return ""
