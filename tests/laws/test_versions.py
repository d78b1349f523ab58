"""Equal projects have one hash, a new field changes none, and files of every version open and are exported again."""

from __future__ import annotations

import json
import unittest

from sqlalchemy import text

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.document.file import bytes_hash, load_project, project_hash, save_project
from bustle.core.evaluate import evaluate
from bustle.core.project.project import VERSION, document
from bustle.formats import TABLE_FORMATS, write_table
from bustle.store import Missing, Store
from bustle.store.migrate import migrate
from tests.long import is_long, share
from tests.projects import ROOT, changed, demo, hexapod
from tests.scratch import empty_database, fresh_database
from tests.seeded import SeededTest

OLD = ROOT / "tests" / "old"
# As they were when the files were put here: a later version must not change them.
HASHES = json.loads((OLD / "hashes.json").read_text())


class OldFiles(SeededTest):
    def test_there_is_one_of_every_version(self):
        said = [json.loads(p.read_text())["version"] for p in OLD.glob("version-*.bustle.json")]
        self.assertEqual(sorted(said), list(range(1, VERSION + 1)))

    @is_long
    def test_each_opens_and_is_exported_again(self):
        """Of each one motion at least."""
        for path in OLD.glob("version-*.bustle.json"):
            project = load_project(path.read_bytes())
            self.assertEqual(project.version, VERSION)
            self.assertEqual(project_hash(project), HASHES[path.name.removesuffix(".bustle.json")])
            again = load_project(save_project(project))
            for motion in share(self.random, project.motions):
                plans = [evaluate(p, motion.name) for p in (project, again)]
                for kind in TABLE_FORMATS:
                    one, other = (write_table(plan, kind, anyway=True) for plan in plans)
                    self.assertEqual(one, other, f"{path.name} {motion.name}")


class OneHash(unittest.TestCase):
    def test_whatever_the_order_of_dictionaries(self):
        settings = {"servo_pulley_mm": 9.0, "joint_pulley_mm": 12.0}
        values = document(hexapod())
        drive = values["walker"]["drives"][0]
        drive["kind"], drive["settings"] = "cord", settings
        one = parse_project(values)
        drive["settings"] = dict(reversed(settings.items()))
        other = parse_project(values)
        self.assertEqual(one, other)
        self.assertEqual(project_hash(one), project_hash(other))

    def test_whether_defaults_are_written_or_not(self):
        values = document(hexapod())
        bare = {k: v for k, v in values.items() if k not in ("limits", "budget", "floor", "start_up", "note")}
        self.assertEqual(project_hash(parse_project({**bare, "limits": values["limits"]})), project_hash(hexapod()))

    def test_a_new_field_changes_none_until_it_says_something(self):
        class Later(CheckedProject):
            colour: str = "green"

        values = document(hexapod())
        self.assertEqual(project_hash(Later.model_validate(values)), project_hash(hexapod()))
        self.assertNotEqual(project_hash(Later.model_validate({**values, "colour": "red"})), project_hash(hexapod()))

    def test_kinds_are_told_apart(self):
        planted, slides = ({"kind": kind} for kind in ("planted", "slides"))
        one, other = (changed(hexapod(), {"walker/limbs/0/feet/0/contact": c}) for c in (planted, slides))
        self.assertNotEqual(project_hash(one), project_hash(other))

    def test_unequal_projects_have_two(self):
        seen = {project_hash(hexapod())}
        for path in ("motions/0/lift_mm", "walker/limbs/0/mount/yaw_deg", "limits/margin_mm"):
            seen.add(project_hash(changed(hexapod(), {path: 17.25})))
        self.assertEqual(len(seen), 4)


class StoredHashes(unittest.TestCase):
    def test_rows_of_before_keep_theirs_get_the_new_one_and_are_found_by_either(self):
        url = fresh_database()
        store = Store(url)
        self.addCleanup(store.close)
        saved = store.create(demo("sorrel"))
        old = bytes_hash(saved.project)
        with store.engine.begin() as connection:
            # As the version before had it.
            connection.execute(text("UPDATE revisions SET hash = :old"), {"old": old})
            connection.execute(text("DROP TABLE parts, traces, trials"))
            connection.execute(text("DROP INDEX revisions_by_digest"))
            connection.execute(text("ALTER TABLE revisions DROP COLUMN digest"))
            connection.execute(text("ALTER TABLE revisions DROP COLUMN card"))
            connection.execute(text("UPDATE alembic_version SET version_num = '0001'"))
        migrate(store.engine)
        for told in (old, project_hash(saved.project)):
            self.assertEqual(store.find(saved.walker_id, told).number, 1)
        with self.assertRaises(Missing):
            store.find(saved.walker_id, "0" * 64)
        self.assertEqual(store.get(saved.walker_id).hash, old)
        # Saving what is saved adds nothing, by either.
        self.assertEqual(store.save(saved.walker_id, 1, saved.project).number, 1)

    def test_a_document_that_cannot_be_read_does_not_stop_the_migration(self):
        store = Store(empty_database())
        self.addCleanup(store.close)
        migrate(store.engine)
        kept = store.create(hexapod())
        with store.engine.begin() as connection:
            broken = {"broken": json.dumps({"format": "bustle", "version": 99})}
            row = "INSERT INTO revisions (walker_id, number, parent, document, hash) VALUES "
            row += f"({kept.walker_id}, 2, 1, CAST(:broken AS jsonb), '{'0' * 64}')"
            connection.execute(text(row), broken)
            connection.execute(text("DROP TABLE parts, traces, trials"))
            connection.execute(text("DROP INDEX revisions_by_digest"))
            connection.execute(text("ALTER TABLE revisions DROP COLUMN digest"))
            connection.execute(text("ALTER TABLE revisions DROP COLUMN card"))
            connection.execute(text("UPDATE alembic_version SET version_num = '0001'"))
        migrate(store.engine)
        with store.engine.begin() as connection:
            found = dict(connection.execute(text("SELECT number, digest FROM revisions")).all())
        self.assertEqual(found, {1: project_hash(hexapod()), 2: None})
