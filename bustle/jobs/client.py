"""The way to the office; and the same without one, for a terminal and for tests."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from multiprocessing import AuthenticationError
from multiprocessing.connection import Client
from typing import Any, Protocol

from bustle.core.search.progress import silent
from bustle.jobs.job import Busy, Job, Progress, Unreachable, Work

# Threads of one web worker that may wait for a job; the rest stay free for what never waits.
MOST_WAITING = 8


class Jobs(Protocol):
    def run(self, job: Job) -> bytes: ...
    def progress(self, window: str) -> list[Progress]: ...
    def end(self, window: str, number: int | None = None, kind: str | None = None, closed: bool = False) -> None: ...


class AtTheOffice:
    """Jobs asked of the process that holds the pool."""

    def __init__(self, address: str, key: bytes) -> None:
        self._address, self._key = address, key
        self._waiting = threading.BoundedSemaphore(MOST_WAITING)

    def run(self, job: Job) -> bytes:
        """The job's result. Raises JobFailed, or what the work raised."""
        if not self._waiting.acquire(blocking=False):
            raise Busy
        try:
            result: bytes = self._ask("run", job)
            return result
        finally:
            self._waiting.release()

    def progress(self, window: str) -> list[Progress]:
        found: list[Progress] = self._ask("progress", window)
        return found

    def end(self, window: str, number: int | None = None, kind: str | None = None, closed: bool = False) -> None:
        self._ask("end", window, number, kind, closed)

    def _ask(self, *question: Any) -> Any:
        try:
            with Client(self._address, "AF_UNIX", authkey=self._key) as connection:
                connection.send(question)
                how, outcome = connection.recv()
        except (OSError, EOFError, AuthenticationError) as error:
            raise Unreachable from error
        if how != "done":
            raise outcome
        return outcome


class InThisProcess:
    """Jobs done where they are asked for."""

    def __init__(self, works: Mapping[str, Work]) -> None:
        self._works = works

    def run(self, job: Job) -> bytes:
        return self._works[job.kind](job.asked, silent)

    def progress(self, window: str) -> list[Progress]:
        return []

    def end(self, window: str, number: int | None = None, kind: str | None = None, closed: bool = False) -> None:
        return None
