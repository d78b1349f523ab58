"""The process that holds the pool. Started by `launch` before anything has threads; one per server.

Workers are forked from a server process that has loaded what they need and has no threads, so that one that was ended
is replaced in a moment. A job is ended by ending its worker.
"""

from __future__ import annotations

import json
import math
import multiprocessing
import os
import signal
import sys
import threading
import time
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import CancelledError, InvalidStateError, TimeoutError
from concurrent.futures.process import BrokenProcessPool
from contextlib import suppress
from dataclasses import dataclass
from functools import partial
from multiprocessing import forkserver
from multiprocessing.connection import Connection, Listener
from pathlib import Path
from types import FrameType
from typing import Any

from pebble import ProcessExpired, ProcessFuture, ProcessPool

from bustle.jobs.job import Busy, Job, JobFailed, OutOfMemory, Overran, Progress, Stopped, WorkerLost
from bustle.jobs.worker import begin, work

# How long a job may wait for a worker, s.
QUEUE_S = 120.0
# How often it is looked whether the pool that has a job still works, s.
LOOKS_S = 1.0
# So many windows are remembered.
WINDOWS = 1000
MEMORY_BYTES = 4 << 30


def worker_count() -> int:
    """One core is left to the web server."""
    return max(1, (os.cpu_count() or 2) - 1)


@dataclass
class Running:
    job: Job
    future: ProcessFuture
    told: Path


class Office:
    """The pool and what is in it. folder: where workers write down how far they are; whoever made it takes it away."""

    def __init__(self, where: str, folder: Path, memory_bytes: int = MEMORY_BYTES, workers: int | None = None) -> None:
        context = multiprocessing.get_context("forkserver")
        context.set_forkserver_preload([where.partition(":")[0]])
        # What workers need is being loaded before anybody asks: whoever opens the shelf first waits for no imports.
        forkserver.ensure_running()
        self.fresh_pool = partial(
            ProcessPool,
            max_workers=workers or worker_count(),
            initializer=begin,
            initargs=[where, memory_bytes],
            context=context,
        )
        self.pool = self.fresh_pool()
        self.folder = folder
        for told in folder.glob("*.json"):
            # Of an office that was killed.
            told.unlink(missing_ok=True)
        self.running: dict[int, Running] = {}
        # By window, the newest draft it told of; infinite once it is closed. The windows told of last.
        self.newest: OrderedDict[str, float] = OrderedDict()
        self.lock = threading.Lock()
        self.count = 0

    def run(self, job: Job) -> bytes:
        """The job's result. Raises JobFailed, or what the work raised."""
        with self.lock:
            if job.number < self.newest.get(job.window, 0) or self._overtaken(job):
                raise Stopped
            self._end(job.window, job.number, job.kind)
            self.count += 1
            key, told = self.count, self.folder / f"{self.count}.json"
            self.running[key] = Running(job, self._schedule(job, told), told)
        try:
            return self._result(self.running[key])
        except CancelledError as error:
            raise Stopped from error
        except TimeoutError as error:
            future = self.running[key].future
            overran = future.done()
            future.cancel()
            raise (Overran if overran else Busy) from error
        except (ProcessExpired, BrokenProcessPool) as error:
            raise WorkerLost from error
        except MemoryError as error:
            raise OutOfMemory from error
        finally:
            with self.lock:
                del self.running[key]
            told.unlink(missing_ok=True)

    def _result(self, running: Running) -> bytes:
        """Asked for once more if the pool broke before a worker had begun it: the job is not what broke it."""
        wait_s = running.job.deadline_s + QUEUE_S
        try:
            return self._waited_for(running, wait_s)
        except BrokenProcessPool:
            with self.lock:
                running.future = self._schedule(running.job, running.told)
            return self._waited_for(running, wait_s)

    def _waited_for(self, running: Running, wait_s: float) -> bytes:
        """Raises as the future does, and BrokenProcessPool where the pool broke as the job reached it, which nobody
        tells the future."""
        future, until = running.future, time.monotonic() + wait_s
        while True:
            left = until - time.monotonic()
            try:
                result: bytes = future.result(timeout=max(0.0, min(left, LOOKS_S)))
                return result
            except TimeoutError:
                if future.done() or left <= 0:
                    raise
                if not self.pool.active:
                    raise BrokenProcessPool from None

    def _schedule(self, job: Job, told: Path) -> ProcessFuture:
        """The pool breaks for good when a worker dies that had nothing to do; another then takes its place."""
        asked = (job.kind, job.asked, str(told))
        try:
            return self.pool.schedule(work, asked, timeout=job.deadline_s)
        except RuntimeError:
            self._replace_pool()
            return self.pool.schedule(work, asked, timeout=job.deadline_s)

    def _replace_pool(self) -> None:
        broken, self.pool = self.pool, self.fresh_pool()
        broken.stop()
        # Not waited for: this has the lock.
        threading.Thread(target=broken.join, daemon=True).start()
        for running in self.running.values():
            # One that reached it between its breaking and now would wait for ever.
            with suppress(InvalidStateError):
                running.future.set_exception(BrokenProcessPool())

    def progress(self, window: str) -> list[Progress]:
        """Of every job of a window that has said how far it is."""
        with self.lock:
            own = [r for r in self.running.values() if r.job.window == window]
        found = []
        for running in own:
            with suppress(OSError, ValueError):
                done, of, what = json.loads(running.told.read_text())
                found.append(Progress(running.job.kind, done, of, what))
        return found

    def end(self, window: str, number: int | None = None, kind: str | None = None, closed: bool = False) -> None:
        """End the window's jobs: all, those of drafts before a number, or those of a kind. closed: none follow."""
        with self.lock:
            if closed or number is not None:
                self.newest[window] = max(math.inf if closed else number or 0, self.newest.get(window, 0))
                self.newest.move_to_end(window)
                while len(self.newest) > WINDOWS:
                    self.newest.popitem(last=False)
            self._end(window, number, kind)

    def _overtaken(self, job: Job) -> bool:
        """Whether a later question of its kind came before it, from the same window."""
        others = (running.job for running in self.running.values())
        return bool(job.window) and any(
            (other.window, other.kind) == (job.window, job.kind) and other.turn > job.turn for other in others
        )

    def _end(self, window: str, number: int | None, kind: str | None) -> None:
        for running in self.running.values():
            job = running.job
            if not window or job.window != window:
                continue
            older = number is not None and job.number < number
            # Of one kind a window has one job at a time: what it asks now is what it wants to know.
            if older or (kind is not None and job.kind == kind) or (number is None and kind is None):
                running.future.cancel()


QUESTIONS: dict[str, Callable[..., Any]] = {"run": Office.run, "progress": Office.progress, "end": Office.end}


def answer(office: Office, connection: Connection) -> None:
    """One question, one answer: ("done", value), ("failed", JobFailed) or ("raised", exception)."""
    with connection, suppress(EOFError, OSError):
        question, *asked = connection.recv()
        try:
            outcome: tuple[str, Any] = ("done", QUESTIONS[question](office, *asked))
        except JobFailed as failed:
            outcome = ("failed", failed)
        except Exception as error:  # what the work raised is the asker's
            outcome = ("raised", error)
        connection.send(outcome)


def serve(address: str, key: bytes, where: str) -> None:
    office = Office(where, Path(address).parent)
    Path(address).unlink(missing_ok=True)
    with Listener(address, "AF_UNIX", backlog=64, authkey=key) as listener:
        while True:
            try:
                connection = listener.accept()
            except (OSError, multiprocessing.AuthenticationError):
                continue
            threading.Thread(target=answer, args=(office, connection), daemon=True).start()


def _end_all(signum: int, frame: FrameType | None) -> None:
    """The office and its workers are one group of processes."""
    os.killpg(0, signal.SIGKILL)


if __name__ == "__main__":
    signal.signal(signal.SIGTERM, _end_all)
    serve(sys.argv[1], bytes.fromhex(os.environ["BUSTLE_JOBS_KEY"]), sys.argv[2])
