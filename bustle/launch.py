"""Start Bustle: the database, its schema, the demo, the web server; and stop them cleanly."""

from __future__ import annotations

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
from urllib.parse import urlsplit

from bustle.lifelines import Ends, die_with_parent
from bustle.store.cluster import Cluster, ClusterError

ROOT = Path(__file__).resolve().parents[1]
DEFAULT_PORT = 8737
# A busy machine takes its time.
READY_S = 240.0
# The web server's exit code where it has said itself why it cannot start.
SAID_WHY = 3
# So many ends of a server in a minute, and it is not begun again.
MOST_ENDS = 5
# The port is looked at so many times, a fifth of a second apart.
PORT_LOOKS = 31


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
    """A server whose start was killed a moment ago ends what it was asked first, for some seconds."""
    for attempt in range(PORT_LOOKS):
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", port))
                return
            except OSError as error:
                if error.errno == errno.EACCES:
                    raise CannotStart(f"Port {port} is for the system; set BUSTLE_PORT to one above 1023.") from error
        if attempt < PORT_LOOKS - 1:
            time.sleep(0.2)
    raise CannotStart(f"Port {port} is taken; stop what uses it, or set BUSTLE_PORT to another.")


def database_url(text: str) -> str:
    """Any PostgreSQL address, with the driver that Bustle ships."""
    scheme, mark, rest = text.partition("://")
    if not mark or scheme.split("+")[0] not in ("postgresql", "postgres"):
        raise CannotStart("DATABASE_URL must begin with postgresql://.")
    try:
        _ = urlsplit(text).port
    except ValueError as error:
        raise CannotStart("DATABASE_URL has a port that is no number from 1 to 65535.") from error
    return f"postgresql+psycopg://{rest}"


class Searches:
    """The process that holds the pool of workers, and how the web server finds it."""

    def __init__(self, works: str = "bustle.web.workers:WORKS") -> None:
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
            # It is killed when it ends: what it leaves lies in a folder that goes with it.
            env={**os.environ, **ONE_THREAD, "BUSTLE_JOBS_KEY": self._key, "TMPDIR": self._folder},
            stdin=subprocess.DEVNULL,
            start_new_session=True,
            preexec_fn=die_with_parent,
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
    """The web server on loopback; it sees to the schema and the demo first. See `web.server`."""
    return subprocess.Popen(
        [sys.executable, "-m", "bustle.web.server", str(port)],
        cwd=ROOT,
        env={**os.environ, **ONE_THREAD, **searches.environment, "DATABASE_URL": url},
        stdin=subprocess.DEVNULL,
        start_new_session=True,
        preexec_fn=die_with_parent,
    )


def wait_until_ready(port: int, server: subprocess.Popen[bytes]) -> None:
    """Until the health page answers. Raises CannotStart if the server ends first or takes READY_S."""
    deadline = time.monotonic() + READY_S
    while server.poll() is None and time.monotonic() < deadline:
        try:
            connection = HTTPConnection("127.0.0.1", port, timeout=2)
            connection.request("GET", "/api/health")
            if connection.getresponse().status == 200:
                return
        except OSError:
            pass
        time.sleep(0.05)
    if server.poll() is None:
        raise CannotStart(f"The web server has not answered for {READY_S:.0f} s; the machine may be too busy.")
    # Where it says why itself, that is enough.
    raise CannotStart("" if server.returncode == SAID_WHY else "The web server did not come up; what it said is above.")


def _ask_to_stop(signum: int, frame: FrameType | None) -> None:
    raise _Stop


def _ended(what: str, ends: Ends) -> None:
    """Raises CannotStart where it ends again and again."""
    if ends.too_often():
        raise CannotStart(f"The {what} ends again and again; every save that was acknowledged is kept.")
    print(f"The {what} ended; it is started again.", file=sys.stderr, flush=True)


def run() -> None:
    """Everything up, until a signal; what ends by itself is started again."""
    port = _port()
    given = os.environ.get("DATABASE_URL")
    address = database_url(given) if given else None
    _check_port(port)
    home = Path(os.environ.get("BUSTLE_HOME", ROOT / ".bustle"))
    cluster = None if given else Cluster(home)
    server = searches = None
    for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(number, _ask_to_stop)
    try:
        if cluster:
            cluster.start()
        url = address or cluster.url  # type: ignore[union-attr]
        searches = Searches()
        server = serve(url, port, searches)
        wait_until_ready(port, server)
        print(f"Bustle is at http://127.0.0.1:{port} (Ctrl-C stops it)", flush=True)
        web, database = Ends(MOST_ENDS), Ends(MOST_ENDS)
        while True:
            time.sleep(0.3)
            searches.keep_up()
            if cluster and not cluster.running:
                _ended("database", database)
                cluster.start_again()
            if server.poll() is not None:
                _ended("web server", web)
                _end_group(server)
                server = serve(url, port, searches)
                wait_until_ready(port, server)
    except _Stop:
        print("Stopping.", flush=True)
    finally:
        for number in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
            signal.signal(number, signal.SIG_IGN)
        if server and server.poll() is None:
            server.terminate()
            try:
                server.wait(15)
            except subprocess.TimeoutExpired:
                _end_group(server)
        if searches:
            searches.stop()
        if cluster:
            cluster.stop()


def main() -> int:
    try:
        run()
    except (CannotStart, ClusterError) as reason:
        if str(reason):
            print(f"start: {reason}", file=sys.stderr)
        return 1
    except PermissionError as error:
        print(f"start: {error.filename} cannot be written; Bustle keeps its data there.", file=sys.stderr)
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
