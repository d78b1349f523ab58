"""Starting, stopping and being killed: what was acknowledged as saved survives."""

from __future__ import annotations

import json
import os
import shutil
import signal
import socket
import subprocess
import sys
import unittest
import urllib.request
from pathlib import Path

import numpy as np

from bustle.core.project.project import document
from tests.long import ALL, is_long, share
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
            self.assertIn(f"http://127.0.0.1:{self.port}", line, "" if line else process.stderr.read())
        return process

    def end(self, process):
        if process.poll() is None:
            process.send_signal(signal.SIGINT)
            process.wait(30)

    def call(self, path, body=None):
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(f"http://127.0.0.1:{self.port}{path}", data)
        request.add_header("Content-Type", "application/json")
        with urllib.request.urlopen(request, timeout=20) as answer:
            return json.load(answer)

    def children(self, process, name):
        listing = subprocess.run(["ps", "-eo", "pid,ppid,args"], capture_output=True, text=True).stdout
        rows = [line.split(None, 2) for line in listing.splitlines()[1:]]
        return [int(pid) for pid, parent, args in rows if int(parent) == process.pid and name in args]

    @is_long
    def test_saves_survive_kill_9_of_server_database_and_launcher(self):
        saved = []
        victims = ["gunicorn", "postgres", "launcher"] * 20
        for victim in share(np.random.default_rng(), victims, 1)[: None if ALL else 1]:
            process = self.launch()
            for number, name in saved:
                self.assertEqual(self.call(f"/api/walkers/{number}")["project"]["name"], name)
            project = document(hexapod())
            project["name"] = f"Before the {victim} was killed"
            saved.append((self.call("/api/walkers", {"project": project})["id"], project["name"]))
            pids = [process.pid] if victim == "launcher" else self.children(process, victim)
            self.assertTrue(pids, victim)
            for pid in pids:
                os.kill(pid, signal.SIGKILL)
            process.wait(30)
            if victim != "launcher":
                self.assertIn("start again", process.stderr.read())
        process = self.launch()
        self.assertEqual(len(self.call("/api/walkers")["walkers"]), 2 + len(saved))
        self.end(process)
        self.assertEqual(process.returncode, 0)

    def test_ctrl_c_stops_everything_and_frees_the_port(self):
        process = self.launch()
        database = self.children(process, "postgres")
        self.end(process)
        self.assertEqual(process.returncode, 0)
        for pid in database:
            self.assertFalse(Path(f"/proc/{pid}").exists())
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            probe.bind(("127.0.0.1", self.port))

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
            ("postgresql://127.0.0.1:1/x", "cannot be used"),
        ):
            process = self.launch(expect_ready=False, DATABASE_URL=url)
            process.wait(30)
            self.assertIn(words, process.stderr.read())

    def test_another_server_by_its_address(self):
        from tests.scratch import empty_database

        process = self.launch(DATABASE_URL=empty_database().replace("+psycopg", ""))
        self.assertEqual(len(self.call("/api/walkers")["walkers"]), 2)
        self.assertFalse((self.home / "database").exists())
        self.end(process)

    def test_a_database_that_goes_away_while_running_is_a_503(self):
        from bustle.web.application import create_app

        app = create_app("postgresql+psycopg://nobody@127.0.0.1:1/none")
        answer = app.test_client().get("/api/walkers")
        self.assertEqual(answer.status_code, 503)
        self.assertIn("database does not answer", answer.json["detail"])
