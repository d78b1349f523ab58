"""A machine with planted mistakes is set right by looking at it, joint by joint; readings, teeth, heights, channels."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.limb_edits import removed, renamed
from bustle.core.evaluate import evaluate
from bustle.core.kinds.drives.rod import ROD
from bustle.core.project.electrics import Electrics
from bustle.core.project.project import document
from bustle.core.servo.bench_cards import bench_cards
from bustle.core.servo.calibration import calibrated, fitted_line, read_at, replaced, type_mean
from bustle.core.servo.channel_map import unwired, wired, wired_in_order
from bustle.core.servo.first_evening import STEPS
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.servo.horn_teeth import fitted_on_nearest_teeth, horns
from bustle.core.servo.joint_check import joint_check, left_to_check, limb_turned
from bustle.core.servo.rest_heights import height_measured, limp_mm, resting_feet, rests_mm, trimmed, trims
from bustle.core.servo.servo_angles import servo_angles
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.core.words.wording import number
from tests.long import is_long, share
from tests.projects import changed, hexapod, quadruped, start
from tests.seeded import SeededTest
from tests.servo.machines import Bench, angles_of, directed, on_boards, swapped


class Evening(SeededTest):
    def test_planted_mistakes_are_all_found_and_the_walk_is_then_the_plan(self):
        """A mirrored servo, two swapped channels, one both mirrored and swapped, at random places."""
        for _ in range(4):
            project = on_boards(quadruped())
            names = [s.place for s in servos_at(project)]
            a, b, c, d, e = (names[int(n)] for n in self.random.choice(len(names), 5, replace=False))
            truth = document(project)
            directed(truth, a)
            swapped(truth, b, c)
            swapped(truth, d, e)
            directed(truth, d)
            bench = Bench(parse_project(truth))
            with self.subTest(mirrored=a, swapped=(b, c), both=(d, e), seed=self.seed):
                set_right, looks, found = bench.evening(project)
                self.assertEqual(left_to_check(set_right), [])
                self.assertIn((a, "other_way"), found)
                self.assertTrue({p for p, saw in found if saw == "another"} <= {b, c, d, e})
                self.assertLess(looks, 2 * len(names))
                walk = evaluate(set_right, "Forward").reading
                servo = walk.of(servo_angles)[: walk.samples]
                np.testing.assert_allclose(angles_of(parse_project(truth), set_right, servo), servo, atol=1e-9)

    def test_a_dead_channel_is_left_for_a_free_one(self):
        project = on_boards(quadruped())
        dead = servos_at(project)[3]
        bench = Bench(project)
        del bench.servos[dead.board.name, dead.channel]
        # Whatever it is moved to works.
        bench.servos |= {(dead.board.name, c): dead for c in range(12, 16)}
        set_right, _, found = bench.evening(project)
        self.assertEqual(found, [(dead.place, "nothing")])
        self.assertEqual(next(s.channel for s in servos_at(set_right) if s.place == dead.place), 12)

    def test_the_check_moves_one_servo_at_a_time_about_its_middle_from_the_foot_up(self):
        values = document(on_boards(hexapod(), 2))
        values["electrics"]["items"][4]["centre"] = 1444.0
        values["electrics"]["fitted"] = [{"place": values["electrics"]["items"][4]["place"], "trim_deg": 4.0}]
        project = parse_project(values)
        check = joint_check(project)
        moving = check.table.values != 0
        self.assertLessEqual(moving.sum(axis=1).max(), 1)
        self.assertFalse(moving[-1].any(), "all off at the end")
        for n, one in enumerate(check.checks):
            told = check.table.values[moving[:, n], n]
            middle = one.servo.centre
            self.assertAlmostEqual(float(told[0]), middle, places=1)
            self.assertAlmostEqual(float(np.abs(told - middle).max()), 10 * one.servo.per_deg, places=1)
            self.assertLess(np.abs(np.diff(told)).max(), one.servo.per_deg * 12 * 0.02 + 0.21)
        order = [c.servo.joint for c in check.checks][:3]
        self.assertEqual([j.split("/")[1] for j in order], [j.name for j in reversed(project.walker.limbs[0].joints)])
        sees = {c.servo.joint: c.sees for c in check.checks}
        self.assertEqual(sees["L1/femur"], "L1 femur goes UP")
        alone = joint_check(project, "R2", ticks=True)
        self.assertEqual(len(alone.table.columns), 3)
        with self.assertRaisesRegex(InputRefused, "those that have: L1"):
            joint_check(project, "tail")

    def test_a_servo_that_moves_two_joints_is_seen_to_move_both(self):
        """The hip's servo beside a parallel rod turns the thigh, and the shank stays as it is in space."""
        project = start("two_parallelogram", "Rods", 240.0)
        thigh = next(s for s in servos_at(project) if s.joint == "L/thigh")
        at, turned = limb_turned(project, thigh, 10.0)
        shanks = [np.diff(points, axis=0) for points in (at, turned)]
        moved = np.linalg.norm(shanks[1] - shanks[0], axis=1)
        self.assertGreater(moved.max(), 5.0)
        self.assertLess(moved[-1], 1e-9)

    def test_readings_give_back_the_servo_they_are_of(self):
        centre, per = float(self.random.uniform(1450, 1550)), float(self.random.uniform(8, 11.5))
        for way in (1, -1):
            angles = self.random.uniform(-50, 50, 5)
            values = document(on_boards(hexapod(), 2))
            entry = values["electrics"]["items"][2]
            entry["readings"] = [{"told": centre + way * per * a, "horn_deg": float(a)} for a in angles]
            project, _ = calibrated(parse_project(values), entry["name"])
            item = project.electrics.items[2]
            self.assertAlmostEqual(item.centre, centre, delta=0.06)
            self.assertEqual(item.direction, way)
            self.assertAlmostEqual(item.us_per_deg, per, places=2)
            bare = replaced(project, item.name).electrics.items[2]
            self.assertEqual((bare.centre, bare.readings, bare.place), (None, (), item.place))

    def test_bad_readings_are_named_at_their_field(self):
        def line(*pairs):
            values = document(on_boards(hexapod(), 2))
            values["electrics"]["items"][0]["readings"] = [{"told": t, "horn_deg": a} for t, a in pairs]
            return calibrated(parse_project(values), values["electrics"]["items"][0]["name"])

        for pairs, words in (
            (((1500.0, 0.0),), "two readings at two angles"),
            (((1500.0, 0.0), (1600.0, 0.4)), "at one angle"),
            (((1500.0, 0.0), (1500.0, 20.0)), "one pulse"),
            (((1500.0, 0.0), (1600.0, 10.0), (1800.0, 20.0), (1900.0, 40.0)), r"readings\[2\].horn_deg: is"),
            (((1500.0, 5.0), (1600.0, 5.0)), "was read before"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(InputRefused, words):
                line(*pairs)
        _, said = line((1500.0, 0.0), (1400.0, 10.0))
        self.assertIn("turns the other way", " ".join(said))

    def test_three_of_a_type_tell_for_the_rest_and_an_odd_one_keeps_its_own(self):
        values = document(on_boards(hexapod(), 2))
        for item, per in zip(values["electrics"]["items"], (10.0, 10.1, 9.9, 11.5), strict=False):
            item["readings"] = [{"told": 1500.0 + per * a, "horn_deg": a} for a in (-30.0, 30.0)]
        project = parse_project(values)
        self.assertAlmostEqual(type_mean(project, values["servo_types"][0]["name"]), 10.0, places=2)
        for n, wanted in ((1, 10.0), (3, 11.5)):
            done, _ = calibrated(project, project.electrics.items[n].name)
            self.assertAlmostEqual(done.electrics.items[n].us_per_deg, wanted, places=2)
        self.assertAlmostEqual(fitted_line(project.electrics.items[3].readings).per_deg, 11.5)

    def test_a_tooth_and_what_is_left_of_it_put_the_joint_where_it_was_planned(self):
        for teeth in (21, 25):
            project = fitted_on_nearest_teeth(changed(on_boards(hexapod(), 2), {"servo_types/0/spline_teeth": teeth}))
            for horn in horns(project):
                pitch = 360 / teeth
                self.assertLessEqual(abs(horn.left_deg), pitch / 2 + 1e-9)
                self.assertAlmostEqual(horn.tooth * pitch + horn.servo.fitted.tooth_left_deg, horn.at_deg, places=3)

    def test_a_ruler_finds_the_leg_that_was_fitted_a_tooth_too_far(self):
        """One leg's femur is off by so many degrees: its foot is told too high or low, and the trim undoes it."""
        project = on_boards(hexapod(), 2)
        off = float(self.random.choice([-1, 1]) * self.random.uniform(2, 9))
        planned = {name: (z, slope) for name, z, slope in resting_feet(project)}
        joint = int(np.argmax(np.abs(planned["R2"][1])))
        heights = {name: z + 400.0 for name, (z, _) in planned.items()}
        heights["R2"] += planned["R2"][1][joint] * np.radians(off)
        values = document(project)
        values["electrics"]["rest_heights"] = [{"limb": n, "height_mm": float(h)} for n, h in heights.items()]
        measured = parse_project(values)
        worst = max(trims(measured), key=lambda t: abs(t.off_mm))
        self.assertEqual(worst.limb, "R2")
        self.assertAlmostEqual(worst.trim_deg, -off, places=3)
        self.assertAlmostEqual(worst.told, -off * 10.0, places=1)
        after = trimmed(measured)
        self.assertEqual(after.electrics.rest_heights, ())
        self.assertAlmostEqual(next(f.trim_deg for f in after.electrics.fitted), -off, delta=0.006)

    def test_what_a_ruler_would_find_limps_by_nothing(self):
        """Of legs that are not alike, too."""
        shank = {f"walker/limbs/{n}/links/2/length_mm": float(self.random.uniform(60, 110)) for n in range(6)}
        project = changed(hexapod(), shank)
        found = rests_mm(project, 60.0)
        self.assertGreater(np.ptp([*found.values()]), 1.0)
        heights = [{"limb": limb, "height_mm": mm} for limb, mm in found.items()]
        self.assertAlmostEqual(limp_mm(changed(project, {"electrics/rest_heights": heights})), 0.0, delta=0.11)

    def test_a_rod_made_so_much_longer_brings_the_foot_down_with_its_servo_at_the_centre(self):
        """The joint that the linkage then holds is the one that the foot's height asks for."""
        rod = {"base_mm": 38.0, "horn_mm": 14.0, "rod_mm": 36.0, "lever_mm": 17.0, "horn_deg": 80.0, "lever_deg": 95.0}
        project = on_boards(changed(hexapod(), {"walker/drives/4/kind": "rod", "walker/drives/4/settings": rod}), 2)
        path = project.walker.drives[4].joints[0]
        limb = path.partition("/")[0]
        feet = {name: (z, slope) for name, z, slope in resting_feet(project)}
        off = float(self.random.choice([-1, 1]) * self.random.uniform(2, 5))
        heights = [{"limb": n, "height_mm": z + off * (n == limb)} for n, (z, _) in feet.items()]
        measured = changed(project, {"electrics/rest_heights": heights})
        trim = next(t for t in trims(measured) if t.limb == limb)
        self.assertEqual(trim.servo.joint, path)

        def held(longer):
            settings = np.array([{**rod, "rod_mm": rod["rod_mm"] + longer}[s.name] for s in ROD.settings])
            return float(ROD.to_joints(np.zeros((1, 1, 1)), np.zeros((1, 1)), settings[None])[0, 0, 0])

        n = [j.name for j in next(m for m in project.walker.limbs if m.name == limb).joints].index(path.split("/")[1])
        with self.subTest(seed=self.seed, off=off):
            self.assertAlmostEqual((held(trim.rod_mm) - held(0.0)) * feet[limb][1][n], -off, places=6)
            found = next(f for f in evaluate(measured, "Forward").findings if f.code == "F14")
            way = "longer" if trim.rod_mm > 0 else "shorter"
            self.assertIn(f"mm {way}, {number(abs(trim.rod_mm) / 0.5)} turns", found.message)


class Cards(SeededTest):
    @is_long
    def test_every_step_of_every_shape_can_be_read_from_a_step_away(self):
        """A sentence, a number of few letters; every servo or leg once where the step is one of servos or legs."""
        for shape in share(self.random, list(SHAPES), 6):
            project = on_boards(start(shape, "Cards", 180.0), 3)
            places = sorted(s.place for s in servos_at(project))
            for step in STEPS:
                cards = bench_cards(project, step.name)
                with self.subTest(shape=shape, step=step.name):
                    self.assertEqual(bool(cards), step.name not in ("horn", "way"))
                    self.assertTrue(all(c.sentence and len(c.number) < 20 for c in cards))
                    if step.name in ("map", "each", "centre"):
                        self.assertEqual(sorted(c.place for c in cards), places)
                    if step.name == "heights":
                        self.assertEqual([c.limb for c in cards], [m.name for m in project.walker.legs])

    def test_horns_read_as_the_cards_ask_come_to_the_servos_they_are_of(self):
        project = on_boards(hexapod(), 2)
        truth = {s.place: (self.random.uniform(1430, 1570), self.random.uniform(9.2, 10.8)) for s in servos_at(project)}
        for card in bench_cards(project, "angles"):
            centre, per = truth[card.place]
            project, _ = read_at(project, card.place, card.told, (card.told - centre) / per, "2026-11-26 21:00")
        for servo in servos_at(project):
            centre, per = truth[servo.place]
            self.assertAlmostEqual(servo.centre, centre, delta=0.06)
            # The mean of its type where it is within 2° of it, and what is written is rounded.
            self.assertLess(abs(servo.per_deg / per - 1) * servo.sheet.travel_deg / 2, 2.05)
        for n, limb in enumerate(m.name for m in project.walker.legs):
            project = height_measured(project, limb, 60.0 + n)
        self.assertEqual([c.number for c in bench_cards(project, "heights")], [f"{60 + n} mm" for n in range(6)])
        with self.assertRaises(InputRefused):
            height_measured(project, "Q", 3.0)


class Wiring(SeededTest):
    def test_by_leg_and_by_side_fill_every_channel_once(self):
        project = on_boards(quadruped())
        for by in ("leg", "side"):
            done = wired_in_order(project, by)
            self.assertEqual(unwired(done), [])
            channels = [(b.name, w.channel) for b in done.electrics.boards for w in b.wires]
            self.assertEqual(len(set(channels)), 12)
            sides = [s.joint[1] for s in sorted(servos_at(done), key=lambda s: (s.board.name, s.channel))]
            self.assertEqual(sides == sorted(sides), by == "side")

    def test_a_servo_put_on_anothers_channel_changes_places_with_it(self):
        project = on_boards(quadruped())
        one, other = servos_at(project)[0], servos_at(project)[7]
        done = {s.place: s.channel for s in servos_at(wired(project, one.place, other.board.name, other.channel))}
        self.assertEqual((done[one.place], done[other.place]), (other.channel, one.channel))

    def test_limbs_that_go_or_are_renamed_take_their_wiring_along(self):
        project = on_boards(hexapod(), 2)
        less = removed(project, "L2")
        self.assertEqual(sum(i.place is None for i in less.electrics.items), 3, "their servos are spares")
        self.assertEqual(sum(len(b.wires) for b in less.electrics.boards), 15)
        other = renamed(project, {"L2": "M"})
        self.assertEqual(unwired(other), [])
        self.assertIn("M femur", [w.place for b in other.electrics.boards for w in b.wires])

    def test_bad_wiring_is_a_sentence_at_the_field(self):
        base = document(on_boards(hexapod(), 2))

        def refused(words, change):
            values = document(parse_project(base))
            change(values["electrics"], values)
            with self.subTest(words=words), self.assertRaisesRegex(InputRefused, words):
                parse_project(values)

        def put(path, value):
            def change(electrics, _):
                *way, last = [int(p) if p.isdigit() else p for p in path.split("/")]
                at = electrics
                for part in way:
                    at = at[part]
                at[last] = value

            return change

        refused("is L1 femur's already|'s already", put("boards/0/wires/1/channel", 0))
        refused("has channels 0 to 15, got 40", put("boards/0/wires/0/channel", 40))
        refused("has address 64 already", put("boards/1/address", 64))
        refused("a pulse board takes 3 to 255", put("boards/0/oscillator_hz", 100_000_000.0))
        refused("sits in", put("items/1/place", base["electrics"]["items"][0]["place"]))
        refused("is no servo of this walker", put("items/1/place", "nobody"))
        refused("is not among servo_types", put("items/0/type", "gone"))
        refused("must be below full_v", put("banks", [{"name": "P", "full_v": 6.0, "empty_v": 7.0}]))
        packs = [{"name": n, "full_v": 8.4, "empty_v": 6.6} for n in ("One", "Two")]
        refused(r"banks\[1\].places: every servo hangs on another", put("banks", packs))
        refused("two servos are called", put("items/1/name", base["electrics"]["items"][0]["name"]))
        shared = {"full_v": 8.4, "empty_v": 6.6, "places": ["L1 femur"]}
        refused(
            r"banks\[1\].places\[0\]: L1 femur hangs on One already",
            put("banks", [{"name": n, **shared} for n in ("One", "Two")]),
        )
        refused("'Nobody' is no servo", put("banks", [{"name": "One", **shared, "places": ["Nobody"]}]))
        refused(
            r"signals\[0\].board: 'Gone' is no board of this machine",
            put("signals", [{"name": "Start", "board": "Gone", "pin": 4}]),
        )
        refused(r"items\[1\].place: .* is listed before|sits in", put("items/1", base["electrics"]["items"][0]))
        twice = {
            **base["electrics"]["boards"][0]["wires"][1],
            "place": base["electrics"]["boards"][0]["wires"][0]["place"],
        }
        refused("is wired to .* already", put("boards/0/wires/1", twice))

        def upside_down(electrics, values):
            values["servo_types"][0].update(least_v=7.0, most_v=6.0)

        refused(r"servo_types\[0\].most_v: must be above least_v, 7, got 6", upside_down)

        def nothing_left(electrics, values):
            values["servo_types"].clear()

        refused("is not among servo_types", nothing_left)

        def one_name(electrics, values):
            first, second = (drive["servos"][0] for drive in values["walker"]["drives"][:2])
            second["name"] = first["name"]

        refused(r"drives\[1\].servos\[0\].name: two servos are called", one_name)
        place = base["electrics"]["items"][0]["place"]
        refused(r"fitted\[1\].place: .* is listed before", put("fitted", [{"place": place}] * 2))
        refused(r"wires\[0\].place: 'nobody' is no servo", put("boards/0/wires/0/place", "nobody"))
        another = {"place": place, "saw": "another", "instead": "nobody"}
        refused(r"seen\[0\].instead: 'nobody' is no other servo", put("seen", [another]))

    def test_files_that_say_nothing_of_it_have_an_item_at_every_place(self):
        for shape in ("six_sprawled", "two_full", "four_casters"):
            project = start(shape, "Old", 200.0)
            self.assertEqual(project.electrics, Electrics())
            self.assertTrue(all(s.number == s.place and s.item is None for s in servos_at(project)))
