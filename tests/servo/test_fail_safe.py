"""When the radio is lost: the straight way into the fail-safe pose is looked along, and what it hits is told."""

from __future__ import annotations

import io
import json
import zipfile

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.way_to_fail_safe import way_to_fail_safe
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from bustle.core.servo.calibration import numbered
from bustle.core.servo.channel_map import wired_in_order
from bustle.formats import TABLE_FORMATS, write_table
from bustle.formats.set_zip import write_set
from tests.projects import changed, hexapod
from tests.seeded import SeededTest
from tests.servo.machines import on_boards


class FailSafe(SeededTest):
    def falling_back_to(self, angles, **safe):
        """The hexapod on boards, with a fail-safe pose of these joints."""
        values = document(on_boards(hexapod(), 2))
        joints = [{"limb": limb, "joint": joint, "value": v} for (limb, joint), v in angles.items()]
        values["motions"].append({"kind": "joint_pose", "name": "Safe", "joints": joints})
        values["start_up"]["fail_safe"] = "Safe"
        values["electrics"] |= {
            "fail_safe": {"after_ms": 400.0, **safe},
            "stop_switch": {"where": "here", "effect": "holds"},
        }
        return parse_project(values)

    def told(self, project):
        return [f for f in evaluate(project, "Forward").findings if f.code == "F20"]

    def test_legs_that_cross_on_the_way_are_a_stop_and_holding_clears_it(self):
        across = {("L1", "yaw"): 58.0, ("L2", "yaw"): -58.0}
        project = self.falling_back_to(across)
        found = self.told(project)
        self.assertEqual([f.severity for f in found], ["stop"])
        self.assertRegex(found[0].message, r"on the straight way into Safe L\d \w+ and L\d \w+ overlap by \d")
        offered = remedies(project, "Forward", found[0])
        self.assertIn("Radio lost: hold", [o.title for o in offered])
        for one in offered:
            self.assertEqual(self.told(patched(project, one.patch)), [])

    def test_what_stands_against_the_bench_keeps_no_walk_from_being_planned(self):
        """A board is added and nothing else said yet: a walk is sound, sets are written, every file says what stands
        against the machine."""
        bare = on_boards(hexapod(), 2)
        plan = evaluate(bare, "Forward")
        self.assertIn(("F20", "stop"), [(f.code, f.severity) for f in plan.findings])
        self.assertTrue(plan.sound)
        data, out = write_set(bare, TABLE_FORMATS["csv"])
        self.assertEqual(out, ())
        told = json.loads(zipfile.ZipFile(io.BytesIO(data)).read("set.json"))
        self.assertEqual([one["code"] for one in told["bench"]], ["F20"])
        self.assertIn(b"STOP F20: ", write_table(plan, "c"))

    def test_no_stop_switch_is_noted_of_every_machine_and_warned_of_once_boards_are_told(self):
        for project, severity in ((hexapod(), "note"), (on_boards(hexapod(), 2), "warn")):
            found = next(f for f in self.told(project) if f.title == "No stop switch")
            self.assertEqual(found.severity, severity)
            self.assertTrue(evaluate(project, "Forward").sound)
            one = remedies(project, "Forward", found)[0]
            mended = patched(project, one.patch)
            self.assertNotIn("No stop switch", [f.title for f in self.told(mended)])

    def on_a_bus(self, **said):
        values = document(hexapod())
        values["servo_types"][0] |= {"signal": "bus", "counts_per_turn": 4096, "middle_count": 2048}
        bus = {"name": "Bus", "kind": "bus", "channels": 40, "enable_off_at_start": True}
        sound = {"reads_back_first": True, "limits_written": True}
        values["electrics"]["boards"] = [bus | sound | said]
        return wired_in_order(numbered(parse_project(values)), "leg")

    def test_a_bus_is_read_back_before_torque_and_knows_its_limits(self):
        self.assertNotIn("F42", [f.code for f in evaluate(self.on_a_bus(), "Forward").findings])
        for word, title in (("reads_back_first", "Torque on before"), ("limits_written", "Limits not written")):
            project = self.on_a_bus(**{word: False})
            found = [f for f in evaluate(project, "Forward").findings if f.code == "F42"]
            self.assertEqual([f.title.startswith(title) for f in found], [True])
            self.assertIn("18 servos", found[0].message)
            mended = patched(project, remedies(project, "Forward", found[0])[0].patch)
            self.assertNotIn("F42", [f.code for f in evaluate(mended, "Forward").findings])

    def test_inputs_that_float_are_told_and_what_is_pulled_or_put_out_is_not(self):
        base = on_boards(hexapod(), 2)
        for does, at_start, floats in (
            ("input", "floats", True), ("pack_voltage", "floats", True), ("input", "pulled", False),
            ("lamp", "floats", False), ("lamp", "off", False),
        ):  # fmt: skip
            signals = [{"name": "Start", "does": does, "pin": 4, "at_start": at_start}]
            project = changed(base, {"electrics/signals": signals})
            found = [f for f in evaluate(project, "Forward").findings if f.title == "Inputs that float"]
            with self.subTest(does=does, at_start=at_start):
                self.assertEqual(len(found), int(floats))
                for finding in found:
                    self.assertIn("1 input has no state at start (Start)", finding.message)
                    for one in remedies(project, "Forward", finding):
                        mended = patched(project, one.patch)
                        self.assertNotIn("Inputs that float", [f.title for f in evaluate(mended, "Forward").findings])

    def test_going_limp_is_a_fall_by_switch_or_by_radio_and_not_where_it_holds(self):
        tall = changed(on_boards(hexapod(), 2), {"motions/0/pose/ride_height_mm": 110.0})
        lost = {"after_ms": 500.0, "finish_step": True, "supply_switched": True}
        switch = {"where": "within reach", "cuts": "servo_supply", "drop_mm": None}
        for radio, hit in (("holds", "holds"), ("goes_limp", "holds"), ("holds", "goes_limp")):
            said = {
                "electrics/fail_safe": {**lost, "effect": radio},
                "electrics/stop_switch": {**switch, "effect": hit},
            }
            project = changed(tall, said)
            found = [f for f in self.told(project) if f.title == "It falls when it goes limp"]
            with self.subTest(radio=radio, hit=hit):
                self.assertEqual(len(found), int("goes_limp" in (radio, hit)))
                for finding in found:
                    # As far as its belly is up.
                    self.assertAlmostEqual(finding.value, evaluate(project, "Forward").figure("belly_mm"), delta=6.0)
                    one = remedies(project, "Forward", finding)[0]
                    mended = self.told(patched(project, one.patch))
                    self.assertNotIn("It falls when it goes limp", [f.title for f in mended])

    def test_an_overload_that_shuts_servos_off_is_a_fall(self):
        tall = [{"place": i, "drop": f} for i, f in
                ((False, self.on_a_bus()), (True, self.on_a_bus(overload_limp=True)))]  # fmt: skip
        for one in tall:
            found = [f for f in evaluate(changed(one["drop"], {"motions/0/pose/ride_height_mm": 110.0}),
                                         "Forward").findings if f.title.startswith("It falls")]  # fmt: skip
            self.assertEqual(len(found), int(one["place"]))
            if found:
                self.assertIn("Shut off by an overload", found[0].message)

    def test_a_pose_that_is_met_without_crossing_is_silent(self):
        self.assertEqual(self.told(self.falling_back_to({})), [])

    def test_the_way_begins_with_all_feet_down_where_the_step_is_finished(self):
        for finish in (True, False):
            r = evaluate(self.falling_back_to({}, finish_step=finish), "Forward").reading
            way = r.of(way_to_fail_safe)
            down = r.course.contact[:, : r.samples].all(axis=0)
            row = int(np.rint(way.lost_s / r.row_s))
            if finish:
                self.assertTrue(down[row])

    def test_a_servo_that_holds_without_pulses_does_not_go_limp(self):
        limp = self.falling_back_to({}, effect="goes_limp")
        self.assertIn("limp", [f.subject for f in self.told(limp)])
        for one in remedies(limp, "Forward", next(f for f in self.told(limp) if f.subject == "limp")):
            after = patched(limp, one.patch)
            self.assertNotIn("limp", [f.subject for f in self.told(after)])
