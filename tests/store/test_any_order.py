"""The store against a model of it in a few lists: whatever is done in whatever order, both say the same."""

from __future__ import annotations

from dataclasses import dataclass, field

from bustle.core.document.checked import CheckedProject
from bustle.core.document.file import project_hash
from bustle.store import Conflict, Missing, Store
from tests.long import in_turns
from tests.projects import changed, hexapod, quadruped
from tests.scratch import fresh_database
from tests.seeded import SeededTest

STEPS = 120


@dataclass
class Kept:
    """A walker as the model has it: its revisions from the first, their names, whether it is put away, its tables."""

    revisions: list[CheckedProject]
    names: dict[int, str | None] = field(default_factory=dict)
    notes: dict[int, str] = field(default_factory=dict)
    away: bool = False
    written: list[tuple[int, bytes]] = field(default_factory=list)


class AnyOrder(SeededTest):
    def setUp(self) -> None:
        super().setUp()
        self.store = Store(fresh_database())
        self.addCleanup(self.store.close)
        self.model: dict[int, Kept] = {}
        # Saved last first, as the shelf has them.
        self.latest: list[int] = []

    def project(self) -> CheckedProject:
        """One of a few, so that the same is saved again at times."""
        base = hexapod() if self.random.random() < 0.5 else quadruped()
        return changed(base, {"motions/0/lift_mm": float(self.random.integers(20, 26))})

    def walker(self) -> int:
        return int(self.random.choice(list(self.model)))

    def number(self, walker: int) -> int:
        """A revision, mostly the newest, at times one that is not there."""
        count = len(self.model[walker].revisions)
        return count if self.random.random() < 0.6 else int(self.random.integers(1, count + 2))

    @in_turns
    def test_says_what_a_few_lists_would(self):
        self.create()
        doings = (self.create, self.save, self.save, self.save, self.name, self.put_away, self.write)
        for _ in range(STEPS):
            doings[int(self.random.integers(len(doings)))]()
            self.look(self.walker())
        for walker in self.model:
            self.look(walker)
        for away in (False, True):
            with self.subTest(away=away, seed=self.seed):
                on_it = [item.id for item in self.store.shelf(archived=away)]
                self.assertEqual(on_it, [w for w in self.latest if self.model[w].away == away])
        # Another server on the same database has all of it.
        other = Store(str(self.store.engine.url.render_as_string(hide_password=False)))
        self.addCleanup(other.close)
        for walker, kept in self.model.items():
            self.assertEqual(other.get(walker).project, kept.revisions[-1])

    def create(self) -> None:
        if len(self.model) == 5:
            return
        project = self.project()
        walker = self.store.create(project).walker_id
        self.assertNotIn(walker, self.model)
        self.model[walker] = Kept([project])
        self.latest.insert(0, walker)

    def save(self) -> None:
        walker, project = self.walker(), self.project()
        kept, parent = self.model[walker], self.number(walker)
        newest = len(kept.revisions)
        if project == kept.revisions[-1]:
            self.assertEqual(self.store.save(walker, parent, project).number, newest)
        elif parent > newest:
            with self.assertRaises(Missing):
                self.store.save(walker, parent, project)
        elif parent < newest:
            with self.assertRaises(Conflict) as caught:
                self.store.save(walker, parent, project)
            self.assertEqual(caught.exception.base.project, kept.revisions[parent - 1])
            self.assertEqual(caught.exception.saved.project, kept.revisions[-1])
        else:
            saved = self.store.save(walker, parent, project, f"note {newest + 1}")
            self.assertEqual((saved.number, saved.parent), (newest + 1, newest))
            kept.revisions.append(project)
            kept.notes[newest + 1] = f"note {newest + 1}"
            self.latest.remove(walker)
            self.latest.insert(0, walker)

    def name(self) -> None:
        walker = self.walker()
        kept, number = self.model[walker], self.number(walker)
        name = str(self.random.choice(["before the hose", "walks"])) if self.random.random() < 0.7 else None
        if number > len(kept.revisions):
            with self.assertRaises(Missing):
                self.store.name_revision(walker, number, name)
        else:
            self.store.name_revision(walker, number, name)
            kept.names[number] = name

    def put_away(self) -> None:
        kept = self.model[walker := self.walker()]
        kept.away = not kept.away
        self.store.archive(walker, kept.away)

    def write(self) -> None:
        walker = self.walker()
        kept, number = self.model[walker], self.number(walker)
        data = self.random.bytes(12)
        if number > len(kept.revisions):
            with self.assertRaises(Missing):
                self.store.record_export(walker, number, "Forward", "csv", "walk.csv", data)
        else:
            self.store.record_export(walker, number, "Forward", "csv", "walk.csv", data)
            kept.written.insert(0, (number, data))

    def look(self, walker: int) -> None:
        kept = self.model[walker]
        lines = self.store.revisions(walker)
        with self.subTest(walker=walker, seed=self.seed):
            count = len(kept.revisions)
            self.assertEqual([line.number for line in lines], list(range(count, 0, -1)))
            self.assertEqual([line.parent for line in lines], [*range(count - 1, 0, -1), None])
            self.assertEqual([line.name for line in lines], [kept.names.get(line.number) for line in lines])
            self.assertEqual([line.note for line in lines], [kept.notes.get(line.number, "") for line in lines])
            self.assertEqual(self.store.is_archived(walker), kept.away)
            self.assertEqual([e.revision for e in self.store.exports(walker)], [n for n, _ in kept.written])
            number = int(self.random.integers(1, count + 1))
            one = kept.revisions[number - 1]
            self.assertEqual(self.store.get(walker, number).project, one)
            alike = [n for n, other in enumerate(kept.revisions, 1) if other == one]
            self.assertEqual(self.store.find(walker, project_hash(one)).number, alike[-1])
