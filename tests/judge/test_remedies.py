"""What a remedy says it does is what it does, on spoiled machines of any kind."""

from __future__ import annotations

from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.search.remedies import remedies
from tests.engine.random_walkers import random_walkers
from tests.long import in_turns
from tests.seeded import SeededTest

MACHINES = 2


class Remedies(SeededTest):
    @in_turns
    def test_each_clears_what_it_is_for_adds_no_stop_and_foretells_its_figures(self):
        spoiled = (w for w in random_walkers(self.seed, range(1, 20)) if w.codes)
        tried = 0
        for walker, _ in zip(spoiled, range(MACHINES), strict=False):
            before = evaluate(walker.project, walker.walk)
            for finding in (f for f in before.findings if f.severity == "stop"):
                for remedy in remedies(walker.project, walker.walk, finding):
                    tried += 1
                    mended = patched(walker.project, remedy.patch)
                    after = evaluate(mended, walker.walk)
                    with self.subTest(walker.shape, spoiled=walker.spoiled, remedy=remedy.title, seed=self.seed):
                        told = [(f.code, f.subject) for f in after.findings if f.severity == "stop"]
                        self.assertNotIn((finding.code, finding.subject), told)
                        self.assertFalse(after.stops - before.stops)
                        for change in remedy.changes:
                            name = next(f.name for f in after.figures if f.label == change.label)
                            self.assertEqual(change.before, before.figure(name))
                            self.assertEqual(change.after, after.figure(name))
        self.assertGreater(tried, 0)
