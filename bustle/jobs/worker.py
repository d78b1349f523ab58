"""Inside a worker process: one job after another, with a limit on memory."""

from __future__ import annotations

import importlib
import json
import os
import resource
import signal
import time
from contextlib import suppress
from pathlib import Path
from typing import Any

from bustle.core.search.progress import Tell
from bustle.jobs.job import Work
from bustle.lifelines import die_with_parent

# Progress is written down no more often than this, s.
OFTEN_S = 0.1
# After so long, s, whoever waits would rather have what there is.
PATIENCE_S = 30.0

# How far workers stand back for the rest of the machine, as `nice` counts it.
BEHIND = 10

_works: dict[str, Work] = {}


def begin(where: str, memory_bytes: int) -> None:
    """Called once in each worker. where: "module:NAME" of a dictionary of works by kind."""
    # Where the office dies, its workers go with it.
    die_with_parent(signal.SIGKILL)
    # Whoever drags a handle meanwhile, and the browser that draws it, come first.
    os.nice(BEHIND)
    module, _, name = where.partition(":")
    _works.update(getattr(importlib.import_module(module), name))
    if memory_bytes:
        resource.setrlimit(resource.RLIMIT_AS, (memory_bytes, memory_bytes))


def work(kind: str, asked: Any, told: str) -> bytes:
    """Do one job; told: the file in which its progress is written down."""
    return _works[kind](asked, _teller(Path(told)))


def _teller(path: Path) -> Tell:
    last, begun = 0.0, time.monotonic()

    def tell(done: int, of: int, what: str) -> bool:
        nonlocal last
        now = time.monotonic()
        if now - last >= OFTEN_S:
            last = now
            fresh = path.with_suffix(".new")
            # On a full disk nobody sees how far it is; it goes on.
            with suppress(OSError):
                fresh.write_text(json.dumps([done, of, what]))
                os.replace(fresh, path)
        return now - begun > PATIENCE_S

    return tell
