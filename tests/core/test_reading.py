"""A reading works out what is asked for, once, and nobody may change it; the kit is kept by what the walker is."""

from __future__ import annotations

import json
import unittest
from unittest import mock

import jsonpatch
import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.document.file import save_project
from bustle.core.edits.levers import LEVERS
from bustle.core.edits.patches import only_motions, patched, replace
from bustle.core.evaluate import evaluate
from bustle.core.geometry.arrays import kept
from bustle.core.judge.judgement import Judgement
from bustle.core.judge.measures.feet.foot_give import footings
from bustle.core.judge.measures.gaps import gaps
from bustle.core.judge.measures.turning_circle import turning_radius_mm
from bustle.core.judge.registry import FIGURES, JUDGEMENTS, RAIL, shown_at
from bustle.core.loads.told import not_told
from bustle.core.machine.kit import kit_of
from bustle.core.project.project import document
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.web.drawn.picture import picture
from bustle.web.said.picture_head import PictureHead
from tests.long import in_turns, is_long, share
from tests.projects import changed, demo, hexapod, start
from tests.seeded import SeededTest


class Memo(unittest.TestCase):
    def test_a_measure_is_worked_out_once_and_when_asked(self):
        reading, asked = evaluate(hexapod(), "Forward").reading, []

        def measure(r):
            asked.append(r)
            return np.zeros(3)

        self.assertIs(reading.of(measure), reading.of(measure))
        self.assertEqual(asked, [reading])

    def test_nothing_is_computed_that_nobody_asked_for(self):
        plan = evaluate(hexapod(), "Forward")
        self.assertEqual(plan.reading._known, {})
        plan.findings_among(("F18",))
        for measure in (gaps, footings, turning_radius_mm):
            self.assertNotIn(measure, plan.reading._known)

    def test_what_is_kept_cannot_be_changed(self):
        plan = evaluate(demo("sorrel"), "Forward")
        self.assertTrue(plan.findings is not None and plan.figures)
        for known in plan.reading._known.values():
            if isinstance(known, np.ndarray):
                with self.assertRaises(ValueError):
                    known[...] = 0
        nested = kept({"a": [np.zeros(2)], "b": (np.ones(1), {"c": np.ones(1)})})
        for array in (nested["a"][0], nested["b"][0], nested["b"][1]["c"]):
            self.assertFalse(array.flags.writeable)


class Kits(unittest.TestCase):
    def test_a_draft_that_is_read_anew_finds_the_kit_of_the_one_before(self):
        one = parse_project(document(hexapod()))
        other = changed(one, {"motions/0/lift_mm": 22.0})
        self.assertIs(kit_of(one), kit_of(other))
        self.assertIsNot(kit_of(one), kit_of(changed(one, {"walker/limbs/0/links/1/length_mm": 70.0})))
        servo = changed(one, {"servo_types/0/no_load_speed_deg_s": 123.0})
        self.assertIsNot(kit_of(one), kit_of(servo))

    def test_its_arrays_are_read_only(self):
        kit = kit_of(hexapod())
        for array in (kit.low, kit.high, kit.scale, kit.servo_speed, kit.assembled({}).parts[0].zeros):
            self.assertFalse(array.flags.writeable)


# What may turn with what the machine carries.
WAIT = {"F02", "F06", "F16", "F18", "F24", "F56", "F57"}


class Asked(SeededTest):
    """What a station shows in a drag is the same as it is in everything."""

    @in_turns
    @is_long
    def test_a_glimpse_says_what_the_whole_says(self):
        for shape in share(self.random, list(SHAPES), 4):
            project = start(shape, "Glimpse", 200.0)
            for motion in project.motions:
                whole = self.head(picture(evaluate(project, motion.name)))
                self.assertTrue(whole.whole)
                self.assertEqual(set(whole.judged), set(JUDGEMENTS))
                for station in ("frame", "stride", "balance", "table"):
                    part = self.head(picture(evaluate(project, motion.name), station))
                    self.assertFalse(part.whole)
                    codes, names = shown_at(station)
                    # What is told in part, as far as it is known, and what waits for the hand to rest.
                    self.assertLessEqual(set(part.judged), set(codes))
                    self.assertLessEqual(codes - set(part.judged), WAIT)
                    told = {f["name"] for f in part.figures}
                    self.assertEqual(part.figures, [f for f in whole.figures if f["name"] in told])
                    self.assertLessEqual({f["name"] for f in whole.figures if f["name"] in names} - told, {"clear_mm"})
                    surely = set(part.judged) - {"F16"}
                    self.assertEqual(
                        [f for f in part.findings if f["code"] in surely],
                        [f for f in whole.findings if f["code"] in surely],
                    )

    def head(self, data):
        size = int.from_bytes(data[:4], "little")
        values = json.loads(data[4 : 4 + size])
        # What is written is what the interface's types are made from, field by field.
        self.assertEqual(set(values), set(PictureHead.model_fields))
        return PictureHead.model_validate(values, extra="forbid")

    @in_turns
    def test_a_drag_works_out_no_forces_but_where_they_are_shown(self):
        asked = mock.patch("bustle.core.loads.foot_forces._forces", side_effect=AssertionError("asked"))
        for shape in share(self.random, list(SHAPES), 3):
            project = changed(start(shape, "Glimpse", 200.0), {"against_sag": "off"})
            for motion in project.motions:
                told = not not_told(evaluate(project, motion.name).reading)
                with self.subTest(shape=shape, motion=motion.name), asked:
                    for station in ("frame", "stride", "balance", "timing", "table", "servos"):
                        picture(evaluate(project, motion.name), station)
                    if told:
                        with self.assertRaisesRegex(AssertionError, "asked"):
                            picture(evaluate(project, motion.name), "load")

    def test_of_a_walk_with_room_in_hand_little_waits(self):
        """Nothing that a drag is watched for is greyed where the forces could not turn it."""
        for station, waits in (("stride", {"F02"}), ("balance", set()), ("frame", set())):
            part = self.head(picture(evaluate(start("six_sprawled", "Room", 200.0), "Forward"), station))
            self.assertEqual(shown_at(station)[0] - set(part.judged) - {"F16"}, waits)

    def test_collisions_stay_in_every_drag(self):
        for station in {s for j in JUDGEMENTS.values() for s in j.stations}:
            self.assertIn("F16", shown_at(station)[0])
            self.assertLess(shown_at(station)[0], set(JUDGEMENTS))
            self.assertLessEqual({n for n, f in FIGURES.items() if RAIL in f.stations}, shown_at(station)[1])

    def test_what_servos_give_waits_until_the_hand_rests(self):
        """Parts that are planned clear, and not by far, are not known to stay so while a hand drags; what collides as
        planned is told, and at rest all is."""
        gap = evaluate(hexapod(), "Forward").figure("clearance_mm")
        for by, known in ((-1.0, False), (1.0, True)):
            project = changed(hexapod(), {"limits/clearance_mm": gap + by})
            for station in ("stride", "frame"):
                with self.subTest(station=station, known=known):
                    part, whole = (self.head(picture(evaluate(project, "Forward"), at)) for at in (station, None))
                    self.assertEqual("F16" in part.judged, known)
                    self.assertEqual(any(f["code"] == "F16" for f in part.findings), known)
                    self.assertIn("F16", whole.judged)

    def test_where_it_is_not_judged_nothing_is_found_and_it_says_why(self):
        judgement = JUDGEMENTS["F18"]
        trot = evaluate(demo("sorrel"), "Trot").reading
        self.assertIn("dynamic", judgement.judged(trot))
        self.assertEqual(judgement.found(trot), ())
        self.assertIsNone(judgement.judged(evaluate(demo("sorrel"), "Forward").reading))

    def test_a_judgement_is_asked_once(self):
        asked = []

        def check(r):
            asked.append(r)
            return iter(())

        judgement = Judgement("F99", "", (), check)
        reading = evaluate(hexapod(), "Forward").reading
        self.assertEqual((judgement.found(reading), judgement.found(reading)), ((), ()))
        self.assertEqual(len(asked), 1)


class Patches(SeededTest):
    """An edit done on the values comes to what it comes to through the document."""

    def through_the_document(self, project, patch):
        return parse_project(jsonpatch.apply_patch(document(project), patch))

    @in_turns
    @is_long
    def test_levers_turned_anywhere(self):
        shapes = ("six_sprawled", "four_upright", "two_full", "two_wheels")
        for name, lever in share(self.random, [(s, v) for s in shapes for v in LEVERS.values()], 24):
            project = start(name, "Patched", 200.0)
            for motion in (m for m in project.motions if m.kind == "phase_gait"):
                value = float(self.random.uniform(lever.low, lever.high))
                patch = lever.patch(project, motion.name, value)
                self.alike(project, patch, f"{name} {lever.name} {value} seed {self.seed}")

    def test_other_fields_and_wrong_ones(self):
        project = demo("fennel")
        for path, value in (
            ("/walker/limbs/0/links/1/length_mm", 61.5),
            ("/walker/limbs/0/neutral_mm", [1.0, 2.0]),
            ("/walker/limbs/0/neutral_mm/1", -400.0),
            ("/walker/drives/0/servos/0/centre_deg", 4.0),
            ("/walker/limbs/0/links/1/length_mm", -1.0),
            ("/motions/0/legs/0/duty", 1.0),
            ("/motions/0/pose/sway", [{"harmonic": 1, "y_cos_mm": 3.0}]),
            ("/motions/0/pose/sway", [{"harmonic": 0}]),
            ("/motions/0/colour", "green"),
            ("/motions/99/lift_mm", 3.0),
            ("/limits/margin_mm", 3),
            ("/name", "Other"),
            ("/name", ""),
        ):
            self.alike(project, [replace(path, value)], f"{path} {value}")

    def alike(self, project, patch, said):
        try:
            expected = save_project(self.through_the_document(project, patch))
        except InputRefused as refused:
            with self.assertRaises(InputRefused, msg=said) as caught:
                patched(project, patch)
            self.assertEqual(caught.exception.problems, refused.problems, said)
        except Exception as other:
            with self.assertRaises(type(other), msg=said):
                patched(project, patch)
        else:
            self.assertEqual(save_project(patched(project, patch)), expected, said)

    def test_a_motion_alone_takes_what_named_the_others_with_it(self):
        project = changed(demo("fennel"), {"walked": [{"motion": "Hurry", "cycle_s": 1, "stroke_mm": 9, "lift_mm": 9}]})
        alone = only_motions(project, project.motion("Forward"))
        self.assertEqual([m.name for m in alone.motions], ["Forward"])
        self.assertEqual((alone.walked, alone.controls, alone.start_up.pose), ((), (), None))
        self.assertEqual(save_project(parse_project(document(alone))), save_project(alone))
