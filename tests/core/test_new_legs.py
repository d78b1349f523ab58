"""Legs that come to a machine that stands already, and legs of another kind in place of its own."""

from __future__ import annotations

import numpy as np

from bustle.core.edits.new_limbs import refitted
from bustle.core.evaluate import evaluate
from bustle.core.kinds.legs import FAMILIES
from bustle.core.starting.fresh_set import renewed
from bustle.core.starting.leg_that_stands import leg_that_stands
from tests.long import in_turns
from tests.projects import start
from tests.seeded import SeededTest

BESIDE = ("six_sprawled", "four_upright", "two_full", "four_sprawled", "six_upright")


class NewLegs(SeededTest):
    KINDS = tuple(name for name in FAMILIES if name not in ("fixed", "biped_2"))

    def test_a_leg_of_any_kind_is_put_where_there_is_room_and_stands_there(self):
        """Whatever it stands beside: a leg of its own kind, low or tall, few or many."""
        for shape in self.random.choice(
            ["six_sprawled", "four_upright", "two_full", "four_sprawled", "six_upright"], 2
        ):
            project = start(str(shape), "More", float(self.random.choice([100.0, 220.0, 400.0])))
            for family in self.random.choice(self.KINDS, 4, replace=False):
                made = leg_that_stands(project, str(family))
                leg = made.walker.limbs[-1]
                with self.subTest(shape=shape, family=family, seed=self.seed):
                    found = evaluate(made, "Stand").findings_among(("F15", "F17"))
                    stops = [f for f in found if f.severity == "stop"]
                    self.assertFalse([f.message for f in stops if leg.name in f.message])
                    others = [m.mount.at_mm[:2] for m in project.walker.legs]
                    near = min(np.hypot(*np.subtract(leg.mount.at_mm[:2], at)) for at in others)
                    self.assertGreater(near, 0.1 * project.walker.sections[0].size_mm[0])

    @in_turns
    def test_legs_changed_for_another_kind_get_walks(self):
        """Sprawled legs stand low and far out, upright ones tall and close in."""
        project = start("six_sprawled", "Changed", float(self.random.uniform(120, 300)))
        for family in ("upright_3", str(self.random.choice(["upright_2", "biped_6", "parallelogram_3"]))):
            with self.subTest(family=family, seed=self.seed):
                made = renewed(refitted(project, "L1", family, True))
                self.assertIn("Forward", {motion.name for motion in made.motions})
                for motion in made.motions:
                    stops = [f.message for f in evaluate(made, motion.name).findings if f.severity == "stop"]
                    self.assertEqual(stops, [], motion.name)
