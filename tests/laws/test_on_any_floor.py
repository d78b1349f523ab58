"""Whatever the floor: every starting shape's motions are told in numbers, drawn, written, mended and run dry."""

from __future__ import annotations

import json
import warnings

import numpy as np

from bustle.core.dry_run.dry_run import NOMINAL, VARIANTS, dry_run
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.search.remedies import remedies
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.formats import write_table
from bustle.formats.plan_json import plan_values
from bustle.web.drawn.picture import picture
from tests.engine.played import Played
from tests.engine.random_walkers import in_order
from tests.loads.test_slopes import sloping
from tests.long import in_turns, is_long, times
from tests.projects import start
from tests.seeded import SeededTest

# Level, all but level, walkable, steep, as steep as is taken; ice, what is assumed, rubber on rubber.
SLOPES, FRICTIONS = (0.0, 0.01, 5.0, 20.0, 45.0), (0.05, 0.6, 3.0)


class AnyFloor(SeededTest):
    def drawn(self):
        shape = str(self.random.choice(list(SHAPES)))
        more = {
            "floor/friction": float(self.random.choice(FRICTIONS)),
            "against_sag": str(self.random.choice(["off", "static", "full"])),
        }
        made = start(shape, "Anywhere", float(self.random.uniform(60, 600)))
        project = sloping(made, self.random.choice(SLOPES), self.random.uniform(-180, 180), **more)
        return project, str(self.random.choice([m.name for m in project.motions]))

    @is_long
    def test_it_is_told_drawn_and_written_in_numbers(self):
        for _ in range(times(120)):
            project, motion = self.drawn()
            said = self.subTest(motion=motion, floor=project.floor, sag=project.against_sag, seed=self.seed)
            with said, warnings.catch_warnings():
                warnings.simplefilter("error")
                plan = evaluate(project, motion)
                for figure in plan.figures:
                    self.assertTrue(np.isfinite(figure.value), figure.name)
                    self.assertTrue(all(figure.working), figure.name)
                for finding in plan.findings:
                    self.assertTrue(np.isfinite([finding.value, finding.limit]).all(), finding.code)
                json.dumps(plan_values(plan), allow_nan=False)
                self.assertNotIn(b"NaN", picture(plan)[:2000])
                self.assertIn(b"time_s", write_table(plan, "csv", anyway=True))

    @in_turns
    def test_what_mends_it_mends_it(self):
        for _ in range(6):
            project, motion = self.drawn()
            for finding in evaluate(project, motion).findings[:2]:
                for remedy in remedies(project, motion, finding)[:3]:
                    after = evaluate(patched(project, remedy.patch), motion)
                    with self.subTest(motion=motion, code=finding.code, title=remedy.title, seed=self.seed):
                        self.assertNotIn((finding.code, finding.subject), {(f.code, f.subject) for f in after.findings})

    @in_turns
    def test_a_dry_run_falls_where_an_engine_does(self):
        """On two soles, by a walk made for the level: on what it stands, and across what it does not."""
        project = start("two_full", "Dry", float(self.random.uniform(220, 320)))
        machine = {NOMINAL: VARIANTS[NOMINAL]}
        for slope, uphill in ((4.0, 0.0), (4.0, 180.0), (11.0, 90.0), (11.0, -90.0), (18.0, 0.0)):
            asked = sloping(project, slope, uphill, **{"floor/friction": 0.8})
            (dry,) = dry_run(asked, "Forward", machines=machine)
            with self.subTest(slope=slope, uphill=uphill, seed=self.seed):
                self.assertEqual(dry.fell_s is None, slope == 4.0)
                self.assertEqual(Played(asked, in_order(asked, "Forward", 4)).up, slope == 4.0)

    def test_what_no_floor_is_is_refused_by_its_field(self):
        project = start("six_sprawled", "Refused", 200.0)
        for field, value, said in (
            ("slope_deg", -1.0, "floor.slope_deg: must be at least 0"),
            ("slope_deg", 46.0, "floor.slope_deg: must be at most 45"),
            ("slope_deg", float("nan"), "floor.slope_deg"),
            ("uphill_deg", 181.0, "floor.uphill_deg: must be at most 180"),
            ("friction", 0.0, "floor.friction: must be above 0"),
            ("friction", 3.1, "floor.friction: must be at most 3"),
        ):
            with self.subTest(field=field, value=value), self.assertRaisesRegex(InputRefused, said):
                sloping(project, 0.0, 0.0, **{f"floor/{field}": value})
