"""The pool of workers: what it answers, what ends a job, and what becomes of it when something dies."""

from __future__ import annotations

import os
import signal
import tempfile
import threading
import time
import unittest
from pathlib import Path
from types import SimpleNamespace
from unittest.mock import Mock, patch

from pebble import ProcessFuture

from bustle.core.words.problems import InputRefused
from bustle.jobs.client import MOST_WAITING, AtTheOffice
from bustle.jobs.job import Busy, Job, OutOfMemory, Overran, Stopped, Unreachable, WorkerLost
from bustle.jobs.office import Office as InTheOffice
from bustle.jobs.worker import _teller
from bustle.launch import Searches
from tests.long import in_turns


class OfficeTest(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.searches = Searches("tests.jobs.works:WORKS")
        cls.addClassCleanup(cls.searches.stop)
        cls.office = cls.client()
        until(lambda: cls.office.run(Job("echo", "up")) == b"up")

    @classmethod
    def client(cls):
        environment = cls.searches.environment
        return AtTheOffice(environment["BUSTLE_JOBS"], bytes.fromhex(environment["BUSTLE_JOBS_KEY"]))

    def begin(self, *job, **more):
        """A job under way in a thread, and what it comes to."""
        found = []

        def run():
            try:
                found.append(self.client().run(Job(*job, **more)))
            except Exception as error:
                found.append(error)

        thread = threading.Thread(target=run)
        thread.start()
        self.addCleanup(thread.join)
        return thread, found


def until(true, seconds=30.0):
    end = time.monotonic() + seconds
    while True:
        try:
            if true():
                return
        except Unreachable:
            pass
        if time.monotonic() > end:
            raise AssertionError("it never came about")
        time.sleep(0.05)


class Telling(unittest.TestCase):
    def test_who_waits_long_has_waited_enough_and_a_full_disk_ends_nothing(self):
        tell = _teller(Path("/nowhere/at/all/1.json"))
        self.assertFalse(tell(1, 8, "on"))
        with patch("bustle.jobs.worker.PATIENCE_S", 0.0):
            self.assertTrue(tell(2, 8, "on"))


class Leavings(unittest.TestCase):
    def test_nothing_is_left_of_an_office_that_was_killed_and_of_the_next(self):
        with (
            tempfile.TemporaryDirectory() as folder,
            patch.dict(os.environ, TMPDIR=folder),
            patch.object(tempfile, "tempdir", folder),
        ):
            searches = Searches("tests.jobs.works:WORKS")
            self.addCleanup(searches.stop)
            environment = searches.environment
            office = AtTheOffice(environment["BUSTLE_JOBS"], bytes.fromhex(environment["BUSTLE_JOBS_KEY"]))
            for _ in range(2):
                until(lambda: office.run(Job("echo", "up")) == b"up")
                searches.process.kill()
                searches.process.wait(10)
                searches.keep_up()
            self.assertNotEqual(os.listdir(folder), [])
            searches.stop()
            self.assertEqual(os.listdir(folder), [])


class Office(OfficeTest):
    def test_a_newer_draft_ends_what_was_asked_for_an_older_one(self):
        thread, found = self.begin("sleep", 20.0, "page", 1)
        until(lambda: self.office.progress("page"))
        self.assertEqual(self.office.run(Job("echo", "new", "page", 2)), b"new")
        thread.join(5)
        self.assertIsInstance(found[0], Stopped)
        # What comes late for the older one is not begun.
        self.office.end("page", 5)
        with self.assertRaises(Stopped):
            self.office.run(Job("echo", "late", "page", 4))

    def test_a_question_that_is_overtaken_on_its_way_does_not_end_the_later_one(self):
        thread, found = self.begin("sleep", 1.0, "page of turns", 1, turn=2)
        until(lambda: self.office.progress("page of turns"))
        with self.assertRaises(Stopped):
            self.office.run(Job("sleep", 0.0, "page of turns", 1, turn=1))
        thread.join(10)
        self.assertNotIsInstance(found[0], Exception)

    def test_another_page_is_left_alone(self):
        thread, found = self.begin("sleep", 1.0, "mine", 1)
        until(lambda: self.office.progress("mine"))
        self.office.end("yours", closed=True)
        thread.join(10)
        self.assertEqual(found, [b"slept"])

    def test_a_closed_page_ends_all_and_asks_for_nothing_more(self):
        thread, found = self.begin("sleep", 20.0, "gone", 1)
        until(lambda: self.office.progress("gone"))
        # Another web worker hears of it.
        self.client().end("gone", closed=True)
        thread.join(5)
        self.assertIsInstance(found[0], Stopped)
        with self.assertRaises(Stopped):
            self.office.run(Job("echo", "late", "gone", 9))

    def test_one_kind_is_stopped_by_its_button(self):
        thread, found = self.begin("sleep", 20.0, "button", 1)
        until(lambda: self.office.progress("button"))
        self.office.end("button", kind="echo")
        self.assertTrue(thread.is_alive())
        self.office.end("button", kind="sleep")
        thread.join(5)
        self.assertIsInstance(found[0], Stopped)

    def test_it_says_how_far_it_is(self):
        _, _ = self.begin("sleep", 3.0, "far", 1)
        until(lambda: self.office.progress("far") and self.office.progress("far")[0].done > 10)
        progress = self.office.progress("far")[0]
        self.assertEqual((progress.kind, progress.of, progress.what), ("sleep", 60, "sleeping"))
        self.office.end("far", closed=True)

    @in_turns
    def test_too_long_too_large_and_dead_are_one_sentence_and_the_next_is_served(self):
        for job, failure in (
            (Job("sleep", 20.0, deadline_s=0.3), Overran),
            (Job("eat", 32 << 30), OutOfMemory),
            (Job("die", None), WorkerLost),
        ):
            with self.assertRaises(failure) as caught:
                self.office.run(job)
            self.assertRegex(str(caught.exception), r"^It |^The worker ")
            self.assertEqual(self.office.run(Job("echo", "next")), b"next")

    @in_turns
    def test_a_worker_that_dies_with_nothing_to_do_costs_nobody_an_answer(self):
        for pause_s in (0.0, 0.05, 0.2, 1.0):
            worker = int(self.office.run(Job("who", None)))
            os.kill(worker, signal.SIGKILL)
            time.sleep(pause_s)
            self.assertNotEqual(int(self.office.run(Job("who", None))), worker, f"{pause_s} s after")

    def test_what_reached_a_pool_as_it_broke_is_asked_again(self):
        """Nobody tells such a job that its pool is gone; it is looked after."""
        kept = ProcessFuture()
        kept.set_result(b"told")
        lost = SimpleNamespace(active=False, schedule=Mock(return_value=ProcessFuture()), stop=Mock(), join=Mock())
        whole = SimpleNamespace(active=True, schedule=Mock(return_value=kept))
        lost.schedule.side_effect = [ProcessFuture(), RuntimeError("broken")]
        with (
            tempfile.TemporaryDirectory() as folder,
            patch.multiple("bustle.jobs.office", LOOKS_S=0.01, forkserver=Mock()),
            patch("bustle.jobs.office.ProcessPool", side_effect=[lost, whole]),
        ):
            self.assertEqual(InTheOffice("tests.jobs.works:WORKS", Path(folder)).run(Job("echo", "again")), b"told")
        self.assertEqual((lost.schedule.call_count, whole.schedule.call_count), (2, 1))

    def test_what_the_work_refuses_or_breaks_at_is_raised_here(self):
        with self.assertRaises(InputRefused) as caught:
            self.office.run(Job("refuse", None))
        self.assertEqual([str(p) for p in caught.exception.problems], ["motion: is no motion"])
        with self.assertRaises(ZeroDivisionError):
            self.office.run(Job("break", None))

    def test_only_so_many_threads_wait(self):
        one = self.client()
        waiting = [threading.Thread(target=self.quietly, args=(one, n)) for n in range(MOST_WAITING)]
        for thread in waiting:
            thread.start()
        until(lambda: one._waiting._value == 0)
        with self.assertRaises(Busy):
            one.run(Job("echo", "more"))
        for n in range(MOST_WAITING):
            self.office.end(f"w{n}", closed=True)
        for thread in waiting:
            thread.join(10)

    def quietly(self, client, n):
        try:
            client.run(Job("sleep", 20.0, f"w{n}", 1))
        except Stopped:
            return


class Restart(OfficeTest):
    def test_an_office_that_died_is_started_again(self):
        thread, found = self.begin("sleep", 20.0, "page", 1)
        until(lambda: self.office.progress("page"))
        self.searches.process.kill()
        thread.join(10)
        self.assertIsInstance(found[0], Unreachable)
        with self.assertRaises(Unreachable):
            self.office.run(Job("echo", "now"))
        self.searches.process.wait(10)
        self.searches.keep_up()
        until(lambda: self.office.run(Job("echo", "again")) == b"again")
