"""What is said of a walk on a floor that slopes, borne out by a physics engine that tilts gravity as the file says."""

from __future__ import annotations

import numpy as np

from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.judgements.balance.rocks_out_of_time import SLOPE
from bustle.core.search.remedies import remedies
from bustle.core.starting.fresh_set import fresh_set
from bustle.core.starting.starting_walkers import SHAPES
from tests.engine.played import Played, planned_mm
from tests.engine.random_walkers import in_order
from tests.loads.test_slopes import found, sloping
from tests.long import in_turns, is_long, share
from tests.projects import start
from tests.seeded import SeededTest

GRIPPY = {"floor/friction": 0.8}
# Whose set walks on a slope as on the level, and how steep that is.
STEEP = {
    "six_sprawled": 12.0, "six_upright": 8.0, "four_sprawled": 8.0, "four_upright": 8.0, "four_upright_2": 6.0,
    "two_full": 8.0, "two_planar": 8.0, "two_servo": 4.0, "four_casters": 6.0,
}  # fmt: skip


class OnASlope(SeededTest):
    @in_turns
    @is_long
    def test_a_set_made_for_it_walks_as_far_as_told(self):
        for shape in share(self.random, list(STEEP), 2):
            uphill = float(self.random.choice([0.0, 180.0, 90.0, -90.0]))
            base = start(shape, "Climbs", float(SHAPES[shape].usual_mm * self.random.uniform(0.8, 1.2)))
            project = fresh_set(sloping(base, STEEP[shape] * self.random.uniform(0.4, 1.0), uphill, **GRIPPY))
            order = in_order(project, "Forward", 4)
            played = Played(project, order)
            with self.subTest(shape=shape, uphill=uphill, seed=self.seed):
                self.assertFalse({c for name, _ in order for c, *_ in evaluate(project, name).stops})
                self.assertTrue(played.up)
                self.assertAlmostEqual(played.way_mm / planned_mm(project, order), 1.0, delta=0.15)

    @in_turns
    def test_on_two_soles_a_level_walk_falls_where_it_is_stopped_and_mended_it_stays_up(self):
        project = sloping(start("two_full", "Falls", 260.0), 9.0, float(self.random.choice([90.0, -90.0])), **GRIPPY)
        stops = found(project, "Forward", "F53")
        self.assertEqual(stops.severity, "stop")
        self.assertFalse(Played(project, [("Forward", 6)]).up)
        mended = patched(project, remedies(project, "Forward", stops)[0].patch)
        self.assertTrue(Played(mended, [("Forward", 6)]).up, f"seed {self.seed}")

    @in_turns
    def test_a_trot_that_is_stopped_hardly_goes_and_leaning_into_the_slope_it_does(self):
        uphill = float(self.random.choice([0.0, 90.0, -90.0]))
        base = start("four_upright", "Trots", float(self.random.uniform(160, 260)))
        project = sloping(base, 14.0 if uphill == 0.0 else 9.0, uphill, **GRIPPY)
        stops = found(project, "Trot", "F19")
        self.assertEqual(stops.severity, "stop")
        mended = patched(project, remedies(project, "Trot", stops)[0].patch)
        covers = [Played(p, [("Trot", 5)]).way_mm / planned_mm(p, [("Trot", 5)]) for p in (project, mended)]
        with self.subTest(uphill=uphill, seed=self.seed):
            self.assertLess(covers[0], 0.75)
            self.assertGreater(covers[1], 0.75)

    @in_turns
    def test_feet_that_slide_go_as_far_down_and_across_as_told(self):
        """Uphill they go further than told: 0.2 of the level way told and 0.3 gone, at 4 degrees."""
        shape, uphill = "six_two_radial", float(self.random.choice([180.0, 90.0, -90.0]))
        project = sloping(start(shape, "Slides", float(SHAPES[shape].usual_mm)), self.random.uniform(3, 8), uphill)
        played = Played(project, [("Forward", 6)])
        with self.subTest(uphill=uphill, seed=self.seed):
            self.assertTrue(played.up)
            self.assertAlmostEqual(played.way_mm / planned_mm(project, [("Forward", 6)]), 1.0, delta=0.35)

    @in_turns
    def test_curved_soles_that_are_stopped_fall_and_those_that_are_not_stay_up(self):
        project = start("two_rocker", "Rolls", 180.0)
        for slope, uphill, severity in ((1.0, 0.0, "warn"), (6.0, 0.0, "stop"), (2.0, 90.0, None), (6.0, 90.0, "stop")):
            asked = sloping(project, slope, uphill, **GRIPPY)
            rolls = found(asked, "Forward", "F53")
            with self.subTest(slope=slope, uphill=uphill):
                self.assertEqual(rolls.severity if rolls else None, severity)
                self.assertEqual(Played(asked, in_order(asked, "Forward", 6)).up, severity != "stop")

    @in_turns
    def test_what_rocks_over_its_edges_falls_where_it_is_stopped(self):
        for shape in ("two_parallelogram", "two_moving_mass"):
            project = start(shape, "Rocks", float(SHAPES[shape].usual_mm * self.random.uniform(0.9, 1.1)))
            # What rocks by its sway alone is told of slopes across its way by itself, below.
            across = ((2.0, -90.0),) if shape == "two_moving_mass" else ()
            for slope, uphill in ((10.0, 0.0), (10.0, 90.0), (2.0, 0.0), (4.0, 180.0), *across):
                asked = sloping(project, slope, uphill, **GRIPPY)
                order = in_order(asked, "Forward", 5)
                stops = any(c == "F53" for name, _ in order for c, *_ in evaluate(asked, name).stops)
                with self.subTest(shape=shape, slope=slope, uphill=uphill, seed=self.seed):
                    self.assertEqual(stops, slope == 10.0)
                    self.assertEqual(Played(asked, order).up, not stops)

    @in_turns
    def test_what_rocks_by_its_sway_stays_up_across_a_slope_once_it_leans_into_it(self):
        project = start("two_parallelogram", "Rocks", float(self.random.uniform(160, 300)))
        side = float(self.random.choice([-90, 90]))
        level, asked, worse, steep = (
            sloping(project, slope, uphill, **GRIPPY)
            for slope, uphill in ((0.3, side), (self.random.uniform(1.2, 1.7), side), (2.5, -90.0), (3.0, side))
        )
        with self.subTest(asked=asked.floor, size=project.walker.limbs[0].links, seed=self.seed):
            self.assertEqual(self.across(level), [])
            self.assertTrue(Played(level, in_order(level, "Forward", 8)).up)
            for stopped in (asked, worse, steep):
                self.assertEqual([(f.code, f.severity) for f in self.across(stopped)], [("F09", "stop")])
            (lean,) = (m for m in remedies(asked, "Forward", self.across(asked)[0]) if m.title.startswith("Lean"))
            mended = patched(asked, lean.patch)
            self.assertTrue(Played(mended, in_order(mended, "Forward", 8)).up, lean.title)
            # To one side it may still be up by then; to the other it is not.
            self.assertFalse(Played(worse, in_order(worse, "Forward", 10)).up)

    def across(self, project):
        return [f for f in evaluate(project, "Forward").findings if ("", SLOPE) in f.subjects]

    @in_turns
    def test_a_machine_that_stands_slides_where_it_is_told_to(self):
        """Just under and just over what the floor holds, let stand for a while."""
        slope = float(self.random.uniform(8, 16))
        steep = float(np.tan(np.radians(slope)))
        for holds, slides in ((1.15 * steep, False), (0.8 * steep, True)):
            project = sloping(start("six_sprawled", "Stands", 200.0), slope, 0.0, **{"floor/friction": round(holds, 4)})
            stops = found(project, "Stand", "F08")
            gone = abs(Played(project, [("Stand", 1)]).way_mm)
            with self.subTest(holds=holds, slope=slope, seed=self.seed):
                self.assertEqual(stops.severity == "stop", slides)
                self.assertEqual(gone > 10.0, slides)
