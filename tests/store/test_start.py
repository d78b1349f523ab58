"""Starting, stopping and being killed: what was acknowledged as saved survives."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import threading
import time
import unittest
import urllib.error
import urllib.request
from concurrent.futures import ThreadPoolExecutor
from http.client import HTTPException
from pathlib import Path

import numpy as np
import psycopg
from sqlalchemy import text

from bustle.core.project.project import document
from bustle.store import Store
from bustle.store.cluster import Cluster, ClusterError
from bustle.web.server import CannotPrepare, prepare
from tests.long import ALL, in_turns, is_long
from tests.projects import ROOT, hexapod
from tests.scratch import scratch_home


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return probe.getsockname()[1]


class Launch(unittest.TestCase):
    def setUp(self):
        self.home = scratch_home("bustle-start-")
        self.port = free_port()
        self.addCleanup(shutil.rmtree, self.home, ignore_errors=True)

    def launch(self, expect_ready=True, **extra):
        environment = {k: v for k, v in os.environ.items() if k != "DATABASE_URL"}
        environment |= {"BUSTLE_HOME": str(self.home), "BUSTLE_PORT": str(self.port), **extra}
        process = subprocess.Popen(
            [sys.executable, "-m", "bustle.launch"],
            cwd=ROOT,
            env=environment,
            stdout=subprocess.PIPE,
            stderr=subprocess.PIPE,
            text=True,
            start_new_session=True,
        )
        self.addCleanup(process.stdout.close)
        self.addCleanup(process.stderr.close)
        self.addCleanup(self.end, process)
        if expect_ready:
            line = process.stdout.readline()
            self.assertIn(f"http://127.0.0.1:{environment['BUSTLE_PORT']}", line, "" if line else process.stderr.read())
        return process

    def end(self, process):
        if process.poll() is None:
            process.send_signal(signal.SIGINT)
            process.wait(30)

    def call(self, path, body=None, port=None):
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(f"http://127.0.0.1:{port or self.port}{path}", data)
        request.add_header("Content-Type", "application/json")
        with urllib.request.urlopen(request, timeout=20) as answer:
            return json.load(answer)

    def children(self, process, name):
        listing = subprocess.run(["ps", "-eo", "pid,ppid,args"], capture_output=True, text=True).stdout
        rows = [line.split(None, 2) for line in listing.splitlines()[1:]]
        return [int(pid) for pid, parent, args in rows if int(parent) == process.pid and name in args]

    def patiently(self, path, port):
        """As soon as it answers again."""
        deadline = time.monotonic() + 60
        while True:
            try:
                return self.call(path, port=port)
            except (OSError, urllib.error.HTTPError, HTTPException):
                if time.monotonic() > deadline:
                    raise
                time.sleep(0.1)

    def kill(self, process, victim):
        server = self.children(process, "bustle.web.server")
        pids = {
            "web server": server,
            "web process": [pid for parent in server for pid in self.grandchildren(parent)][:1],
            "database": self.children(process, "postgres"),
            "office": self.children(process, "bustle.jobs.office"),
            # The office has its workers from a server of forks.
            "pool worker": [
                worker
                for office in self.children(process, "bustle.jobs.office")
                for forks in self.grandchildren(office)
                for worker in self.grandchildren(forks)
            ][:1],
        }[victim]
        self.assertTrue(pids, victim)
        for pid in pids:
            with contextlib.suppress(ProcessLookupError):
                os.kill(pid, signal.SIGKILL)

    def grandchildren(self, parent):
        listing = subprocess.run(["ps", "-eo", "pid,ppid"], capture_output=True, text=True).stdout
        rows = [line.split() for line in listing.splitlines()[1:]]
        return [int(pid) for pid, above in rows if int(above) == parent]

    @is_long
    def test_saves_survive_kill_9_and_what_died_comes_back_by_itself(self):
        """Each is killed again and again while two savers save; what was acknowledged is there in the end."""
        victims = ("web server", "web process", "database", "office", "pool worker")
        if not ALL:
            self.kills(str(np.random.default_rng().choice(victims)), 1)
            return
        # Each of them in a folder of its own, side by side: between kills there is mostly waiting.
        with ThreadPoolExecutor(len(victims)) as side_by_side:
            for told in side_by_side.map(lambda victim: self.kills(victim, 100), victims):
                print(told)

    def kills(self, victim, count):
        home, port = scratch_home("bustle-kills-"), free_port()
        self.addCleanup(shutil.rmtree, home, ignore_errors=True)
        here = {"BUSTLE_HOME": str(home), "BUSTLE_PORT": str(port)}
        process, over = self.launch(**here), threading.Event()
        acknowledged = {0: [], 1: []}
        band = {"project": document(hexapod()), "motion": "Forward", "lever": "lift", "low": 10.0, "high": 30.0}

        def save(saver):
            """Two new walkers at first, then revisions of the second of them."""
            n, made = 0, None
            while not over.is_set():
                project = document(hexapod())
                project["name"] = f"Saver {saver}, save {n}"
                path, body = "/api/walkers", {"project": project}
                if made and n > 1:
                    path += f"/{made['id']}/revisions"
                    body["parent"] = made["number"]
                try:
                    made = self.call(path, body, port=port)
                    acknowledged[saver].append((made["id"], made["number"], made["hash"]))
                except urllib.error.HTTPError as refused:
                    if refused.code == 409:
                        # Saved, but the answer was lost on its way.
                        made = json.load(refused)["saved"]
                except (OSError, HTTPException):
                    pass
                n += 1
                time.sleep(0.2)

        savers = [threading.Thread(target=save, args=(n,)) for n in acknowledged]
        for saver in savers:
            saver.start()
        try:
            for _ in range(count):
                self.patiently("/api/health", port)
                if victim == "pool worker":
                    # It is there once something has been looked for, and again after it was killed.
                    self.call("/api/sound-band", band, port=port)
                before = sum(map(len, acknowledged.values()))
                self.kill(process, victim)
                self.patiently("/api/health", port)
                deadline = time.monotonic() + 60
                while sum(map(len, acknowledged.values())) <= before and time.monotonic() < deadline:
                    time.sleep(0.1)
                self.assertGreater(sum(map(len, acknowledged.values())), before, f"no save after a killed {victim}")
                # Not so often that it would be given up; of workers there may be as many as are lost.
                time.sleep(0 if count == 1 else 1 if victim == "pool worker" else 12.5)
        finally:
            over.set()
            for saver in savers:
                saver.join()
        os.kill(process.pid, signal.SIGKILL)
        process.wait(30)
        process = self.launch(**here)
        saves = [save for saver in acknowledged.values() for save in saver]
        kept = {
            (walker, line["number"], line["hash"])
            for walker in {walker for walker, *_ in saves}
            for line in self.call(f"/api/walkers/{walker}/revisions", port=port)["revisions"]
        }
        lost = set(saves) - kept
        self.assertEqual(lost, set())
        self.end(process)
        self.assertEqual(process.returncode, 0)
        return f"{count} kills of the {victim}, {len(saves)} acknowledged saves, {len(lost)} lost"

    @in_turns
    def test_ctrl_c_stops_everything_and_frees_the_port(self):
        process = self.launch()
        database = self.children(process, "postgres")
        other = self.launch(expect_ready=False, BUSTLE_PORT=str(free_port()))
        other.wait(30)
        self.assertIn("running from this folder already", other.stderr.read())
        self.end(process)
        self.assertEqual(process.returncode, 0)
        for pid in database:
            self.assertFalse(Path(f"/proc/{pid}").exists())
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            probe.bind(("127.0.0.1", self.port))

    @in_turns
    def test_what_stands_in_the_way_is_one_sentence(self):
        with socket.socket() as taken:
            taken.bind(("127.0.0.1", self.port))
            taken.listen()
            for extra, words in (
                ({}, f"Port {self.port} is taken"),
                ({"BUSTLE_PORT": "harbour"}, "BUSTLE_PORT must be a port number"),
            ):
                process = self.launch(expect_ready=False, **extra)
                process.wait(30)
                said = process.stderr.read()
                self.assertIn(words, said)
                self.assertEqual(len(said.strip().splitlines()), 1)
                self.assertEqual(process.returncode, 1)
        for url, words in (
            ("sqlite:///x", "must begin with postgresql://"),
            ("postgresql://127.0.0.1:harbour/x", "has a port that is no number"),
        ):
            process = self.launch(expect_ready=False, DATABASE_URL=url)
            process.wait(30)
            self.assertIn(words, process.stderr.read())

    @in_turns
    def test_a_server_that_never_answers_and_a_newer_database_are_one_sentence(self):
        from tests.scratch import empty_database

        newer = empty_database()
        store = Store(newer)
        self.addCleanup(store.close)
        with store.engine.begin() as connection:
            connection.execute(text("CREATE TABLE alembic_version (version_num VARCHAR(32) NOT NULL)"))
            connection.execute(text("INSERT INTO alembic_version VALUES ('0999')"))
        with socket.socket() as mute:
            mute.bind(("127.0.0.1", 0))
            mute.listen()
            for url, words in (
                (f"postgresql+psycopg://127.0.0.1:{mute.getsockname()[1]}/x", "cannot be used"),
                ("postgresql+psycopg://127.0.0.1:1/x", "cannot be used"),
                (newer, "belongs to a newer Bustle"),
            ):
                begun = time.monotonic()
                with self.subTest(url=url), self.assertRaisesRegex(CannotPrepare, words) as caught:
                    prepare(url)
                self.assertNotIn("\n", str(caught.exception))
                self.assertLess(time.monotonic() - begun, 10)

    @in_turns
    def test_another_server_by_its_address(self):
        from tests.scratch import empty_database

        process = self.launch(DATABASE_URL=empty_database().replace("+psycopg", ""))
        self.assertEqual(len(self.call("/api/walkers")["walkers"]), 4)
        self.assertFalse((self.home / "database").exists())
        self.end(process)

    def test_a_database_that_goes_away_while_running_is_a_503(self):
        from bustle.web.application import create_app

        app = create_app("postgresql+psycopg://nobody@127.0.0.1:1/none")
        answer = app.test_client().get("/api/walkers")
        self.assertEqual(answer.status_code, 503)
        self.assertIn("database does not answer", answer.json["detail"])


class Folder(unittest.TestCase):
    """The database's folder as other runs and hands have left it."""

    def setUp(self):
        self.home = scratch_home("bustle-folder-")
        self.addCleanup(shutil.rmtree, self.home, ignore_errors=True)
        self.started()
        self.data = self.home / "database"

    def started(self):
        """A start, something kept in it, and a stop. Returns how often that was done."""
        cluster = Cluster(self.home, durable=False)
        try:
            cluster.start()
            with psycopg.connect(cluster.url.replace("+psycopg", ""), autocommit=True) as connection:
                connection.execute("CREATE TABLE IF NOT EXISTS starts (at int)")
                connection.execute("INSERT INTO starts VALUES (1)")
                return connection.execute("SELECT count(*) FROM starts").fetchone()[0]
        finally:
            cluster.stop()

    @in_turns
    def test_notes_of_a_server_that_is_gone_and_a_lost_secret_keep_nothing_from_starting(self):
        """An empty, garbled or recycled postmaster.pid."""
        recycled = f"{os.getpid()}\n{self.data}\n1\n5432\n\n127.0.0.1\n"
        for n, left in enumerate(("", "garbage\n", recycled)):
            (self.data / "postmaster.pid").write_text(left)
            if n == 1:
                (self.home / "database.secret").unlink()
            self.assertEqual(self.started(), n + 2)

    def test_a_second_start_in_the_same_folder_is_refused_and_harms_nothing(self):
        first = Cluster(self.home, durable=False)
        first.start()
        self.addCleanup(first.stop)
        with self.assertRaisesRegex(ClusterError, "running from this folder already"):
            Cluster(self.home, durable=False).start()
        with psycopg.connect(first.url.replace("+psycopg", "")) as connection:
            self.assertEqual(connection.execute("SELECT count(*) FROM starts").fetchone()[0], 1)

    @in_turns
    def test_why_it_does_not_start_is_said_at_once_in_the_servers_own_words(self):
        version, control = (self.data / name for name in ("PG_VERSION", "global/pg_control"))
        secret = self.home / "database.secret"
        for spoilt, wrong, words in (
            (version, b"9\n", "Debian's package postgresql-9"),
            (control, b"", "pg_control"),
            (secret, b"another", "does not take the secret"),
        ):
            whole = spoilt.read_bytes()
            spoilt.write_bytes(wrong)
            begun = time.monotonic()
            with self.subTest(words=words), self.assertRaisesRegex(ClusterError, words):
                self.started()
            self.assertLess(time.monotonic() - begun, 20)
            spoilt.write_bytes(whole)
        os.chmod(self.data, 0o777)
        with self.assertRaisesRegex(ClusterError, "permissions"):
            self.started()
        os.chmod(self.data, 0o700)
        self.assertEqual(self.started(), 2)
