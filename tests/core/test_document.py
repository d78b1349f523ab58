"""Project files: canonical bytes, and a clear sentence for everything that cannot be one."""

from __future__ import annotations

import copy
import json
import sys
import unittest
from unittest.mock import patch

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.document.differences import differences
from bustle.core.document.file import load_project, project_hash, save_project
from bustle.core.document.three_way_merge import reapply
from bustle.core.evaluate import evaluate
from bustle.core.project.project import VERSION, document
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from tests.long import in_turns, is_long, share, times
from tests.projects import ROOT, changed, demo, hexapod, start
from tests.seeded import SeededTest


class Canonical(SeededTest):
    def test_load_save_load_gives_the_same_bytes_and_hash(self):
        files = [*(ROOT / "demo").rglob("*.bustle.json")]
        self.assertGreater(len(files), 10)
        for path in files:
            data = path.read_bytes()
            project = load_project(data)
            self.assertEqual(save_project(project), data, path.name)
            self.assertEqual(project_hash(load_project(save_project(project))), project_hash(project))

    def test_a_file_of_the_earlier_version_still_opens_and_walks_alike(self):
        earlier = load_project((ROOT / "tests" / "old" / "version-1.bustle.json").read_bytes())
        self.assertEqual(earlier.version, VERSION)
        data = save_project(earlier)
        self.assertEqual(save_project(load_project(data)), data)
        now = load_project((ROOT / "demo" / "sorrel.bustle.json").read_bytes())
        for motion in ("Forward", "Turn left"):
            np.testing.assert_allclose(
                evaluate(earlier, motion).reading.angles, evaluate(now, motion).reading.angles, atol=1e-9
            )

    def test_another_spelling_of_the_same_project_has_the_same_hash(self):
        project = hexapod()
        values = document(project)
        values["motions"][0]["cycle_s"] = 1.2
        values["motions"][0]["pose"]["roll_deg"] = -0.0
        values["walker"]["limbs"][0]["mount"]["yaw_deg"] = int(values["walker"]["limbs"][0]["mount"]["yaw_deg"])
        shuffled = json.dumps(values, sort_keys=True, separators=(",", ":")).encode("utf-8-sig")
        self.assertEqual(project_hash(load_project(shuffled)), project_hash(project))

    def test_random_numbers_survive(self):
        for _ in range(30):
            value = float(self.random.uniform(1, 300)) * 10.0 ** int(self.random.integers(-9, 1))
            project = changed(hexapod(), {"motions/0/lift_mm": value})
            self.assertEqual(load_project(save_project(project)).motions[0].lift_mm, value, f"seed {self.seed}")

    def test_schema_on_disk_is_the_models(self):
        sys.path.insert(0, str(ROOT / "scripts"))
        try:
            from write_schema import schema_text
        finally:
            sys.path.pop(0)
        self.assertEqual((ROOT / "docs" / "schemas" / f"project-{VERSION}.schema.json").read_text(), schema_text())


class Documents(unittest.TestCase):
    def test_the_page_of_leg_families_is_what_the_families_say(self):
        sys.path.insert(0, str(ROOT / "scripts"))
        try:
            from draw_legs import pages
        finally:
            sys.path.pop(0)
        for name, text in pages().items():
            self.assertEqual((ROOT / "docs" / name).read_text(), text, name)


class Refused(unittest.TestCase):
    def refusal(self, data):
        with self.assertRaises(InputRefused) as caught:
            load_project(data)
        return [str(p) for p in caught.exception.problems]

    def edited(self, path, value):
        values = document(hexapod())
        *way, last = [int(p) if p.isdigit() else p for p in path.split("/")]
        target = values
        for part in way:
            target = target[part]
        target[last] = value
        return json.dumps(values)

    def test_each_fault_names_its_field(self):
        for path, value, sentence in (
            ("motions/0/lift_mm", "24", "motions[0].lift_mm: must be a number, got '24'"),
            ("motions/0/lift_mm", True, "motions[0].lift_mm: must be a number, got True"),
            ("motions/0/lift_mm", None, "motions[0].lift_mm: must be a number, got nothing"),
            ("motions/0/lift_mm", -3, "motions[0].lift_mm: must be at least 0, got -3"),
            # Currents by power over it would be beyond any number.
            ("servo_types/0/rated_v", 1e-300, "servo_types[0].rated_v: must be at least 0.1, got 1e-300"),
            ("motions/0/lift_mm", float("nan"), "motions[0].lift_mm: must be a finite number, got nan"),
            ("motions/0/cycle_s", float("inf"), "motions[0].cycle_s: must be a finite number, got inf"),
            (
                "walker/limbs/2/links/1/length_mm",
                0,
                "walker.limbs[2].links[1].length_mm: must be above 0, got 0 (leg L3, femur)",
            ),
            (
                "walker/limbs/2/links/1/length_mm",
                -66,
                "walker.limbs[2].links[1].length_mm: must be at least 0, got -66",
            ),
            ("walker/limbs/2/name", "L1", "walker.limbs[2].name: two legs are called 'L1'; each needs its own name"),
            ("walker/limbs/2/name", "l1", "walker.limbs[2].name: two legs are called 'l1'; each needs its own name"),
            (
                "walker/limbs/2/family",
                "rubber",
                "walker.limbs[2].family: must be one of sprawled_3, upright_3, sprawled_2, upright_2",
            ),
            ("name", "<script>alert(1)</script>", "name: must be plain text without markup"),
            ("note", "see <b>this</b>", "note: must be plain text without markup"),
            ("name", "a\x00b", "name: must not hold control characters"),
            ("name", "", "name: must not be empty"),
            ("version", 99, "version: this Bustle reads versions 1 to 12, and the file says 99"),
            ("version", "1", "version: this Bustle reads versions 1 to 12, and the file says 1"),
            ("format", "other", 'format: must be "bustle"; this is no Bustle project file'),
            ("colour", "green", "colour: is not a field that Bustle knows; remove it or check its spelling"),
            ("motions/0/gait", "moonwalk", "motions[0].gait: must be custom or one of tripod"),
            ("motions/0/legs/0/limb", "Q9", "motions[0].legs[0].limb: 'Q9' is no leg of this walker"),
            ("motions/0/legs/0/duty", 1.0, "motions[0].legs[0].duty: leg L1 never lifts (duty 1) but the body moves"),
            ("walker/drives", [], "walker.drives: joint L1/femur has no drive"),
            (
                "walker/limbs/0/joints/0/max_deg",
                -80,
                "walker.limbs[0].joints[0].max_deg: must be above min_deg, -60, got -80",
            ),
            ("name", " Hexapod", "name: must not begin or end with a space"),
            ("name", "Hexa\npod", "name: must be one line"),
            ("walker/limbs/2/links", [], "walker.limbs[2].links: a sprawled"),
            (
                "walker/limbs/0/feet/0/sole",
                {"kind": "curved", "radius_fore_mm": 90.0, "radius_side_mm": 0.0, "width_mm": 30.0},
                "walker.limbs[0].feet[0].sole.radius_side_mm: must be at least 0.1, got 0",
            ),
        ):
            with self.subTest(path=path, value=value):
                sentences = self.refusal(self.edited(path, value))
                self.assertTrue(any(s.startswith(sentence) for s in sentences), sentences)

    def test_what_is_no_project_at_all(self):
        whole = save_project(hexapod())
        for data, words in (
            (b"", "breaks off"),
            (whole[: len(whole) // 2], "breaks off"),
            (b"\xff\xfe\x00", "not UTF-8"),
            (b"not json", "not JSON"),
            (b"[]", "group of fields"),
            (b"[" * 100_000, "nests deeper"),
            (b'{"format": "bustle", "format": "bustle"}', "appears twice"),
            (b" " * 2_000_001, "at most 2 MB"),
            (b'{"format": "bustle", "version": 1, "name": ' + b"9" * 5000 + b"}", "too long to read"),
        ):
            with self.subTest(words=words):
                self.assertIn(words, " ".join(self.refusal(data)))

    def test_many_faults_are_all_named(self):
        values = document(hexapod())
        values["motions"][0]["lift_mm"] = "x"
        values["motions"][1]["cycle_s"] = -1
        sentences = self.refusal(json.dumps(values))
        self.assertEqual(len(sentences), 2)


class TwoVersions(unittest.TestCase):
    def test_differences_are_named_by_leg_and_motion(self):
        base = hexapod()
        after = changed(base, {"motions/0/lift_mm": 31.0, "walker/limbs/4/links/1/length_mm": 70.0})
        found = {d.path: (d.before, d.after) for d in differences(base, after)}
        self.assertEqual(set(found), {"motions Forward lift_mm", "walker limbs R2 links femur length_mm"})
        self.assertEqual(found["motions Forward lift_mm"], (base.motions[0].lift_mm, 31.0))

    def test_reapply_keeps_both_and_prefers_mine_where_both_changed(self):
        base = hexapod()
        mine = changed(base, {"motions/0/lift_mm": 31.0, "motions/0/cycle_s": 1.4})
        theirs = changed(base, {"motions/0/cycle_s": 1.6, "motions/1/lift_mm": 12.0, "name": "Renamed"})
        merged = reapply(base, mine, theirs)
        self.assertEqual(merged.motions[0].lift_mm, 31.0)
        self.assertEqual(merged.motions[0].cycle_s, 1.4)
        self.assertEqual(merged.motions[1].lift_mm, 12.0)
        self.assertEqual(merged.name, "Renamed")

    def test_added_and_removed_things_merge(self):
        base = demo("fennel")
        mass = {"name": "Basket", "mass_g": 80.0}
        masses = [m.model_dump(mode="json") for m in base.walker.masses]
        mine = changed(base, {"walker/masses": [*masses, mass]})
        theirs = changed(base, {"walker/masses": masses[1:]})
        names = [m.name for m in reapply(base, mine, theirs).walker.masses]
        self.assertEqual(names, ["Controller and wiring", "Battery", "Thermometer mast", "Basket"])

    def test_changes_that_do_not_fit_together_are_refused(self):
        base = changed(hexapod(), {"motions": document(hexapod())["motions"][:3]})
        values = document(base)
        motions = values["motions"]
        mine = changed(base, {"motions": [{**motions[0], "name": "Stroll"}, *motions[1:]]})
        theirs = changed(base, {"motions": [*motions, {**motions[0], "name": "stroll"}]})
        with self.assertRaises(InputRefused):
            reapply(base, mine, theirs)


class PartByPart(SeededTest):
    """A project read part by part, most of them known from before, comes to what it comes to as a whole."""

    ODD = (None, True, False, -1, 0, 1, 1.0, VERSION, float(VERSION), str(VERSION), 1e308, float("nan"), 1e-300, 359.9,
           "", "x" * 5000, "<b>", "static", [], {}, [1], {"name": 1})  # fmt: skip

    @in_turns
    @is_long
    def test_whatever_stands_in_it(self):
        documents = [json.loads(path.read_bytes()) for path in sorted((ROOT / "demo").glob("*.bustle.json"))]
        for _ in range(times(4000)):
            draft = copy.deepcopy(documents[self.random.integers(len(documents))])
            for _ in range(self.random.integers(1, 3)):
                self.spoil(draft)
            said = self.told(draft)
            with patch("bustle.core.document.checked._by_parts", return_value=None):
                self.assertEqual(said, self.told(draft), f"seed {self.seed}")

    def spoil(self, draft):
        place = draft
        while isinstance(place, (dict, list)) and place:
            parent = place
            keys = list(place) if isinstance(place, dict) else range(len(place))
            key = keys[self.random.integers(len(keys))]
            place = place[key]
            if self.random.random() < 0.15:
                break
        parent[key] = self.ODD[self.random.integers(len(self.ODD))]

    def told(self, draft):
        try:
            return save_project(parse_project(copy.deepcopy(draft)))
        except InputRefused as refused:
            return refused.problems

    def test_parts_that_stay_are_the_same_objects(self):
        values = document(hexapod())
        one = parse_project(values)
        values["motions"][1]["lift_mm"] += 1.0
        other = parse_project(values)
        self.assertIs(other.walker, one.walker)
        self.assertEqual([a is b for a, b in zip(one.motions[:3], other.motions[:3], strict=True)], [True, False, True])
        self.assertEqual(other.motions[1].lift_mm, one.motions[1].lift_mm + 1.0)

    def test_a_field_there_twice_is_told_however_it_is_written(self):
        text = json.dumps(document(hexapod()))
        for twice in (
            text,
            json.dumps(json.loads(text), separators=(",", ":")),
            json.dumps(json.loads(text), indent=1),
        ):
            load_project(twice)
            with self.assertRaises(InputRefused) as caught:
                load_project(twice.replace("{", '{"note": "once",', 1))
            self.assertIn("appears twice", str(caught.exception))


class Boundaries(SeededTest):
    @is_long
    def test_evaluation_is_pure(self):
        """The same project gives the same bytes, and is left as it was."""
        from bustle.core.evaluate import evaluate

        for shape in share(self.random, list(SHAPES), 3):
            project = start(shape, "Same", 180.0)
            kept = save_project(project)
            first, second = (evaluate(project, project.motions[0].name).reading for _ in range(2))
            self.assertEqual(first.angles.tobytes(), second.angles.tobytes())
            self.assertEqual(save_project(project), kept)
            self.assertFalse(np.isnan(first.angles).any())
