"""What is saved stays saved, two savers never overwrite each other, and the database itself refuses nonsense."""

from __future__ import annotations

import threading
import unittest

from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import text
from sqlalchemy.exc import IntegrityError

from bustle.core.document.file import project_hash, save_project
from bustle.store import Conflict, Missing, Store
from bustle.store.migrate import migrate
from bustle.store.models import Base
from bustle.web.server import load_demo
from tests.projects import changed, demo, hexapod
from tests.scratch import fresh_database


class StoreTest(unittest.TestCase):
    def setUp(self):
        self.store = Store(fresh_database())
        self.addCleanup(self.store.close)


class Revisions(StoreTest):
    def test_what_is_saved_is_read_back_byte_for_byte(self):
        project = demo("sorrel")
        saved = self.store.create(project)
        again = self.store.get(saved.walker_id)
        self.assertEqual(save_project(again.project), save_project(project))
        self.assertEqual(again.hash, project_hash(project))

    def test_every_save_is_a_revision_to_return_to(self):
        first = self.store.create(hexapod())
        second = self.store.save(first.walker_id, 1, changed(hexapod(), {"motions/0/lift_mm": 30.0}))
        self.store.name_revision(first.walker_id, 1, "before the hose")
        lines = self.store.revisions(first.walker_id)
        self.assertEqual([(r.number, r.parent, r.name) for r in lines], [(2, 1, None), (1, None, "before the hose")])
        self.assertEqual(self.store.get(first.walker_id, 1).hash, first.hash)
        self.assertEqual(self.store.get(first.walker_id).hash, second.hash)

    def test_saving_what_is_saved_adds_nothing(self):
        first = self.store.create(hexapod())
        self.assertEqual(self.store.save(first.walker_id, 1, hexapod()).number, 1)

    def test_a_stale_save_is_a_conflict_that_carries_both(self):
        first = self.store.create(hexapod())
        self.store.save(first.walker_id, 1, changed(hexapod(), {"motions/0/lift_mm": 30.0}))
        with self.assertRaises(Conflict) as caught:
            self.store.save(first.walker_id, 1, changed(hexapod(), {"motions/0/lift_mm": 40.0}))
        self.assertEqual((caught.exception.base.number, caught.exception.saved.number), (1, 2))
        self.assertEqual(self.store.get(first.walker_id).project.motions[0].lift_mm, 30.0)

    def test_of_many_savers_at_once_one_wins(self):
        first = self.store.create(hexapod())
        outcomes = []

        def save(lift):
            try:
                outcomes.append(
                    self.store.save(first.walker_id, 1, changed(hexapod(), {"motions/0/lift_mm": lift})).number
                )
            except Conflict:
                outcomes.append("conflict")

        threads = [threading.Thread(target=save, args=(float(40 + n),)) for n in range(8)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        self.assertEqual(sorted(map(str, outcomes)), ["2"] + ["conflict"] * 7)
        self.assertEqual(len(self.store.revisions(first.walker_id)), 2)

    def test_putting_away_deletes_nothing(self):
        first = self.store.create(hexapod())
        self.store.archive(first.walker_id, True)
        self.assertEqual(self.store.shelf(), [])
        self.assertEqual([w.id for w in self.store.shelf(archived=True)], [first.walker_id])
        self.store.archive(first.walker_id, False)
        self.assertEqual([w.id for w in self.store.shelf()], [first.walker_id])

    def test_what_is_not_there(self):
        first = self.store.create(hexapod())
        for call in (
            lambda: self.store.get(999),
            lambda: self.store.get(first.walker_id, 7),
            lambda: self.store.save(999, 1, hexapod()),
            lambda: self.store.save(first.walker_id, 5, changed(hexapod(), {"name": "X"})),
            lambda: self.store.revisions(999),
            lambda: self.store.exports(999),
        ):
            with self.assertRaises(Missing):
                call()

    def test_the_demo_is_loaded_once_even_when_put_away(self):
        load_demo(self.store)
        self.assertEqual(sorted(w.card["name"] for w in self.store.shelf()), ["Bramble", "Fennel", "Pip", "Sorrel"])
        for walker in self.store.shelf():
            self.store.archive(walker.id, True)
        load_demo(self.store)
        self.assertEqual(self.store.shelf(), [])

    def test_exports_remember_which_revision_and_what_bytes(self):
        saved = self.store.create(hexapod())
        self.store.record_export(saved.walker_id, 1, "Forward", "csv", "walk.csv", b"time_s\n")
        line = self.store.exports(saved.walker_id)[0]
        self.assertEqual((line.revision, line.motion, line.size_bytes), (1, "Forward", 7))
        self.assertEqual(len(line.sha256), 64)


class Schema(StoreTest):
    def test_migrations_make_exactly_what_the_models_describe(self):
        with self.store.engine.connect() as connection:
            self.assertEqual(compare_metadata(MigrationContext.configure(connection), Base.metadata), [])

    def test_migrating_twice_changes_nothing(self):
        saved = self.store.create(hexapod())
        migrate(self.store.engine)
        self.assertEqual(self.store.get(saved.walker_id).hash, saved.hash)

    def test_the_database_refuses_nonsense(self):
        self.store.create(hexapod())
        insert = "insert into revisions (walker_id, number, parent, document, hash) values "
        good = "a" * 64
        for values in (
            f"(1, 1, null, '{{}}', '{good}')",  # number taken
            f"(1, 0, null, '{{}}', '{good}')",
            f"(1, 2, 3, '{{}}', '{good}')",  # parent after child
            f"(1, 2, 1, '[]', '{good}')",  # no document
            "(1, 2, 1, '{}', 'xyz')",  # no hash
            f"(77, 1, null, '{{}}', '{good}')",  # no such walker
        ):
            with (
                self.subTest(values=values),
                self.assertRaises(IntegrityError),
                self.store.engine.begin() as connection,
            ):
                connection.execute(text(insert + values))
