"""Walks on two legs on soles of their usual size, on narrow and short ones, and on blades."""

from __future__ import annotations

from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.search.remedies import remedies
from tests.engine.played import Played
from tests.engine.random_walkers import in_order
from tests.long import in_turns
from tests.projects import changed, start
from tests.seeded import SeededTest

WALK, CYCLES = "Forward", 6


def on_soles(project, sole):
    """Both legs on the sole, or on their own with some of it changed."""
    edits = {}
    for n, limb in enumerate(project.walker.limbs):
        if limb.steps:
            own = limb.feet[0].sole.model_dump()
            edits[f"walker/limbs/{n}/feet/0/sole"] = sole if "kind" in sole else {**own, **sole}
    return changed(project, edits)


def stays_up(project):
    return Played(project, in_order(project, WALK, CYCLES)).up


class NarrowSoles(SeededTest):
    @in_turns
    def test_stands_on_its_own_and_falls_over_narrow_ones(self):
        project = start("two_full", "Soles", float(self.random.uniform(130, 320)))
        sole = project.walker.legs[0].feet[0].sole
        narrow = on_soles(project, {"width_mm": float(self.random.uniform(0.08, 0.13)) * sole.width_mm})
        blades = on_soles(project, {"kind": "edge", "length_mm": sole.length_mm})
        self.assertNotIn("F33", {f.code for f in evaluate(project, WALK).findings})
        self.assertTrue(stays_up(project))
        for machine in (narrow, blades):
            finding = next(f for f in evaluate(machine, WALK).findings if f.code == "F33")
            kind = machine.walker.legs[0].feet[0].sole.kind
            with self.subTest(kind=kind, seed=self.seed):
                self.assertEqual(finding.severity, "stop")
                self.assertFalse(stays_up(machine))
                mended = [patched(machine, remedy.patch) for remedy in remedies(machine, WALK, finding)]
                self.assertEqual(len(mended), 1)
                self.assertTrue(stays_up(mended[0]))


class ShortSoles(SeededTest):
    @in_turns
    def test_what_tips_sideways_pitches_over_short_ones(self):
        shape = str(self.random.choice(["two_servo", "two_parallelogram"]))
        project = start(shape, "Soles", float(self.random.uniform(140, 300)))
        short = on_soles(project, {"length_mm": 0.3 * project.walker.legs[0].feet[0].sole.length_mm})
        with self.subTest(shape=shape, seed=self.seed):
            self.assertNotIn("F53", {f.code for f in evaluate(project, WALK).findings})
            finding = next(f for f in evaluate(short, WALK).findings if f.code == "F53")
            self.assertEqual(finding.severity, "stop")
            self.assertFalse(stays_up(short))
            longer = next(remedy for remedy in remedies(short, WALK, finding) if "long" in remedy.title)
            self.assertTrue(stays_up(patched(short, longer.patch)))
