"""Start Bustle: the database, its schema, the demo, the web server; and stop them cleanly."""

from __future__ import annotations

import ctypes
import errno
import os
import secrets
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
from contextlib import suppress
from http.client import HTTPConnection
from pathlib import Path
from types import FrameType

from sqlalchemy.exc import SQLAlchemyError

from bustle.core.document.file import load_project
from bustle.store import Store
from bustle.store.cluster import Cluster, ClusterError
from bustle.store.migrate import migrate

ROOT = Path(__file__).resolve().parents[1]
DEFAULT_PORT = 8737


class CannotStart(RuntimeError):
    """Why not, in one sentence."""


class _Stop(Exception):
    """Asked to stop."""


def _port() -> int:
    text = os.environ.get("BUSTLE_PORT", str(DEFAULT_PORT))
    if not text.isdigit() or not 1 <= int(text) <= 65535:
        raise CannotStart(f"BUSTLE_PORT must be a port number from 1 to 65535, got {text!r}.")
    return int(text)


def _check_port(port: int) -> None:
    """A server killed a moment ago may hold the port for a second or two."""
    for attempt in range(16):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
                return
            except OSError as error:
                if error.errno == errno.EACCES:
                    raise CannotStart(f"Port {port} is for the system; set BUSTLE_PORT to one above 1023.") from error
        if attempt < 15:
            time.sleep(0.2)
    raise CannotStart(f"Port {port} is taken; stop what uses it, or set BUSTLE_PORT to another.")


def database_url(text: str) -> str:
    """Any PostgreSQL address, with the driver that Bustle ships."""
    scheme, mark, rest = text.partition("://")
    if not mark or scheme.split("+")[0] not in ("postgresql", "postgres"):
        raise CannotStart("DATABASE_URL must begin with postgresql://.")
    return f"postgresql+psycopg://{rest}"


def load_demo(store: Store) -> None:
    """The demo walkers, once per database."""
    projects = [load_project(path.read_bytes()) for path in sorted((ROOT / "demo").glob("*.bustle.json"))]
    store.load_once("demo", projects)


def prepare(url: str) -> None:
    """Schema and demo."""
    store = Store(url)
    try:
        migrate(store.engine)
        load_demo(store)
    except SQLAlchemyError as error:
        reason = str(getattr(error, "orig", error)).strip().splitlines()[0]
        raise CannotStart(f"The database cannot be used: {reason}") from error
    finally:
        store.close()


def _die_with_parent() -> None:
    ctypes.CDLL(None).prctl(1, signal.SIGTERM)  # PR_SET_PDEATHSIG


class Searches:
    """The process that holds the pool of workers, and how the web server finds it."""

    def __init__(self, works: str = "bustle.web.work:WORKS") -> None:
        self._folder, self._works = tempfile.mkdtemp(prefix="bustle-office-"), works
        self._key = secrets.token_hex(32)
        self.process = self._start()

    @property
    def environment(self) -> dict[str, str]:
        return {"BUSTLE_JOBS": f"{self._folder}/office", "BUSTLE_JOBS_KEY": self._key}

    def _start(self) -> subprocess.Popen[bytes]:
        return subprocess.Popen(
            [sys.executable, "-m", "bustle.jobs.office", f"{self._folder}/office", self._works],
            cwd=ROOT,
            env={**os.environ, **ONE_THREAD, "BUSTLE_JOBS_KEY": self._key},
            stdin=subprocess.DEVNULL,
            start_new_session=True,
            preexec_fn=_die_with_parent,
        )

    def keep_up(self) -> None:
        """Start it again where it ended: searches that were under way are lost, and nothing else."""
        if self.process.poll() is not None:
            _end_group(self.process)
            self.process = self._start()

    def stop(self) -> None:
        _end_group(self.process)
        shutil.rmtree(self._folder, ignore_errors=True)


def _end_group(process: subprocess.Popen[bytes]) -> None:
    """The process and what it has started."""
    with suppress(ProcessLookupError):
        os.killpg(process.pid, signal.SIGKILL)
    process.wait(10)


# The arrays here are small: threads inside a product of matrices only get into each other's way.
ONE_THREAD = {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}


def serve(url: str, port: int, searches: Searches) -> subprocess.Popen[bytes]:
    """gunicorn on loopback. Two workers of twelve threads, of which eight may wait for searches; connections kept
    open."""
    options = ["--bind", f"127.0.0.1:{port}", "--worker-class", "gthread", "--workers", "2", "--threads", "12"]
    # Loaded once, before there are two of them.
    options += ["--preload"]
    options += ["--keep-alive", "75", "--timeout", "60", "--graceful-timeout", "5", "--log-level", "warning"]
    options += ["--no-control-socket"] if _has_control_socket() else []
    return subprocess.Popen(
        [sys.executable, "-m", "gunicorn", *options, "bustle.web.application:create_app()"],
        cwd=ROOT,
        env={**os.environ, **ONE_THREAD, **searches.environment, "DATABASE_URL": url},
        stdin=subprocess.DEVNULL,
        start_new_session=True,
        preexec_fn=_die_with_parent,
    )


def _has_control_socket() -> bool:
    from gunicorn.config import KNOWN_SETTINGS

    return any("--no-control-socket" in (setting.cli or ()) for setting in KNOWN_SETTINGS)


def wait_until_ready(port: int, server: subprocess.Popen[bytes]) -> None:
    """Until the health page answers. Raises CannotStart if the server ends first or takes a minute."""
    deadline = time.monotonic() + 60
    while server.poll() is None and time.monotonic() < deadline:
        try:
            connection = HTTPConnection("127.0.0.1", port, timeout=2)
            connection.request("GET", "/api/health")
            if connection.getresponse().status == 200:
                return
        except OSError:
            pass
        time.sleep(0.05)
    raise CannotStart("The web server did not come up; what it said is above.")


def _ask_to_stop(signum: int, frame: FrameType | None) -> None:
    raise _Stop


def run() -> None:
    """Everything up, until a signal or until one of the two servers ends."""
    port = _port()
    _check_port(port)
    given = os.environ.get("DATABASE_URL")
    home = Path(os.environ.get("BUSTLE_HOME", ROOT / ".bustle"))
    cluster = None if given else Cluster(home)
    server = searches = None
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, _ask_to_stop)
    try:
        if cluster:
            cluster.start()
        url = database_url(given) if given else cluster.url  # type: ignore[union-attr]
        # The server's imports and the migrations take their seconds side by side; nothing is announced before both.
        searches = Searches()
        server = serve(url, port, searches)
        prepare(url)
        wait_until_ready(port, server)
        print(f"Bustle is at http://127.0.0.1:{port} (Ctrl-C stops it)", flush=True)
        while True:
            time.sleep(0.3)
            searches.keep_up()
            if server.poll() is not None:
                raise CannotStart("The web server ended; start again to go on, every save is kept.")
            if cluster and cluster.process and cluster.process.poll() is not None:
                raise CannotStart("The database ended; start again to go on, every save is kept.")
    except _Stop:
        print("Stopping.", flush=True)
    finally:
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, signal.SIG_IGN)
        if server and server.poll() is None:
            server.terminate()
            try:
                server.wait(10)
            except subprocess.TimeoutExpired:
                server.kill()
        if searches:
            searches.stop()
        if cluster:
            cluster.stop()


def main() -> int:
    try:
        run()
    except (CannotStart, ClusterError) as reason:
        print(f"start: {reason}", file=sys.stderr)
        return 1
    except PermissionError as error:
        print(f"start: {error.filename} cannot be written; Bustle keeps its data there.", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
