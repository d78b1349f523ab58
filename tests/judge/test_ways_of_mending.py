"""What is offered against a finding: done, it is gone, and what was not meant stays as it was."""

from __future__ import annotations

import re

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.limb_edits import removed
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from tests.long import in_turns
from tests.projects import changed, fault, hexapod, quadruped, start
from tests.seeded import SeededTest
from tests.servo.machines import on_boards


class Mending(SeededTest):
    def offered(self, project, motion, code, subject=None):
        """The finding with that code, and by title what its remedies make of the project."""
        found = [f for f in evaluate(project, motion).findings if f.code == code and subject in (None, f.subject)]
        self.assertTrue(found, code)
        made = {r.title: patched(project, r.patch) for r in remedies(project, motion, found[0])}
        for title, after in made.items():
            left = [f for f in evaluate(after, motion).findings if (f.code, f.subject) == (code, found[0].subject)]
            self.assertEqual(left, [], title)
        return found[0], made


class InSteps(Mending):
    """What was walked last, and by how much it grows at once."""

    def test_the_lift_is_raised_by_steps(self):
        project = hexapod()
        lift = project.motions[0].lift_mm
        last = float(self.random.uniform(0.45, 0.6)) * lift
        project = changed(project, {"walked": [self.as_it_is(project) | {"lift_mm": last}]})
        found, made = self.offered(project, "Forward", "F39", "lift")
        self.assertAlmostEqual(found.value, lift / last, places=6)
        (after,) = made.values()
        raised = after.motions[0].lift_mm
        self.assertLessEqual(raised / last, project.limits.change_factor + 1e-9)
        self.assertGreater(raised, last)
        self.assertLess(raised, lift)

    def test_the_pace_is_raised_by_steps_of_whole_rows_over_the_same_stride(self):
        project = hexapod()
        cycle = project.motions[0].cycle_s
        last = float(self.random.uniform(3.0, 5.0)) * cycle
        project = changed(project, {"walked": [self.as_it_is(project) | {"cycle_s": last}]})
        _, made = self.offered(project, "Forward", "F39", "pace")
        (after,) = made.values()
        slower = after.motions[0]
        rows = slower.cycle_s / (project.controller.frame_period_ms / 1000)
        self.assertAlmostEqual(rows, round(rows), places=6)
        self.assertLessEqual(last / slower.cycle_s, project.limits.change_factor + 1e-9)
        self.assertAlmostEqual(
            slower.twist.vx_mm_s * slower.cycle_s, project.motions[0].twist.vx_mm_s * cycle, delta=0.1
        )

    def as_it_is(self, project):
        """As it walks now, told as if it had walked so."""
        r, gait = evaluate(project, "Forward").reading, project.motions[0]
        walked = document(fault("F39"))["walked"][0] | {"motion": "Forward"}
        return walked | {
            "stroke_mm": float(r.score.stroke_mm.max()), "lift_mm": gait.lift_mm, "cycle_s": gait.cycle_s
        }  # fmt: skip


class Soles(Mending):
    def test_toes_are_put_where_one_servo_for_both_can_have_them(self):
        """Toes that were asked to point out, on legs without a joint to turn them."""
        project = start("two_planar", "Toes", 260.0)
        out = float(self.random.uniform(8, 25))
        asked = changed(project, {"walker/limbs/0/toe_deg": out, "walker/limbs/1/toe_deg": -out})
        found, made = self.offered(asked, "Forward", "F55", "turn")
        self.assertAlmostEqual(found.value, out, delta=0.1)
        after = made["Toes as the joints have them"]
        self.assertEqual([limb.toe_deg for limb in after.walker.limbs], [0.0, 0.0])

    def test_a_body_that_rolls_tips_soles_that_cannot_and_is_put_level(self):
        """Legs without a roll at the ankle pass on what the body leans."""
        project = start("two_planar", "Tips", 260.0)
        lean = float(self.random.uniform(5.0, 12.0))
        found, made = self.offered(changed(project, {"motions/0/pose/roll_deg": lean}), "Forward", "F55", "tilt")
        self.assertAlmostEqual(found.value, lean, delta=0.5)
        self.assertEqual(made["Body level"].motions[0].pose.roll_deg, 0.0)


class AtTheBench(Mending):
    def powered(self, **more):
        pack = {"name": "Pack", "chemistry": "lithium", "cells": 2, "full_v": 8.4, "empty_v": 6.4, "regulated_v": 6.0}
        return changed(on_boards(hexapod(), 2), {"electrics/banks": [{**pack, **more}]})

    def test_a_lithium_pack_that_nobody_watches_gets_an_alarm_on_a_free_pin(self):
        project = self.powered()
        found, made = self.offered(project, "Stand", "F41", "Pack watch")
        self.assertIn("6.", found.message)
        (after,) = made.values()
        self.assertEqual([s.does for s in after.electrics.signals], ["alarm_plug"])
        taken = [{"name": "Radio", "does": "input", "board": None, "pin": 0, "at_start": "pulled"}]
        crowded = changed(project, {"electrics/signals": taken})
        _, made = self.offered(crowded, "Stand", "F41", "Pack watch")
        (after,) = made.values()
        self.assertEqual(len({s.pin for s in after.electrics.signals}), 2)

    def test_more_volts_than_servos_take_are_regulated_down(self):
        most = round(float(self.random.uniform(5.0, 8.0)), 1)
        for given in ({"regulated_v": None}, {"regulated_v": 8.3}):
            project = changed(self.powered(chemistry="mains", **given), {"servo_types/0/most_v": most})
            found, made = self.offered(project, "Stand", "F41", "Pack volts")
            self.assertEqual((found.severity, found.limit), ("stop", most))
            (after,) = made.values()
            self.assertEqual(after.electrics.banks[0].regulated_v, most)
        sound = changed(self.powered(chemistry="mains"), {"servo_types/0/most_v": 6.0})
        self.assertFalse([f for f in evaluate(sound, "Stand").findings if f.code == "F41"])

    def test_a_supply_shared_with_the_logic_is_parted_and_its_ground_joined(self):
        both = self.powered(feeds_logic=True, ground_joined=False)
        for subject, field, wanted in (("shared", "feeds_logic", False), ("ground", "ground_joined", True)):
            _, made = self.offered(both, "Stand", "F21", f"Pack {subject}")
            (after,) = made.values()
            self.assertEqual(getattr(after.electrics.banks[0], field), wanted)
            untouched = document(after)["electrics"]["banks"][0] | {field: not wanted}
            self.assertEqual(untouched, document(both)["electrics"]["banks"][0])


class Ankles(Mending):
    def test_ankles_that_carry_it_over_its_soles_swing_less_in_every_motion(self):
        project = start("two_servo", "Tips", float(self.random.uniform(110, 220)))
        # From 2.4 on it is thrown over at every size.
        by, values = float(self.random.uniform(2.45, 2.95)), document(project)
        swings = [s for m in values["motions"] for s in m.get("joints", ()) if s.get("joint") == "ankle"]
        for swing in swings:
            swing["swing"] = round(swing["swing"] * by, 2)
        with self.subTest(seed=self.seed):
            found, made = self.offered(parse_project(values), "Forward", "F53")
            self.assertEqual(found.severity, "stop")
            (title,) = (title for title in made if title.startswith("Ankles swing"))
            after = [s for m in made[title].motions if m.kind == "swings" for s in m.joints]
            self.assertEqual(len({s.swing for s in after if s.joint == "ankle"}), 1)
            self.assertLess(after[0].swing, swings[0]["swing"])
            # How far its toes turn is none of its business.
            self.assertEqual({s.swing for s in after if s.joint == "yaw"},
                             {s.swing for m in project.motions if m.kind == "swings" for s in m.joints
                              if s.joint == "yaw"})  # fmt: skip


class WhatATableTakes(SeededTest):
    def test_a_controller_too_small_is_told_how_far_apart_rows_would_fit(self):
        project = quadruped()
        plan = evaluate(project, "Forward")
        took = plan.figure("table_kb")
        for share, fits in ((1.2, True), (0.5, False)):
            kept = round(took * share, 3)
            small = evaluate(changed(project, {"controller/memory_kb": kept}), "Forward")
            (figure,) = small.figures_among(["table_kb"])
            text = " ".join(figure.working)
            self.assertEqual("does not fit" in text, not fits)
            if not fits:
                (wider,) = re.findall(r"rows (\d+) ms apart would", text)
                period = project.controller.frame_period_ms
                # So many rows fewer, each of as many servos.
                fewer = np.ceil(plan.reading.score.duration_s * 1000 / int(wider)) * len(plan.reading.kit.servos) * 2
                self.assertLessEqual(fewer / 1000, kept * 1.02)
                self.assertGreater(int(wider), period)


class OnTwoSoles(Mending):
    def test_a_hip_that_gives_is_held_against_stiffened_or_given_a_broader_sole(self):
        project = fault("F57")
        found, made = self.offered(project, "Forward", "F57")
        self.assertEqual(found.severity, "stop")
        kinds = {title.split()[0]: after for title, after in made.items()}
        self.assertLessEqual({"Held", "Soles", "A"}, set(kinds))
        self.assertEqual(kinds["Held"].against_sag, "full")
        stiff = [
            (was.full_torque_at_deg or 5.0, now.full_torque_at_deg)
            for was, now in zip(project.servo_types, kinds["A"].servo_types, strict=True)
        ]
        shares = {round(now / was, 2) for was, now in stiff}
        self.assertEqual(len(shares), 1)
        self.assertLess(shares.pop(), 1.0)
        # As it is stiffened by less, it still lands on its edge.
        less = changed(project, {"servo_types/0/full_torque_at_deg": 0.95 * stiff[0][0]})
        self.assertIn("F57", {code for code, *_ in evaluate(less, "Forward").stops})

    def test_a_walk_on_soles_is_planned_lower_where_its_legs_do_not_reach_its_sway(self):
        """Across a slope the body sways further, and a leg would have to be longer than it is."""
        base = start("two_full", "Lower", 260.0)
        project = changed(base, {"floor/slope_deg": 8.0, "floor/uphill_deg": -90.0, "floor/friction": 0.8})
        _, made = self.offered(project, "Forward", "F53")
        planned = next(after for title, after in made.items() if title.startswith("Sway "))
        was, now = (p.motion("Forward").pose.ride_height_mm for p in (project, planned))
        self.assertLess(now, was)
        self.assertGreaterEqual(now, 0.9 * was - 0.1)
        self.assertFalse(evaluate(planned, "Forward").stops)


class OnASlope(Mending):
    def leant(self, shape, motion, code, slope, uphill, mm):
        base = start(shape, "Leans", mm)
        more = {"floor/friction": 0.8, "limits/margin_mm": 4.0}
        project = changed(base, {"floor/slope_deg": slope, "floor/uphill_deg": uphill, **more})
        _, made = self.offered(project, motion, code)
        found = [after for title, after in made.items() if "into the slope" in title]
        self.assertEqual(len(found), 1, "the first that clears it, and no more")
        (after,) = found
        at = [m.name for m in project.motions].index(motion)
        return np.subtract(after.motions[at].pose.shift_mm, project.motions[at].pose.shift_mm)

    @in_turns
    def test_it_leans_uphill_whichever_way_that_is(self):
        for uphill in (0.0, 90.0, -90.0):
            shift = self.leant("four_upright", "Trot", "F19", 9.0 if uphill else 14.0, uphill, 220.0)
            way = np.array([np.cos(np.radians(uphill)), np.sin(np.radians(uphill))])
            with self.subTest(uphill=uphill):
                self.assertGreater(shift @ way, 5.0)
                self.assertLess(np.abs(shift - (shift @ way) * way).max(), 0.2)

    @in_turns
    def test_a_pace_too_quick_to_be_halted_is_slowed_and_its_strides_stay(self):
        project = start("four_upright_2", "Halts", 200.0)
        walk, row = project.motions[0], project.controller.frame_period_ms / 1000
        cycle = round(round(0.5 * walk.cycle_s / row) * row, 3)
        quick = changed(project, {
            "motions/0/cycle_s": cycle, "motions/0/twist/vx_mm_s": round(walk.twist.vx_mm_s * walk.cycle_s / cycle, 3),
        })  # fmt: skip
        _, made = self.offered(quick, "Forward", "F18", "halted")
        slower = next(after for title, after in made.items() if title.startswith("Slower"))
        self.assertGreater(slower.motions[0].cycle_s, cycle)
        strides = [p.motions[0].twist.vx_mm_s * p.motions[0].cycle_s for p in (quick, slower)]
        self.assertAlmostEqual(strides[0], strides[1], delta=0.02 * strides[0])


class ALegLess(Mending):
    """Three of five legs in the air at once fall over."""

    @in_turns
    def test_the_others_step_in_another_order_slower_where_their_swings_would_be_too_quick(self):
        shape = str(self.random.choice(["six_sprawled", "six_upright"]))
        length = float(self.random.uniform(120, 300))
        five = removed(start(shape, "Five", length), str(self.random.choice(["L1", "L3", "R1", "R3"])))
        for name in ("Forward", "Start"):
            with self.subTest(shape=shape, length=length, motion=name, seed=self.seed):
                _, made = self.offered(five, name, "F18")
                title = next(title for title in made if "eg order" in title)
                # A start is mended in the walk that it joins.
                self.assertEqual(title.startswith("Forward: leg order"), name != "Forward")
                was, walk = five.motion("Forward"), made[title].motion("Forward")
                self.assertLess(max(1 - leg.duty for leg in walk.legs) * len(walk.legs), 1.01)
                self.assertTrue(evaluate(made[title], "Forward").sound)
                way = [motion.twist.vx_mm_s * motion.cycle_s for motion in (was, walk)]
                self.assertAlmostEqual(way[1] / way[0], 1.0, delta=0.01)
