"""Findings fire on the faulty project and not on its sound twin, and their remedies work, by evaluation."""

from __future__ import annotations

import re

import numpy as np

from bustle.core.document.file import load_project
from bustle.core.edits.levers import LEVERS
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.registry import JUDGEMENTS
from bustle.core.search.remedies import remedies
from bustle.core.search.sound_band import sound_band
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from tests.long import in_turns, is_long, share
from tests.projects import ROOT, changed, demo, fault, hexapod, quadruped, start, troubles
from tests.seeded import SeededTest

FAULTS = sorted((ROOT / "demo" / "faults").glob("*.bustle.json"))


class FaultyAndSound(SeededTest):
    def test_every_check_has_its_pair(self):
        codes = {path.name.split(".")[0] for path in FAULTS}
        self.assertEqual(codes, set(JUDGEMENTS))

    def test_fires_on_the_faulty_project_with_a_number_and_is_silent_on_its_twin(self):
        for code in JUDGEMENTS:
            with self.subTest(code=code):
                project, twin = fault(code), fault(code, sound=True)
                plan = evaluate(project, project.motions[0].name)
                found = [f for f in plan.findings if f.code == code]
                self.assertTrue(found)
                for finding in found:
                    self.assertTrue(np.isfinite([finding.value, finding.limit]).all())
                    # Where it tells an instant, a table's row or an event of this motion is there.
                    if finding.time_s is not None:
                        instants = [*plan.reading.times, *np.arange(plan.reading.samples) * plan.reading.row_s]
                        self.assertLess(np.abs(np.array(instants) - finding.time_s).min(), 1e-6)
                    self.assertRegex(finding.message, r"\d")
                    self.assertTrue(finding.message.endswith("."))
                self.assertEqual(troubles(evaluate(twin, twin.motions[0].name)), ())

    @in_turns
    def test_what_stops_a_walk_is_the_same_asked_for_alone(self):
        """A judgement that says it warns at most is not asked whether it stops a walk; nor what cannot apply."""
        for path in FAULTS:
            project = load_project(path.read_bytes())
            for motion in project.motions:
                with self.subTest(path=path.name, motion=motion.name):
                    found = evaluate(project, motion.name).findings
                    told = {f.code for f in found if f.severity == "stop" and not JUDGEMENTS[f.code].bench}
                    alone = evaluate(project, motion.name)
                    self.assertEqual(alone.sound, not told)
                    self.assertEqual({code for code, *_ in alone.stops}, told)

    @in_turns
    @is_long
    def test_of_equals_the_same_is_named_from_one_answer_to_the_next(self):
        """A hair's difference, far below what anybody could see, names no other leg and no other instant."""
        for path in share(self.random, FAULTS, 20):
            project = load_project(path.read_bytes())
            for n, motion in enumerate(project.motions):
                if motion.kind != "phase_gait":
                    continue
                told = []
                for hair in (0.0, 1e-12, -1e-12, 3e-12):
                    other = changed(project, {f"motions/{n}/pose/ride_height_mm": motion.pose.ride_height_mm + hair})
                    found = evaluate(other, motion.name).findings
                    told.append([(f.code, f.subjects, f.time_s and round(f.time_s, 6)) for f in found])
                with self.subTest(path=path.name, motion=motion.name):
                    for again in told[1:]:
                        self.assertEqual(again, told[0])

    def test_what_is_over_its_limit_by_a_hair_does_not_read_as_much_as_it(self):
        """Limits of the project brought to a hundredth on the right side of what is told, from either side."""
        asked = {
            "F11": ("drift_mm_m", -1), "F12": ("slip_mm", -1), "F13": ("slip_mm", -1), "F29": ("foot_play_mm", -1),
            "F52": ("drift_mm_m", -1), "F47": ("straight_knee_mm", 1), "F49": ("margin_mm", 1),
        }  # fmt: skip
        cases = [(code, fault(code), field, side) for code, (field, side) in asked.items()]
        cases += [("F18", start("four_upright", "Hair", 200.0), "margin_mm", 1)]
        cases += [("F16", start("six_sprawled", "Hair", 200.0), "clearance_mm", 1)]
        for code, project, field, side in cases:
            motion = project.motions[0].name
            plan = evaluate(project, motion)
            told = next((f.value for f in plan.findings if f.code == code), None)
            if told is None:
                told = plan.figure("worst_margin_mm" if code == "F18" else "clearance_mm")
            near = evaluate(changed(project, {f"limits/{field}": round(told + 0.01 * side, 6)}), motion)
            found = next(f for f in near.findings if f.code == code)
            numbers = set(re.findall(r"\d+(?:\.\d+)?", found.message))
            alike = [n for n in numbers if min(abs(float(n) - v) for v in (found.value, found.limit)) < 0.06]
            with self.subTest(code=code, message=found.message):
                self.assertGreater(len(alike), 1)

    @is_long
    def test_each_remedy_clears_its_finding_without_adding_a_stop(self):
        for code in share(self.random, list(JUDGEMENTS), 12):
            project = fault(code)
            motion = project.motions[0].name
            before = evaluate(project, motion)
            for finding in (f for f in before.findings if f.code == code):
                found = remedies(project, motion, finding)
                with self.subTest(code=code, subject=finding.subject):
                    self.assertTrue(found)
                for remedy in found:
                    with self.subTest(code=code, remedy=remedy.title):
                        after = evaluate(patched(project, remedy.patch), motion)
                        self.assertNotIn((code, finding.subject), [(f.code, f.subject) for f in after.findings])
                        self.assertFalse(after.stops - before.stops)
                        self.assertEqual(remedy.patch[0]["op"], "test")
                        for change in remedy.changes:
                            name = next(f.name for f in before.figures if f.label == change.label)
                            self.assertEqual(change.before, before.figure(name))
                            self.assertEqual(change.after, after.figure(name))

    @in_turns
    def test_the_figure_a_finding_is_about_comes_first(self):
        for code in ("F06", "F15", "F18", "F24", "F47"):
            project = fault(code)
            motion = project.motions[0].name
            plan = evaluate(project, motion)
            finding = next(f for f in plan.findings if f.code == code)
            label = next(f.label for f in plan.figures if f.name == JUDGEMENTS[code].figures[0].name)
            for remedy in remedies(project, motion, finding):
                if label in [c.label for c in remedy.changes]:
                    self.assertEqual(remedy.changes[0].label, label, remedy.title)
            self.assertTrue(any(r.changes and r.changes[0].label == label for r in remedies(project, motion, finding)))

    @in_turns
    def test_a_remedy_is_the_smallest(self):
        """One step less of the same lever leaves the finding standing, or adds a stop."""
        for code, lever, pattern in (
            ("F17", "ride_height", r"Ride height ([\d.]+) → ([\d.]+) mm"),
            ("F47", "ride_height", r"Ride height ([\d.]+) → ([\d.]+) mm"),
            ("F06", "lift", r"Lift ([\d.]+) → ([\d.]+) mm"),
        ):
            project = fault(code)
            motion = project.motions[0].name
            before = evaluate(project, motion)
            finding = next(f for f in before.findings if f.code == code)
            title = next(r.title for r in remedies(project, motion, finding) if re.fullmatch(pattern, r.title))
            start_, end = (float(v) for v in re.fullmatch(pattern, title).groups())
            less = end + LEVERS[lever].step * (1 if start_ > end else -1)
            after = evaluate(patched(project, LEVERS[lever].patch(project, motion, less)), motion)
            stands = (code, finding.subject) in [(f.code, f.subject) for f in after.findings]
            self.assertTrue(stands or after.stops - before.stops, title)

    def test_where_no_single_change_helps_none_is_offered(self):
        """Two feet of four carry at most: no sway, shift or order makes that static."""
        project = changed(demo("sorrel"), {"motions/4/balance": "static"})
        finding = next(f for f in evaluate(project, "Trot").findings if f.code == "F18")
        for remedy in remedies(project, "Trot", finding):
            after = evaluate(patched(project, remedy.patch), "Trot")
            self.assertNotIn("F18", [f.code for f in after.findings])
        stuck = changed(project, {"limits/margin_mm": 400.0})
        finding = next(f for f in evaluate(stuck, "Trot").findings if f.code == "F18")
        self.assertEqual(remedies(stuck, "Trot", finding), [])


class Judgement(SeededTest):
    def codes(self, project, motion="Forward"):
        return [(f.code, f.severity) for f in evaluate(project, motion).findings]

    @in_turns
    @is_long
    def test_every_starting_shape_at_every_size_is_sound(self):
        sizes = (60.0, 80.0, 110.0, 150.0, 200.0, 260.0, 330.0, 420.0, 510.0, 600.0)
        for shape, length in share(self.random, [(s, mm) for s in SHAPES for mm in sizes], 9):
            project = start(shape, "Shape", length)
            for motion in project.motions:
                self.assertFalse(evaluate(project, motion.name).stops, f"{shape} {length} {motion.name}")
                # Walks that live by their timing are fragile, and say so; so are starts and stops, at times.
                if motion.kind != "phase_gait" or motion.balance == "dynamic":
                    continue
                found = troubles(evaluate(project, motion.name))
                # Two joints on legs that point every way cannot but scuff, and it says so.
                scuffs = shape in ("six_two_radial", "four_radial_2")
                others = [f.message for f in found if not (scuffs and f.code == "F12" and f.severity == "warn")]
                self.assertEqual(others, [], f"{shape} {length} {motion.name}, seed {self.seed}")

    def test_every_starting_shape_has_the_walks_of_its_kind(self):
        for shape in SHAPES:
            project = start(shape, "Shape", 200.0)
            names = {m.name for m in project.motions}
            self.assertLessEqual({"Stand", "Forward", "Start", "Stop"}, names, shape)
            yaws = all(any(j.name == "yaw" for j in m.joints) for m in project.walker.legs if len(m.joints) > 2)
            if yaws and any(len(m.joints) > 2 for m in project.walker.legs):
                self.assertIn("Turn left", names, shape)
            ahead = [m for m in project.motions if m.name in ("Forward", "Slowly", "Trot")]
            # The fewest that are down at once, of each walk ahead: three or two of four, three or more of six.
            down = [int(evaluate(project, m.name).reading.course.contact.sum(axis=0).min()) for m in ahead]
            group, legs = SHAPES[shape].group, len(project.walker.legs)
            if group == "Four legs":
                self.assertEqual((legs, sorted(down)), (4, [2, 3]), shape)
            elif group == "Six legs":
                self.assertEqual((legs, sorted(down)), (6, [3, 4]), shape)

    @in_turns
    def test_the_demo_is_sound_but_for_its_two_flaws(self):
        for name, flaw in (("fennel", "Hurry"), ("sorrel", "Hose step")):
            project = demo(name)
            for motion in project.motions:
                plan = evaluate(project, motion.name)
                self.assertEqual(bool(plan.stops), motion.name == flaw, f"{name} {motion.name}")
                for finding in plan.findings if motion.name == flaw else ():
                    if finding.severity == "stop":
                        self.assertTrue(remedies(project, flaw, finding))

    def test_servo_travel_is_a_stop_like_any_other(self):
        project = changed(hexapod(), {"servo_types/0/travel_deg": 30.0})
        found = next(f for f in evaluate(project, "Forward").findings if f.code == "F15")
        self.assertIn("servo's travel", found.message)

    def test_dynamic_motions_are_not_judged_by_margin(self):
        static = changed(quadruped(), {"motions/0/pose/sway": []})
        self.assertIn(("F18", "stop"), self.codes(static))
        self.assertNotIn("F18", [c for c, _ in self.codes(changed(static, {"motions/0/balance": "dynamic"}))])

    def test_all_feet_off_the_ground_is_a_fall(self):
        project = hexapod()
        for n in range(6):
            project = changed(project, {f"motions/0/legs/{n}/phase": 0.0, f"motions/0/legs/{n}/duty": 0.5})
        plan = evaluate(project, "Forward")
        self.assertIn("No foot is down", next(f.message for f in plan.findings if f.code == "F18"))

    def test_a_quick_board_with_slow_servos(self):
        project = changed(hexapod(), {"controller/frame_period_ms": 5.0})
        finding = next(f for f in evaluate(project, "Forward").findings if f.code == "F38")
        self.assertEqual(finding.severity, "stop")
        self.assertEqual([r.title for r in remedies(project, "Forward", finding)], ["Row period 5 → 20 ms"])

    def test_sound_band_ends_where_a_stop_begins(self):
        project = hexapod()
        lever = LEVERS["ride_height"]
        bands = sound_band(project, "Forward", lever, 10.0, 260.0)
        self.assertEqual(len(bands), 1)
        low, high = bands[0]
        self.assertTrue(low < project.motions[0].pose.ride_height_mm < high)

        def stops(value):
            return evaluate(patched(project, lever.patch(project, "Forward", value)), "Forward").stops

        self.assertFalse(stops(low) | stops(high))
        self.assertTrue(stops(high + 2.0))
        self.assertTrue(low == 10.0 or stops(low - 2.0))

    def test_nothing_is_sound_where_a_lever_cannot_be_put(self):
        """However far beyond its ends somebody asks; its ends themselves may be asked for."""
        project = quadruped()
        for lever in LEVERS.values():
            with self.subTest(lever=lever.name):
                far = abs(lever.typed[1]) + 1.0
                self.assertEqual(sound_band(project, "Forward", lever, 10 * far, 1e6), [])
                for value in (1e6, -1e6, float("nan")):
                    with self.assertRaisesRegex(InputRefused, re.escape(f"{lever.label} must be from")):
                        lever.patch(project, "Forward", value)
                for value in lever.typed:
                    self.assertTrue(lever.patch(project, "Forward", value))

    def test_every_lever_edits_only_what_it_names(self):
        # With some sway each way: of none there is no saying when it is furthest.
        index = [m.name for m in demo("sorrel").motions].index("Hose step")
        sway = [{"harmonic": 1, "x_cos_mm": 4.0, "y_sin_mm": 3.0, "z_cos_mm": 2.0}]
        project = changed(demo("sorrel"), {f"motions/{index}/pose/sway": sway})
        for lever in LEVERS.values():
            motion = project.motion("Hose step")
            here = lever.read(project, motion)
            target = min(lever.high, max(lever.low, here + 2 * lever.step * (-1 if here == lever.high else 1)))
            after = patched(project, lever.patch(project, "Hose step", target))
            if not lever.relative:
                self.assertAlmostEqual(lever.read(after, after.motion("Hose step")), target, places=6, msg=lever.name)
            self.assertEqual(after.motions[0], project.motions[0], lever.name)
