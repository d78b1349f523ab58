"""The web server: the application read once, then processes that share one socket, each kept up by the first.

Requests are read by one loop a process and handed to a thread when they are whole, so that whoever sends slowly, or
sends nothing, keeps nobody else out.
"""

from __future__ import annotations

import gc
import os
import resource
import signal
import socket
import sys
import time
from functools import partial
from pathlib import Path
from types import FrameType

import orjson
from alembic.util.exc import CommandError
from flask import Flask
from sqlalchemy.exc import ArgumentError, SQLAlchemyError
from waitress.server import create_server

from bustle.core.document.file import load_project
from bustle.core.geometry.compiled import ready
from bustle.core.trials.trial import Trial
from bustle.lifelines import Ends, die_with_parent
from bustle.store import Store
from bustle.store.log import Log
from bustle.store.migrate import migrate
from bustle.web.application import create_app
from bustle.web.aside import speak_aside
from bustle.web.guard import DISCARD_BYTES

DEMO = Path(__file__).resolve().parents[2] / "demo"

# Threads, of which eight may wait for searches.
WORKERS, THREADS = 2, 12
CONNECTIONS = 4000
# A connection that says nothing is closed after so long, s.
SILENT_S = 120
# More ends than this of a process in a minute, and it is not begun again.
MOST_ENDS = 10

CANNOT_START = 3


class CannotPrepare(RuntimeError):
    """Why the database cannot be used, in one sentence."""


def load_demo(store: Store) -> None:
    """The demo walkers and what was logged of them, once per database."""
    if not store.load_once("demo", [load_project(path.read_bytes()) for path in sorted(DEMO.glob("*.bustle.json"))]):
        return
    walkers, log = {item.card["name"]: item.id for item in store.shelf()}, Log(store)
    for name, trials in orjson.loads((DEMO / "trials.json").read_bytes()).items():
        for trial in trials:
            trace = trial.pop("trace", None)
            kept = log.write(walkers[name], 1, Trial.model_validate_json(orjson.dumps(trial)))
            if trace:
                log.keep_trace(walkers[name], kept.logged.number, (DEMO / "traces" / trace).read_bytes())


def prepare(url: str) -> None:
    """Schema and demo. Raises CannotPrepare."""
    try:
        store = Store(url)
    except (ArgumentError, ValueError) as error:
        raise CannotPrepare("DATABASE_URL is no address of a PostgreSQL server.") from error
    try:
        migrate(store.engine)
        load_demo(store)
    except CommandError as error:
        raise CannotPrepare(
            "The database belongs to a newer Bustle, and this one does not know its tables; start the newer one."
        ) from error
    except SQLAlchemyError as error:
        reason = str(getattr(error, "orig", None) or error).strip().splitlines()[0]
        raise CannotPrepare(f"The database cannot be used: {reason}") from error
    finally:
        store.close()


def listen(port: int) -> socket.socket:
    made = socket.socket()
    made.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    made.bind(("127.0.0.1", port))
    made.listen(1024)
    return made


def _stop(signum: int, frame: FrameType | None) -> None:
    raise SystemExit(0)


def _serve(app: Flask, listening: socket.socket) -> None:
    """One process: until it is told to stop."""
    die_with_parent()
    signal.signal(signal.SIGTERM, _stop)
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    speak_aside()
    create_server(
        app, sockets=[listening], threads=THREADS, connection_limit=CONNECTIONS, channel_timeout=SILENT_S,
        asyncore_use_poll=True, max_request_body_size=DISCARD_BYTES, ident=None, clear_untrusted_proxy_headers=True,
    ).run()  # fmt: skip


class Processes:
    """The serving processes, each begun again where it ends."""

    def __init__(self, app: Flask, listening: socket.socket, count: int) -> None:
        self.app, self.listening = app, listening
        self.ends = Ends(MOST_ENDS)
        self.running = {self._begin() for _ in range(count)}

    def _begin(self) -> int:
        pid = os.fork()
        if pid:
            return pid
        status = 1
        try:
            _serve(self.app, self.listening)
            status = 0
        except SystemExit:
            status = 0
        finally:
            os._exit(status)

    def keep_up(self) -> None:
        """Until told to stop, or until they end again and again."""
        while True:
            pid, _ = os.wait()
            if pid not in self.running:
                continue
            self.running.discard(pid)
            if self.ends.too_often():
                raise RuntimeError("The web server ends again and again; what it said is above.")
            self.running.add(self._begin())

    def stop(self) -> None:
        for number in (signal.SIGTERM, signal.SIGKILL):
            for pid in self.running:
                try:
                    os.kill(pid, number)
                except ProcessLookupError:
                    continue
            deadline = time.monotonic() + 6
            while self.running and time.monotonic() < deadline:
                self.running -= {pid for pid in self.running if _ended(pid)}
                time.sleep(0.02)


def _ended(pid: int) -> bool:
    try:
        return os.waitpid(pid, os.WNOHANG)[0] == pid
    except ChildProcessError:
        return True


def main(port: int, url: str) -> int:
    most = resource.getrlimit(resource.RLIMIT_NOFILE)[1]
    resource.setrlimit(resource.RLIMIT_NOFILE, (most if most != resource.RLIM_INFINITY else 65536, most))
    try:
        prepare(url)
    except CannotPrepare as reason:
        print(f"start: {reason}", file=sys.stderr)
        return CANNOT_START
    ready(partial(print, flush=True))
    app = create_app(url)
    # What has been loaded stays: looking through it for what nobody holds would hold up a drag now and then, by 110 ms.
    gc.freeze()
    processes = Processes(app, listen(port), WORKERS)
    signal.signal(signal.SIGTERM, _stop)
    try:
        processes.keep_up()
    except RuntimeError as reason:
        print(f"start: {reason}", file=sys.stderr)
        return 1
    finally:
        signal.signal(signal.SIGTERM, signal.SIG_IGN)
        processes.stop()
    return 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]), os.environ["DATABASE_URL"]))
