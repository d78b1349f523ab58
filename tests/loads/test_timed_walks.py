"""Sets made from the machine alone, ladders, masses that are not there yet, joints that swing."""

from __future__ import annotations

import numpy as np
from scipy.integrate import solve_ivp

from bustle.core.document.checked import parse_project
from bustle.core.dry_run.ladder import ladder
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.falling.fall import fall_told
from bustle.core.judge.measures.margins.halted import halted_margin
from bustle.core.machine.masses import GRAVITY
from bustle.core.project.project import document
from bustle.core.project.walker import Mass
from bustle.core.search.remedies import remedies
from bustle.core.servo.servo_table import table_of
from bustle.core.starting.fresh_set import fresh_set
from bustle.core.starting.own_start_and_stop import with_own_ends
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.starting.timed_walks import with_rungs
from bustle.core.trials.what_if import what_if
from bustle.core.walk.motions.own_ends import at_speed, in_order
from bustle.core.words.problems import InputRefused
from bustle.formats import write_table
from bustle.formats.about_json import about_values
from tests.long import in_turns, is_long, share
from tests.projects import changed, demo, hexapod, quadruped, start
from tests.seeded import SeededTest


def bare(shape, length):
    """The machine without any motion."""
    return patched(start(shape, "Bare", length), [{"op": "replace", "path": "/motions", "value": []}])


def with_links_of_its_own(random, project):
    """Every link a tenth longer or shorter at most, the same on all legs."""
    share = {link.name: float(random.uniform(0.9, 1.1)) for limb in project.walker.limbs for link in limb.links}
    lengths = {
        f"walker/limbs/{n}/links/{k}/length_mm": round(link.length_mm * share[link.name], 1)
        for n, limb in enumerate(project.walker.limbs)
        for k, link in enumerate(limb.links)
    }
    return changed(project, lengths)


def rounded(project):
    """On the same legs with soles that are balls."""
    ball = {"kind": "ball", "radius_mm": 8.0}
    return changed(project, {f"walker/limbs/{n}/feet/0/sole": ball for n in (0, 1)})


class FreshSets(SeededTest):
    @is_long
    def test_a_machine_without_any_motion_gets_walks_that_nothing_stops(self):
        shapes = ("two_full", "two_planar", "two_moving_mass", "four_casters", "two_servo", "two_rocker")
        for shape in share(self.random, shapes, 2):
            made = bare(shape, float(self.random.uniform(140, 320)))
            project = fresh_set(with_links_of_its_own(self.random, made))
            names = {m.name for m in project.motions}
            with self.subTest(shape=shape, seed=self.seed):
                self.assertLessEqual({"Stand", "Forward", "Start", "Stop"}, names)
                for motion in project.motions:
                    self.assertFalse(evaluate(project, motion.name).stops, motion.name)

    def test_legs_that_cannot_choose_how_they_stand_are_stood_as_they_are(self):
        """Two joints that tip and turn: longer legs miss every place they are asked to, until that is brought along."""
        project = with_links_of_its_own(self.random, start("two_servo", "Longer", 200.0))
        plan = evaluate(project, "Stand")
        finding = next(f for f in plan.findings if f.code == "F17")
        titles = {r.title: r for r in remedies(project, "Stand", finding)}
        mended = patched(project, titles["Feet and ride to where the legs put them"].patch)
        self.assertEqual(evaluate(mended, "Stand").stops, frozenset())
        self.assertLess(evaluate(mended, "Stand").reading.course.solved.miss_mm.max(), 0.01)

    @in_turns
    def test_knees_are_bent_as_far_as_is_kept(self):
        for kept in (10.0, 40.0):
            project = fresh_set(changed(bare("two_full", 260.0), {"limits/knee_bend_deg": kept}))
            plan = evaluate(project, "Forward")
            self.assertGreaterEqual(plan.figure("knee_bend_deg"), kept - 1e-6)
            knees = [n for n, j in enumerate(plan.reading.kit.joints) if j.name == "knee"]
            least = float(np.degrees(np.abs(plan.reading.angles[:, knees]).min()))
            self.assertAlmostEqual(plan.figure("knee_bend_deg"), least, delta=0.5)

    def test_what_cannot_walk_is_told_why(self):
        for project, said in (
            (rounded(bare("two_planar", 200.0)), "without flat soles"),
            (changed(bare("two_full", 260.0), {"walker/limbs/0/links/1/length_mm": 900.0}), "60 to 600 mm"),
        ):
            with self.subTest(said=said), self.assertRaisesRegex(InputRefused, said):
                fresh_set(project)


class Ladders(SeededTest):
    @in_turns
    def test_rungs_go_from_swaying_to_turning_each_with_its_start_and_stop(self):
        project = demo("bramble")
        rungs = ladder(project, project.motion("Forward"))
        self.assertEqual([r.motion.name for r in rungs], ["Sway", "Lift", "Half step", "Full step", "Turning"])
        self.assertTrue(rungs[0].motion.stands)
        self.assertFalse(rungs[1].motion.moves)
        self.assertAlmostEqual(rungs[2].motion.twist.vx_mm_s * 2, rungs[3].motion.twist.vx_mm_s, places=3)
        climbed = with_rungs(project, rungs)
        for rung in rungs[1:]:
            for of in ("Start", "Stop"):
                name = f"{of} {rung.motion.name.lower()}"
                self.assertFalse(evaluate(climbed, name).stops, name)

    @in_turns
    @is_long
    def test_what_swings_rocks_on_its_place_before_it_goes(self):
        asked = (("two_rocker", "lift", []), ("two_servo", "ankle", ["Turning"]))
        for shape, rolling, turns in share(self.random, asked):
            project = start(shape, "Rocks", float(self.random.uniform(100, 250)))
            rungs = ladder(project, project.motion("Forward"))
            with self.subTest(shape=shape, seed=self.seed):
                names = ["Rock low", "Rock", "Half step", "Full step", *turns]
                self.assertEqual([r.motion.name for r in rungs], names)
                full = {(j.limb, j.joint): j.swing for j in project.motion("Forward").joints}
                for rung, rolls, goes in zip(rungs, (0.5, 1.0, 1.0, 1.0), (0.0, 0.0, 0.5, 1.0), strict=False):
                    for j in rung.motion.joints:
                        part = rolls if j.joint == rolling else goes
                        self.assertAlmostEqual(j.swing, part * full[j.limb, j.joint])
                    self.assertIsNotNone(rung.run)
                climbed = with_rungs(project, rungs)
                for name in (f"{of} {n.lower()}" for n in names for of in ("Start", "Stop")):
                    self.assertFalse(evaluate(climbed, name).stops, name)

    @in_turns
    def test_what_would_fell_it_first_is_what_judging_the_harder_case_says(self):
        project = demo("bramble")
        full = next(r for r in ladder(project, project.motion("Forward")) if r.motion.name == "Full step")
        self.assertIn("twice as much", full.felled_by)
        self.assertIn("F57", full.felled_by)
        soft = changed(project, {"against_sag": "off"})
        self.assertIn("F57", {code for code, *_ in evaluate(soft, "Forward").stops})


class WhatIf(SeededTest):
    def test_it_tells_what_adding_the_mass_does(self):
        project = quadruped()
        mass = Mass(name="Camera", mass_g=400.0, at_mm=(0.0, 90.0, 60.0), on=project.walker.sections[0].name)
        found = what_if(project, "Forward", mass)
        added = changed(project, {"walker/masses": [m.model_dump(mode="json") for m in (*project.walker.masses, mass)]})
        self.assertAlmostEqual(found.mass_g[1] - found.mass_g[0], 400.0, places=6)
        self.assertGreater(found.com_height_mm[1], found.com_height_mm[0])
        for told in found.motions:
            plan = evaluate(added, told.motion)
            margin = plan.figure("worst_margin_mm")
            if margin is not None:
                self.assertEqual(told.after_mm, margin)
            self.assertLessEqual(set(told.stops), {code for code, *_ in plan.stops})
        self.assertTrue(any(m.stops for m in found.motions))
        ranked = [sum(v * v for v in p.moves_mm) for p in found.parts]
        self.assertEqual(ranked, sorted(ranked, reverse=True))

    def test_a_part_moves_the_whole_by_what_taking_it_away_does(self):
        project = hexapod()
        mass = Mass(name="Camera", mass_g=150.0, at_mm=(40.0, 0.0, 30.0), on=project.walker.sections[0].name)
        found = what_if(project, "Stand", mass)
        one, other = (evaluate(p, "Stand").reading.course.com_body_mm[0] for p in (project, found.project))
        moved = next(p.moves_mm for p in found.parts if p.name == "Camera")
        np.testing.assert_allclose(moved, other - one, atol=0.05)


class Swinging(SeededTest):
    def test_the_two_servo_walker_advances_by_what_its_yaw_swings(self):
        """4·y·sin Y a cycle, y half the spacing of the hips' axes: on one sole the body turns by 2Y about its hip."""
        project = start("two_servo", "Tips", float(self.random.uniform(80, 300)))
        r = evaluate(project, "Forward").reading
        way = r.course.body.travel[0]
        a_row = float(way[1] - way[0])
        gone = float(way[r.samples - 1] - way[0]) + a_row
        hips = abs(project.walker.limbs[0].mount.at_mm[1])
        self.assertAlmostEqual(gone / (4 * hips * np.sin(np.radians(25.0))), 1.0, delta=0.13)

    def test_swings_begin_and_end_at_rest_and_join(self):
        for shape in ("two_servo", "two_rocker"):
            project = start(shape, "Swings", 150.0)
            walk, begins, ends = (evaluate(project, n).reading.angles for n in ("Forward", "Start", "Stop"))
            np.testing.assert_allclose(begins[-1], walk[0], atol=1e-9)
            np.testing.assert_allclose(ends[0], walk[0], atol=1e-9)
            self.assertLess(np.abs(begins[1] - begins[0]).max(), 1e-3)
            self.assertLess(np.abs(ends[-1] - ends[-2]).max(), 1e-3)

    def test_what_does_not_fit_is_named(self):
        project = start("two_servo", "Odd", 140.0)
        for field, value, said in (
            ("limb", "Q", "no limb"), ("joint", "knee", "no joint"), ("swing", 1e9, "swing"),
        ):  # fmt: skip
            with self.subTest(field=field), self.assertRaisesRegex(InputRefused, said):
                changed(project, {f"motions/0/joints/0/{field}": value})
        with self.assertRaisesRegex(InputRefused, "twice"):
            same = project.motions[0].model_dump(mode="json")["joints"][0]
            changed(project, {"motions/0/joints": [same, same]})


class Halted(SeededTest):
    def test_a_pendulum_let_go_at_that_speed_comes_to_rest_over_the_point_told(self):
        """c̈ = (g/h)·(c − p) with p at c + v·√(h/g): by scipy, the mass stops there."""
        r = evaluate(hexapod(), "Forward").reading
        row = r.samples // 3
        centre = r.course.com_ground_mm[: r.samples] / 1000
        speed = float(np.gradient(centre[:, 0], r.row_s)[row])
        high = float(centre[row, 2])
        point = float(centre[row, 0]) + speed * np.sqrt(high / GRAVITY)
        run = solve_ivp(
            lambda _, y: [y[1], GRAVITY / high * (y[0] - point)],
            (0, 0.5),
            [centre[row, 0], speed],
            rtol=1e-11,
            atol=1e-13,
        )
        self.assertAlmostEqual(run.y[0, -1], point, delta=0.01 * abs(point - centre[row, 0]))
        self.assertLess(np.nanmin(r.of(halted_margin)), evaluate(hexapod(), "Forward").figure("worst_margin_mm"))


class Falling(SeededTest):
    @in_turns
    def test_a_large_machine_wants_a_second_person_and_its_files_say_so(self):
        small, large = start("two_servo", "Small", 140.0), start("two_full", "Large", 600.0)
        self.assertIn("a hand near it", fall_told(evaluate(small, "Forward").reading)[0])
        (said,) = fall_told(evaluate(large, "Forward").reading)
        self.assertIn("a tether or a second person", said)
        self.assertIn("If it falls", write_table(evaluate(large, "Forward"), "c").decode())
        self.assertEqual(fall_told(evaluate(hexapod(), "Forward").reading), ())


class AtSpeed(SeededTest):
    """A walk that lives by its timing and that nothing sets going from standing is entered at speed, and said so."""

    def without(self, project, *names):
        values = document(project)
        values["motions"] = [m for m in values["motions"] if m["name"] not in names]
        return parse_project(values)

    @is_long
    def test_sets_of_every_shape_begin_and_end_every_such_walk(self):
        for shape in share(self.random, list(SHAPES), 4):
            self.assertEqual(at_speed(start(shape, "Ends", float(SHAPES[shape].usual_mm))), {}, shape)

    def test_without_its_start_or_its_stop_a_walk_says_what_is_to_be_done(self):
        for shape, walk, begins, ends in (
            ("two_full", "Forward", "Start", "Stop"),
            ("four_upright", "Trot", "Start trot", "Stop trot"),
            ("two_servo", "Forward", "Start", "Stop"),
        ):
            project = start(shape, "Ends", float(SHAPES[shape].usual_mm))
            others = {name for name in at_speed(self.without(project, begins)) if name != walk}
            with self.subTest(shape=shape):
                self.assertEqual(others, set())
                self.assertEqual(at_speed(self.without(project, begins))[walk], "enter at speed")
                self.assertEqual(at_speed(self.without(project, ends))[walk], "leave at speed")
                bare = self.without(project, begins, ends)
                self.assertEqual(at_speed(bare)[walk], "enter and leave at speed")
                self.assertEqual(in_order(project, walk), (begins, walk, ends))
                self.assertEqual(in_order(bare, walk), (walk,))

    def test_what_is_missing_is_made_and_sound(self):
        for shape, walk, ends in (
            ("two_full", "Forward", ("Start", "Stop")),
            ("four_upright", "Trot", ("Start trot", "Stop trot")),
            ("two_servo", "Forward", ("Start", "Stop")),
        ):
            project = start(shape, "Ends", float(SHAPES[shape].usual_mm))
            for missing in (ends, ends[:1], ends[1:]):
                bare = self.without(project, *missing)
                made = with_own_ends(bare, walk)
                with self.subTest(shape=shape, missing=missing):
                    self.assertEqual(made.stops, ())
                    self.assertNotIn(walk, at_speed(made.project))
                    self.assertLessEqual({name for name in made.added if name != "Stand"}, set(ends))
                    self.assertEqual([m for m in made.project.motions if m.name not in made.added], [*bare.motions])
                    self.assertEqual(in_order(made.project, walk), (ends[0], walk, ends[1]))

    def test_where_nothing_is_missing_nothing_is_made(self):
        for project, walk in ((start("two_full", "Ends", 260.0), "Forward"), (demo("sorrel"), "Forward")):
            with self.assertRaisesRegex(InputRefused, "has a start and a stop of its own, or may be begun anywhere"):
                with_own_ends(project, walk)

    def test_a_walk_alone_begins_in_its_own_pose_with_every_foot_down(self):
        made = with_own_ends(demo("sorrel"), "Trot")
        self.assertEqual(made.added, ("Stand", "Start trot", "Stop trot"))
        stand, trot = made.project.motion("Stand"), made.project.motion("Trot")
        self.assertTrue(stand.stands)
        self.assertEqual(stand.pose.ride_height_mm, trot.pose.ride_height_mm)
        self.assertFalse(evaluate(made.project, "Stand").stops)
        # What stops one of them is said.
        for name in made.added:
            for finding in evaluate(made.project, name).findings:
                self.assertTrue(finding.severity != "stop" or f"{name}: {finding.message}" in made.stops)

    def test_what_may_be_stopped_anywhere_is_begun_anywhere(self):
        self.assertNotIn("Forward", at_speed(demo("sorrel")))
        self.assertEqual(at_speed(demo("sorrel")), {"Trot": "enter and leave at speed"})

    def test_what_is_written_of_a_table_says_so(self):
        for name, says in (("Trot", "enter and leave at speed"), ("Forward", None)):
            plan = evaluate(demo("sorrel"), name)
            self.assertEqual(about_values(plan, table_of(plan.reading, "angles"))["at_speed"], says)
