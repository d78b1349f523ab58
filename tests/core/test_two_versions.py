"""Two versions of a project, edited anywhere: what differs, and what comes of putting one's changes on the other."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.document.differences import differences
from bustle.core.document.rows_of_motions import rows_at_least
from bustle.core.document.three_way_merge import reapply
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.words.problems import InputRefused
from tests.long import in_turns
from tests.projects import ROOT, demo, start
from tests.seeded import SeededTest

DEMOS = ("fennel", "sorrel", "bramble", "pip")
EDITS = 12

Place = tuple[str | int, ...]


def numbers(value: Any, place: Place = ()) -> Iterator[Place]:
    """Where a document has numbers with a point, that a builder can turn a little."""
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, part in items:
        if isinstance(part, float) and part:
            yield (*place, key)
        yield from numbers(part, (*place, key))


def turned(project: CheckedProject, place: Place, by: float) -> CheckedProject | None:
    """With the number there turned by a share of itself; None where no project can have it so."""
    values = document(project)
    *way, last = place
    target: Any = values
    for part in way:
        target = target[part]
    target[last] = round(target[last] * (1 + by), 6)
    try:
        return parse_project(values)
    except InputRefused:
        return None


class TwoVersions(SeededTest):
    def edited(self, project: CheckedProject, places: list[Place]) -> tuple[CheckedProject, int]:
        """Turned at these places, as far as that goes, and at how many."""
        done = 0
        for place in places:
            other = turned(project, place, float(self.random.choice([-0.01, 0.01])))
            if other is not None and other != project:
                project, done = other, done + 1
        return project, done

    def drawn(self, base: CheckedProject) -> tuple[list[Place], list[Place]]:
        """Places of two windows, none of them in one list of numbers, which is one field."""
        own = {place[:-1] if isinstance(place[-1], int) else place: place for place in numbers(document(base))}
        places = list(own.values())
        chosen = [places[int(n)] for n in self.random.choice(len(places), 2 * EDITS, replace=False)]
        return chosen[:EDITS], chosen[EDITS:]

    @in_turns
    def test_changes_in_different_fields_all_stay_whoever_comes_first(self):
        for name in DEMOS:
            base = demo(name)
            left, right = self.drawn(base)
            mine, by_me = self.edited(base, left)
            theirs, by_them = self.edited(base, right)
            with self.subTest(demo=name, seed=self.seed):
                self.assertGreater(min(by_me, by_them), 0)
                both = reapply(base, mine, theirs)
                self.assertEqual(both, reapply(base, theirs, mine))
                told = {d.path: d.after for d in differences(base, both)}
                for version in (mine, theirs):
                    for change in differences(base, version):
                        self.assertEqual(told[change.path], change.after)
                self.assertEqual(len(told), by_me + by_them)

    def test_a_version_that_nobody_else_changed_is_itself(self):
        for name in DEMOS:
            base = demo(name)
            mine, _ = self.edited(base, self.drawn(base)[0])
            with self.subTest(demo=name, seed=self.seed):
                self.assertEqual(reapply(base, mine, base), mine)
                self.assertEqual(reapply(base, base, mine), mine)
                self.assertEqual(reapply(base, mine, mine), mine)

    def test_where_both_changed_a_field_mine_stays(self):
        for name in DEMOS:
            base = demo(name)
            place = self.drawn(base)[0][:1]
            versions = [turned(base, place[0], by) for by in (0.01, -0.01)]
            if None in versions:
                continue
            with self.subTest(demo=name, place=place, seed=self.seed):
                self.assertEqual(reapply(base, versions[0], versions[1]), versions[0])

    def test_what_differs_is_told_from_before_to_after_and_nothing_of_the_same(self):
        for name in DEMOS:
            base = demo(name)
            other, count = self.edited(base, self.drawn(base)[0])
            ahead, back = differences(base, other), differences(other, base)
            with self.subTest(demo=name, seed=self.seed):
                self.assertEqual(differences(base, base), [])
                self.assertEqual(len(ahead), count)
                self.assertEqual([(d.path, d.after, d.before) for d in ahead],
                                 [(d.path, d.before, d.after) for d in back])  # fmt: skip


class Rows(SeededTest):
    @in_turns
    def test_no_motion_has_fewer_rows_than_its_document_says(self):
        """What is refused before anything is compiled would have been too long."""
        projects = [demo(path.name.split(".")[0]) for path in sorted((ROOT / "demo").glob("*.bustle.json"))]
        projects += [start(shape, "Rows", 200.0) for shape in ("four_upright", "two_full", "two_servo")]
        counted = 0
        for project in projects:
            for motion in project.motions:
                plan = evaluate(project, motion.name)
                least = rows_at_least(project, motion)
                counted += least > 0
                with self.subTest(project=project.name, motion=motion.name):
                    self.assertLessEqual(least, plan.reading.samples + 0.5)
        self.assertGreater(counted, 10)
