"""A job, how far it is, and how it may end otherwise than with its result."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from bustle.core.search.progress import Tell

Work = Callable[[Any, Tell], bytes]


@dataclass(frozen=True)
class Job:
    """kind: the work's name; asked: what it is given. window, number: whose, and for which draft. deadline_s: how long
    it may work. turn: which of the window's questions it is: of one kind the last asked counts, not the last to
    come."""

    kind: str
    asked: Any
    window: str = ""
    number: int = 0
    deadline_s: float = 60.0
    turn: int = 0


@dataclass(frozen=True)
class Progress:
    """How far a job is: so many steps done of so many, and the one it is at."""

    kind: str
    done: int
    of: int
    what: str


class JobFailed(Exception):
    """A job ended without its result; the message is a sentence. Asking again may help."""

    sentence = "The search ended without an answer; nothing was changed, try again."

    def __init__(self, sentence: str | None = None) -> None:
        super().__init__(sentence or self.sentence)


class Stopped(JobFailed):
    """It was asked to stop, or a newer draft took its place."""

    sentence = "It was stopped."


class Overran(JobFailed):
    """It worked for longer than it may."""

    sentence = "It took too long and was ended; nothing was changed, try again with a shorter motion."


class WorkerLost(JobFailed):
    """Its worker died."""

    sentence = "The worker that was on it ended; nothing was changed, try again."


class OutOfMemory(JobFailed):
    """It needed more than a worker may have."""

    sentence = "It needed more memory than a search may take and was ended; try again with a shorter motion."


class Busy(JobFailed):
    """No worker had time for it."""

    sentence = "Too many searches are waiting; try again in a moment."


class Unreachable(JobFailed):
    """The office does not answer."""

    sentence = "The searches cannot be reached; nothing was changed, try again in a moment."
