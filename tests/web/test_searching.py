"""Searches over HTTP: through the pool, with progress, ended by their page, and in a sentence when they fail."""

from __future__ import annotations

import os
import threading
import time
import unittest
from unittest import mock

from bustle.core.project.project import document
from bustle.jobs.client import InThisProcess
from bustle.jobs.job import Job, JobFailed, OutOfMemory, Overran, WorkerLost
from bustle.launch import Searches
from bustle.web.application import create_app
from bustle.web.work import WORKS
from tests.jobs.test_office import until
from tests.long import in_turns
from tests.projects import ROOT, hexapod
from tests.scratch import fresh_database

PAGE = {"X-Bustle-Window": "page-1", "X-Bustle-Draft": "1", "Host": "127.0.0.1"}


class ThroughThePool(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.searches = Searches()
        cls.addClassCleanup(cls.searches.stop)
        with mock.patch.dict(os.environ, cls.searches.environment):
            cls.app = create_app(fresh_database())
        cls.addClassCleanup(cls.app.extensions["store"].close)
        cls.draft = {"project": document(hexapod()), "motion": "Forward"}
        until(lambda: cls.app.extensions["jobs"].progress("nobody") == [])

    @in_turns
    def test_the_answer_is_as_in_this_process(self):
        band = {**self.draft, "lever": "lift", "low": 0.0, "high": 100.0}
        through = self.app.test_client().post("/api/sound-band", json=band, headers=PAGE)
        self.assertEqual(through.status_code, 200, through.text)
        alone = create_app("postgresql+psycopg://nobody@127.0.0.1:1/none")
        self.assertIsInstance(alone.extensions["jobs"], InThisProcess)
        self.assertEqual(alone.test_client().post("/api/sound-band", json=band).json, through.json)

    @in_turns
    def test_a_set_says_how_far_it_is_and_is_stopped(self):
        answers = []
        body = {"project": self.draft["project"], "gait": "tripod"}
        headers = {**PAGE, "X-Bustle-Window": "page-2"}
        ask = threading.Thread(
            target=lambda: answers.append(self.app.test_client().post("/api/motion-set", json=body, headers=headers))
        )
        ask.start()
        web = self.app.test_client()
        said = []
        until(lambda: said.extend(web.get("/api/windows/page-2/searches").json["searches"]) or said)
        self.assertEqual((said[0]["kind"], said[0]["of"]), ("motion_set", 8))
        # A drag goes on beside it, in a thread that does not wait.
        began = time.monotonic()
        self.assertEqual(web.post("/api/evaluate", json={**self.draft, "station": "stride"}).status_code, 200)
        self.assertTrue(ask.is_alive() or time.monotonic() - began < 5)
        web.post("/api/windows/page-2/ended", json={"kind": "motion_set"})
        ask.join(10)
        self.assertEqual((answers[0].status_code, answers[0].json["detail"]), (409, "It was stopped."))

    def test_what_is_wrong_with_the_draft_is_refused_as_ever(self):
        refused = self.app.test_client().post(
            "/api/motion-set", json={"project": self.draft["project"], "gait": "moonwalk"}, headers=PAGE
        )
        self.assertEqual(refused.status_code, 422)
        self.assertIn("gait:", refused.json["detail"])

    @in_turns
    def test_names_of_windows_are_checked(self):
        web = self.app.test_client()
        self.assertEqual(web.get(f"/api/windows/{'x' * 65}/searches").status_code, 422)
        self.assertEqual(web.post("/api/windows/page/ended", json={"number": -1}).status_code, 422)
        odd = {**PAGE, "X-Bustle-Draft": "many", "X-Bustle-Window": "w" * 500}
        band = {**self.draft, "lever": "lift", "low": 0.0, "high": 10.0}
        self.assertEqual(web.post("/api/sound-band", json=band, headers=odd).status_code, 200)


class Failing(unittest.TestCase):
    def test_every_way_to_fail_is_a_sentence_with_a_retry_and_never_a_500(self):
        app = create_app("postgresql+psycopg://nobody@127.0.0.1:1/none")
        body = {"project": document(hexapod()), "motion": "Forward", "lever": "lift", "low": 0.0, "high": 10.0}
        for failure in (Overran, WorkerLost, OutOfMemory):
            app.extensions["jobs"] = Broken(failure)
            answer = app.test_client().post("/api/sound-band", json=body)
            self.assertEqual((answer.status_code, answer.headers["Retry-After"]), (503, "1"))
            self.assertEqual(answer.json["detail"], failure.sentence)

    def test_every_work_has_an_address_that_asks_for_it(self):
        text = "".join(p.read_text() for p in (ROOT / "bustle" / "web").rglob("*.py"))
        for kind in WORKS:
            self.assertRegex(text, rf'(?:told|searched)\("{kind}"')


class Broken(InThisProcess):
    def __init__(self, failure: type[JobFailed]) -> None:
        super().__init__(WORKS)
        self._failure = failure

    def run(self, job: Job) -> bytes:
        raise self._failure
