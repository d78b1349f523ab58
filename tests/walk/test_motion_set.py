"""The set of motions: sound for every starting shape, as long as it may be, and honest about what is left out."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.limb_edits import copied, repeated
from bustle.core.edits.patches import only_motions
from bustle.core.evaluate import evaluate
from bustle.core.kinds.gaits import CUSTOM
from bustle.core.kinds.gaits.in_turn import duty_in_turn, phases_in_turn
from bustle.core.project.project import document
from bustle.core.search.leg_order import in_its_orders
from bustle.core.search.longest_stride import LeftOut, longer
from bustle.core.search.motion_set import fitting, motion_set, template, usual
from bustle.core.search.stride import DIRECTIONS
from bustle.core.starting.fresh_set import fresh_set, renewed
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.formats.set_zip import blend_groups
from tests.long import ALL, in_turns, is_long, share
from tests.projects import changed, hexapod, start
from tests.seeded import SeededTest


class EveryShape(SeededTest):
    def gaits_of(self, asked):
        for shape, length in asked:
            for gait in fitting(start(shape, "Shape", length)):
                yield shape, length, gait.name

    @in_turns
    @is_long
    def test_no_motion_of_any_set_has_a_stop_finding(self):
        walks = 0
        asked = []
        for shape in SHAPES.values():
            asked += [(shape.name, share_of * shape.usual_mm) for share_of in (0.5, 1.0, 1.6)]
        for shape, length, gait in share(self.random, [*self.gaits_of(share(self.random, asked, 2))], 2):
            project = start(shape, "Shape", length)
            found = motion_set(project, gait)
            kept = found.kept_in(project)
            with self.subTest(shape=shape, length=length, gait=gait, seed=self.seed):
                names = [m.motion.name for m in found.made] + [m.name for m in found.left_out]
                free = project.walker.held == "free"
                ways = [name for name, way in DIRECTIONS.items() if free or not (way[1] or way[2])]
                self.assertEqual(sorted(names), sorted(["Stand", "In place", *ways]))
                for made in found.made:
                    self.assertEqual(evaluate(kept, made.motion.name).stops, frozenset(), made.motion.name)
                    walks += made.motion.moves
                for left in found.left_out:
                    self.assertRegex(left.code, r"^F\d\d$")
                    self.assertRegex(left.reason, r"\d")
        if ALL:
            self.assertGreater(walks, 600)


class Lengths(SeededTest):
    @is_long
    def test_one_step_longer_makes_the_named_reason_fire(self):
        for shape in share(self.random, ("six_sprawled", "six_two", "four_upright_2", "two_full")):
            project = start(shape, "Longest", SHAPES[shape].usual_mm)
            for made in motion_set(project, usual(project)).made:
                if made.motion.name not in DIRECTIONS or made.code is None:
                    continue
                with self.subTest(shape=shape, motion=made.motion.name):
                    fires = longer(project, made, DIRECTIONS[made.motion.name])
                    self.assertIsNotNone(fires)
                    self.assertEqual(fires.code, made.code)

    @in_turns
    def test_any_mixture_of_ways_is_lengthened_like_the_rest(self):
        project = hexapod()
        mixture = (float(self.random.uniform(0.3, 1)), float(self.random.uniform(-1, 1)), 0.5)
        made = {m.motion.name: m for m in motion_set(project, "tripod", mixture).made}["Own arc"]
        twist = made.motion.twist
        self.assertAlmostEqual(twist.vy_mm_s / twist.vx_mm_s, mixture[1] / mixture[0], delta=1e-2)
        self.assertGreater(twist.omega_deg_s, 0)
        self.assertEqual(longer(project, made, mixture).code, made.code)
        with self.assertRaises(InputRefused):
            motion_set(project, "tripod", (0.0, 0.0, 0.0))

    @in_turns
    def test_a_machine_on_a_boom_is_offered_no_turns_and_no_side_steps(self):
        found = motion_set(start("two_planar", "Boom", 240.0), usual(start("two_planar", "Boom", 240.0)))
        names = {m.motion.name for m in found.made} | {m.name for m in found.left_out}
        self.assertEqual(names & {"Left", "Right", "Turn left", "Turn right", "Arc left", "Arc right"}, set())

    @in_turns
    def test_what_a_machine_cannot_do_is_left_out_with_the_reason(self):
        project = start("four_upright_2", "Plane", 200.0)
        out = {m.name: m for m in motion_set(project, "creep").left_out}
        self.assertIn("Left", out)
        self.assertIn("no joint for this way", out["Left"].reason)
        self.assertIsInstance(out["Left"], LeftOut)

    @in_turns
    def test_wheels_are_not_pushed_across_the_way_they_roll(self):
        project = start("two_wheels", "Rolls", float(self.random.uniform(100, 400)))
        found = motion_set(project, usual(project))
        self.assertLessEqual({"Forward", "Back"}, {m.motion.name for m in found.made})
        reasons = {m.name: m.reason for m in found.left_out}
        for way in ("Left", "Right"):
            self.assertIn("across the way it rolls", reasons[way])

    def test_a_gait_that_does_not_fit_is_refused_naming_those_that_do(self):
        with self.assertRaises(InputRefused) as caught:
            motion_set(hexapod(), "trot")
        self.assertIn("tripod", str(caught.exception))
        self.assertEqual({g.legs for g in fitting(hexapod())}, {6})


class LegOrders(SeededTest):
    """Legs step in the order that suits the way, unless one order is asked for."""

    def strokes(self, found):
        return {m.motion.name: m.stroke_mm for m in found.made}

    @in_turns
    def test_a_creep_goes_back_as_far_as_ahead_further_aside_than_in_one_order_and_from_way_to_way(self):
        shape = str(self.random.choice(["four_sprawled", "four_upright"]))
        project = start(shape, "Orders", float(self.random.uniform(90, 400)))
        each, one = motion_set(project, "creep"), motion_set(project, "creep", one_order=True)
        with self.subTest(shape=shape, seed=self.seed):
            suited, same = self.strokes(each), self.strokes(one)
            self.assertGreater(suited["Back"], 0.9 * suited["Forward"])
            self.assertLessEqual(same["Back"], suited["Back"])
            for side in ("Left", "Right"):
                self.assertGreater(suited[side], 1.2 * same[side])
            whole = document(each.kept_in(project))
            parts = [{"motion": name, "amount": 1.0} for name in self.random.permutation([*DIRECTIONS])]
            whole["motions"].append({"kind": "programme", "name": "Every way", "parts": parts})
            self.assertFalse(evaluate(parse_project(whole), "Every way").stops)
            alone = only_motions(project, project.motion("Stand"))
            for found, mixed in ((one, True), (each, False)):
                groups = blend_groups(found.kept_in(alone))
                self.assertEqual(any({"Forward", "Back", "Turn left"} <= set(group) for group in groups), mixed)
            kept = each.kept_in(project)
            for made in each.made:
                self.assertFalse(evaluate(kept, made.motion.name).stops, made.motion.name)

    def test_an_order_that_is_asked_for_by_its_name_stays(self):
        project = start("four_sprawled", "Asked", 220.0)
        gaits = {g.name: g for g in fitting(project)}
        named, left_open = (template(project, gaits[name]) for name in ("creep_fl_fr_bl_br", "creep"))
        self.assertEqual([*in_its_orders(project, named, DIRECTIONS["Back"])], [named])
        first = next(in_its_orders(project, left_open, DIRECTIONS["Back"]))
        # From the front to the back on either side, as it goes back.
        self.assertEqual(first.gait, "creep_fl_bl_fr_br")

    @in_turns
    def test_of_five_legs_in_places_of_their_own_another_order_walks_where_the_first_does_not(self):
        five = copied(start("four_upright", "Five", 280.0), "FL")
        found = motion_set(five, usual(five))
        gaits = {m.motion.name: m.motion.gait for m in found.made}
        self.assertLessEqual({"Forward", "Back", "Turn left", "Turn right"}, set(gaits))
        self.assertEqual((gaits["In place"], gaits["Forward"]), (usual(five), CUSTOM))
        kept = found.kept_in(five)
        for name in gaits:
            self.assertFalse(evaluate(kept, name).stops, name)


class SetRound(SeededTest):
    """Machines with other numbers of legs than they came with get their walks from the machine alone."""

    @in_turns
    def test_legs_set_round_walk_or_crawl_with_a_start_and_a_stop(self):
        shapes = ("six_radial", "four_sprawled", "four_radial_2", "six_two_radial", "six_two")
        for shape in self.random.choice(shapes, 2, replace=False).tolist():
            came = start(shape, "Round", SHAPES[shape].usual_mm)
            legs = int(self.random.choice([5, 6, 7, 8]))
            project = fresh_set(repeated(came, came.walker.limbs[0].name, legs))
            with self.subTest(shape=shape, legs=legs, seed=self.seed):
                self.assertLessEqual({"Forward", "Back", "Start", "Stop"}, {m.name for m in project.motions})
                for motion in project.motions:
                    self.assertFalse(evaluate(project, motion.name).stops, motion.name)

    @in_turns
    def test_legs_made_shorter_than_it_stands_stand_lower_and_walk(self):
        shape = str(self.random.choice(["two_full", "two_moving_mass", "two_planar"]))
        came = start(shape, "Shorter", SHAPES[shape].usual_mm)
        by = float(self.random.uniform(0.8, 0.9))
        cut = changed(came, {
            f"walker/limbs/{n}/links/{k}/length_mm": round(link.length_mm * by, 1)
            for n, limb in enumerate(came.walker.limbs) if limb.steps
            for k, link in enumerate(limb.links) if link.name == "shank"
        })  # fmt: skip
        with self.subTest(shape=shape, by=by, seed=self.seed):
            self.assertTrue({c for c, *_ in evaluate(cut, "Stand").stops} & {"F15", "F17"})
            project = fresh_set(cut)
            low, high = (p.motion("Stand").pose.ride_height_mm for p in (project, came))
            self.assertLess(low, high)
            self.assertLessEqual({"Forward", "Back", "Start", "Stop"}, {m.name for m in project.motions})
            for motion in project.motions:
                self.assertFalse(evaluate(project, motion.name).stops, motion.name)

    @in_turns
    @is_long
    def test_a_set_from_the_machine_alone_holds_against_what_the_shelf_s_does(self):
        for shape in share(self.random, list(SHAPES), 2):
            came = start(shape, "Held", SHAPES[shape].usual_mm)
            with self.subTest(shape=shape, seed=self.seed):
                found = fresh_set(changed(came, {"against_sag": "off"}))
                self.assertEqual(found.against_sag, came.against_sag)
                self.assertEqual(
                    any("trot" in m.name.lower() for m in found.motions),
                    any("trot" in m.name.lower() for m in came.motions),
                )

    @in_turns
    def test_every_starting_shape_of_legs_that_slide_crawls_again(self):
        for shape in ("four_radial_2", "six_two_radial"):
            came = start(shape, "Again", float(self.random.uniform(80, 400)))
            found = fresh_set(came)
            with self.subTest(shape=shape, seed=self.seed):
                self.assertEqual(found.motion("Forward").travel, "implied")
                self.assertGreater(evaluate(found, "Forward").figure("stride_mm"), 5.0)
                # And in the other way of its kind, which its legs lead too.
                other = "Trot" if shape == "four_radial_2" else "Slowly"
                self.assertEqual(found.motion(other).travel, "implied")
                self.assertGreater(evaluate(found, other).figure("stride_mm"), 3.0)

    @in_turns
    def test_a_walk_whose_legs_step_in_another_order_than_ahead_has_a_start_and_a_stop_of_its_own(self):
        shape = str(self.random.choice(["four_sprawled", "four_upright", "four_upright_2"]))
        found = fresh_set(start(shape, "Ends", float(self.random.uniform(90, 400))))
        with self.subTest(shape=shape, seed=self.seed):
            self.assertLessEqual({"Start back", "Stop back"}, {m.name for m in found.motions})
            self.assertEqual(
                (found.motion("Start back").end.motion, found.motion("Stop back").end.motion), ("Back", "Stand")
            )
            self.assertFalse({m.name: e.stops for m in found.motions if (e := evaluate(found, m.name)).stops})

    @in_turns
    def test_walks_in_place_of_all_others_leave_nothing_that_names_those(self):
        targets = ("Forward", "Mine", "Stand")
        controls = [{"mode": "Walk", "input": f"Button {n}", "target": name} for n, name in enumerate(targets)]
        motions = document(hexapod())["motions"]
        mine = {**motions[0], "name": "Mine"}
        start_up = {"pose": "Mine", "at_once": 2}
        own = changed(hexapod(), {"motions": [*motions, mine], "controls": controls, "start_up": start_up})
        found = renewed(own)
        self.assertEqual([c.target for c in found.controls], ["Forward", "Stand"])
        self.assertEqual((found.start_up.pose, found.start_up.at_once), (None, 2))
        self.assertEqual(found.motions, fresh_set(own).motions)

    @in_turns
    def test_three_legs_are_told_why_they_do_not(self):
        came = start("six_radial", "Three", float(self.random.uniform(120, 400)))
        with self.assertRaisesRegex(
            InputRefused, "nothing walks: It is .* on two feet .* rests on .*, which is to be in the air"
        ):
            fresh_set(repeated(came, "L1", 3))


class InTurn(SeededTest):
    def test_each_steps_once_far_from_the_one_before(self):
        legs = int(self.random.integers(5, 13))
        angles = self.random.permutation(np.arange(legs)) * 2 * np.pi / legs
        phases = np.array(phases_in_turn([(float(np.cos(a)), float(np.sin(a))) for a in angles]))
        np.testing.assert_allclose(np.sort(phases), np.arange(legs) / legs)
        round_the_body = angles[np.argsort(phases)]
        apart = np.abs(np.exp(1j * round_the_body) - np.exp(1j * np.roll(round_the_body, 1)))
        with self.subTest(legs=legs, seed=self.seed):
            # Of six every other place has a divisor in common: they go round.
            self.assertGreater(apart.min(), 0.9 if legs == 6 else 1.0)
        self.assertGreaterEqual(duty_in_turn(legs), 1.0 - 1.0 / legs)
