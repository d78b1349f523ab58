"""What the server has to say, said without anybody waiting for it to be read.

A pipe that nobody empties takes no more after some sixty thousand letters, and whoever writes into it then waits for
ever. So a thread of its own writes; what it has no room for is dropped. What is said again and again, as while the
database is away, is said a few times a minute.
"""

from __future__ import annotations

import logging
import time
from collections import Counter
from contextlib import suppress
from logging.handlers import QueueHandler, QueueListener
from queue import Full, Queue
from typing import TextIO

# Waiting to be written at most; of one kind in a minute at most.
MOST_WAITING, MOST_ALIKE, MINUTE_S = 500, 5, 60.0


class _Dropping(QueueHandler):
    def enqueue(self, record: logging.LogRecord) -> None:
        with suppress(Full):
            self.queue.put_nowait(record)


class _Seldom(logging.Filter):
    """Of one kind, by what it is before its figures are put in, so many a minute."""

    def __init__(self) -> None:
        super().__init__()
        self._since, self._said = time.monotonic(), Counter[tuple[str, str]]()

    def filter(self, record: logging.LogRecord) -> bool:
        now, kind = time.monotonic(), (record.name, str(record.msg))
        if now - self._since > MINUTE_S:
            self._since, self._said = now, Counter()
        self._said[kind] += 1
        return self._said[kind] <= MOST_ALIKE


def speak_aside(stream: TextIO | None = None) -> QueueListener:
    """All that is logged from now on goes to the stream, stderr by default, by a thread of this process."""
    waiting: Queue[logging.LogRecord] = Queue(MOST_WAITING)
    handler, listener = _Dropping(waiting), QueueListener(waiting, logging.StreamHandler(stream))
    handler.addFilter(_Seldom())
    logging.getLogger().handlers[:] = [handler]
    # That a request waited for a thread is nothing a builder can do anything about.
    logging.getLogger("waitress.queue").setLevel(logging.ERROR)
    listener.start()
    return listener
