"""From a joint angle to a tick and back, for every drive, board and kind of servo; what is assumed is said."""

from __future__ import annotations

import io
import json
import zipfile

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.export_error import export_errors
from bustle.core.judge.playing import CannotBePlayed
from bustle.core.kinds.drives import DRIVES
from bustle.core.loads.held_against_sag import commanded
from bustle.core.machine.kit import kit_of
from bustle.core.project.project import document
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.servo.pulses import pulse_map
from bustle.core.servo.servo_angles import servo_angles
from bustle.core.servo.servo_limits import servo_limits
from bustle.core.servo.servo_table import table_of
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.formats import TABLE_FORMATS, write_table
from bustle.formats.set_zip import write_set
from tests.long import is_long, share
from tests.projects import changed, hexapod, start, telescoping
from tests.seeded import SeededTest
from tests.servo.machines import on_boards


class RoundTrip(SeededTest):
    def bent(self, project):
        """Every servo with a middle, a direction, a slope, a tooth and a trim of its own."""
        values = document(project)
        for n, item in enumerate(values["electrics"]["items"]):
            item["centre"] = float(self.random.uniform(1420, 1580))
            item["direction"] = int(self.random.choice([-1, 1]))
            item["us_per_deg"] = float(self.random.uniform(8, 11))
            entry = {"place": item["place"], "tooth_left_deg": float(self.random.uniform(-4, 4))}
            values["electrics"]["fitted"].append({**entry, "trim_deg": float(self.random.uniform(-2, 2))})
            if n % 2:
                values["electrics"]["boards"][0]["oscillator_off_pct"] = float(self.random.uniform(-3, 3))
        return parse_project(values)

    @is_long
    def test_joint_to_tick_to_joint_for_every_starting_shape(self):
        for shape in share(self.random, list(SHAPES), 6):
            project = self.bent(on_boards(start(shape, "Trip", 180.0), 3))
            r = evaluate(project, project.motions[0].name).reading
            pulses, kit = pulse_map(project), kit_of(project)
            servos = r.of(servo_angles)
            sent = pulses.sent(pulses.told(servos))
            self.assertTrue((sent == np.rint(sent)).all())
            back = pulses.horn_rad(pulses.arrives(sent))
            step = np.degrees(np.abs(back - servos)).max(axis=0)
            # Half a tick, and no more.
            self.assertTrue((step <= 0.5 / pulses.ticks_per_us / np.abs(pulses.per_deg) + 1e-9).all(), shape)
            start_at = 0
            joints = r.of(commanded)
            for gearing in kit.gearings:
                count = gearing.centres.size
                angles = servos[:, start_at : start_at + count].reshape(len(servos), *gearing.centres.shape)
                if gearing.turns_slides or not kit.slides[gearing.columns].any():
                    with self.subTest(shape=shape, drive=gearing.kind, seed=self.seed):
                        np.testing.assert_allclose(gearing.to_joints(angles), joints[:, gearing.columns], atol=1e-6)
                start_at += count

    def test_every_kind_of_drive_carries_an_angle_there_and_back(self):
        for kind in DRIVES.values():
            settings = np.array([[s.default for s in kind.settings]])
            centres = np.zeros((1, kind.servos))
            servos = np.radians(self.random.uniform(-20, 20, (40, 1, kind.servos)))
            if kind.servos > kind.joints:
                servos[...] = servos[..., :1]
            joints = kind.to_joints(servos, centres, settings)
            np.testing.assert_allclose(kind.to_servos(joints, centres, settings), servos, atol=1e-9, err_msg=kind.name)

    def test_counts_of_a_bus_are_whole_and_have_no_tick(self):
        values = document(hexapod())
        values["servo_types"][0] |= {"signal": "bus", "counts_per_turn": 4096, "middle_count": 2048}
        values["electrics"]["boards"] = [{"name": "Bus", "kind": "bus", "channels": 40}]
        from bustle.core.servo.calibration import numbered
        from bustle.core.servo.channel_map import wired_in_order

        project = wired_in_order(numbered(parse_project(values)), "side")
        table = table_of(evaluate(project, "Forward").reading, "ticks")
        self.assertEqual(set(table.units), {"count"})
        self.assertEqual(min(w.channel for b in project.electrics.boards for w in b.wires), 1)
        angles = np.degrees(evaluate(project, "Forward").reading.of(servo_angles)[: len(table.values)])
        np.testing.assert_allclose(table.values, np.rint(2048 + angles * 4096 / 360), atol=1e-9)

    def test_a_slide_on_a_rack_has_a_column_of_pulses_and_one_pushed_straight_has_none(self):
        r = evaluate(on_boards(telescoping("rack"), 2), "Forward").reading
        table = table_of(r, "pulses")
        self.assertEqual(len(table.columns), 18)
        slide = r.angles[:, r.kit.column_of["L1/reach"]]
        # 200 mm a turn about a middle of 45 mm, 10 µs a degree.
        told = 1500 + 10 * (slide - 45.0) * 360 / 200
        np.testing.assert_allclose(table.values[:, table.columns.index("L1.reach")], told, atol=0.051)
        straight = table_of(evaluate(on_boards(telescoping(), 2), "Forward").reading, "pulses")
        self.assertEqual(len(straight.columns), 12)
        self.assertIn("L1/reach: slides, and is in no column", straight.geared[0])
        short = [f for f in evaluate(changed(telescoping("rack"), {"walker/drives/2/settings/mm_per_turn": 40.0}),
                                     "Forward").findings if f.code == "F15"]  # fmt: skip
        self.assertIn("L1", short[0].message)
        with self.assertRaises(InputRefused) as caught:
            changed(hexapod(), {"walker/drives/0/kind": "rack"})
        self.assertIn("a rack drive moves a slide, and L1/yaw turns", str(caught.exception))

    def test_the_limits_written_into_a_bus_are_the_joints_end_stops(self):
        values = document(hexapod())
        values["servo_types"][0] |= {"signal": "bus", "counts_per_turn": 4096, "middle_count": 2048}
        project = parse_project(values)
        joints = {f"{m.name}/{j.name}": j for m in project.walker.limbs for j in m.joints}
        for servo, (low, high) in zip(servos_at(project), servo_limits(project).tolist(), strict=True):
            joint = joints[servo.joint]
            drive = next(d for d in project.walker.drives if servo.joint in d.joints)
            half = 4096 / 360 * servo.sheet.travel_deg / 2
            for told, stop in ((low, joint.min_deg), (high, joint.max_deg)):
                at = 4096 / 360 * (stop - drive.servos[0].centre_deg)
                self.assertAlmostEqual(told, 2048 + max(-half, min(half, at)), places=6)

    def test_the_prescaler_is_whole_and_the_oscillators_error_is_taken_off(self):
        """The numbers of a 12-bit board by hand: 25 MHz at 50 Hz gives a prescaler of 121."""
        project = changed(on_boards(hexapod(), 2), {"electrics/boards/0/oscillator_off_pct": 3.0})
        table = table_of(evaluate(project, "Stand").reading, "ticks")
        servo = servos_at(project)[0]
        angle = np.degrees(evaluate(project, "Stand").reading.of(servo_angles)[0, 0])
        real_hz = 25e6 * 1.03 / (4096 * 122)
        self.assertEqual(table.values[0, 0], round((1500 + 10 * angle) * 4096 * real_hz / 1e6))
        # 3 % that nobody knew of would have been 4.5° of a 10 µs servo.
        self.assertAlmostEqual(1500 * 0.03 / servo.per_deg, 4.5)

    def test_plan_json_tells_what_each_servo_is_sent(self):
        from bustle.formats.plan_json import plan_values

        project = on_boards(hexapod(), 2)
        values = json.loads(json.dumps(plan_values(evaluate(project, "Forward"))))
        self.assertEqual(len(values["samples"]["tick"]), 18)
        first = servos_at(project)[0].place
        self.assertEqual(len(values["samples"]["servo_us"][first]), len(values["samples"]["time_s"]))
        self.assertGreater(values["figures"]["export_error_mm"], 0.0)


class Export(SeededTest):
    def test_pulses_from_end_to_end_tell_the_slope_where_the_sheet_says_no_other(self):
        """500 to 2500 µs over 270° are 7.4 µs to a degree, not 10."""
        ends = {
            "servo_types/0/pulse_low_us": 500.0,
            "servo_types/0/pulse_high_us": 2500.0,
            "servo_types/0/travel_deg": 270.0,
        }
        for servo in servos_at(changed(on_boards(hexapod(), 2), ends)):
            self.assertAlmostEqual(servo.per_deg, 2000 / 270)
            self.assertIn("its µs per degree, by its sheet", list(servo.assumed()))

    def test_a_set_is_written_in_ticks_too(self):
        project = on_boards(hexapod(), 2)
        data, _ = write_set(project, TABLE_FORMATS["csv"], values="ticks")
        archive = zipfile.ZipFile(io.BytesIO(data))
        self.assertEqual(json.loads(archive.read("set.json"))["values"], "ticks")
        for name in archive.namelist():
            if name.endswith(".csv"):
                self.assertIn("_tick", archive.read(name).decode().splitlines()[0])

    def test_ticks_without_a_board_are_refused_by_name(self):
        with self.assertRaisesRegex(InputRefused, "ticks need a pulse board, and L1"):
            table_of(evaluate(hexapod(), "Forward").reading, "ticks")

    def test_what_is_assumed_stands_in_every_file_until_it_is_measured(self):
        project = on_boards(hexapod(), 2)
        for kind in ("csv", "json", "c", "python"):
            data = write_table(evaluate(project, "Forward"), kind, facts=True, values="pulses").decode()
            self.assertIn("assumed of every servo: 10 ", data, kind)
        values = document(project)
        for item in values["electrics"]["items"]:
            item["centre"], item["us_per_deg"] = 1500.0, 10.0
        known = evaluate(parse_project(values), "Forward")
        self.assertNotIn("us per degree", write_table(known, "c", values="pulses").decode())
        one, other = (evaluate(p, "Forward").reading.of(export_errors) for p in (project, parse_project(values)))
        self.assertGreater(one["assumed µs per degree"], 1.0)
        self.assertEqual(other["assumed µs per degree"], 0.0)

    def test_a_pulse_past_what_a_servo_takes_cannot_be_played_and_can_be_cut(self):
        values = document(on_boards(hexapod(), 2))
        values["electrics"]["items"][1]["centre"] = 2250.0
        values["servo_types"][0] |= {"pulse_low_us": 700.0, "pulse_high_us": 2300.0}
        plan = evaluate(parse_project(values), "Forward")
        place = values["electrics"]["items"][1]["place"]
        self.assertIn("F15", {f.code for f in plan.findings if f.severity == "stop" and place in f.message})
        with self.assertRaises(CannotBePlayed):
            write_table(plan, "csv", values="pulses")
        cut = write_table(plan, "csv", values="pulses", cut=True, facts=True).decode()
        self.assertRegex(cut, f"# Cut: {place} is held at its limit in \\d+ rows, from row \\d+ at")
        rows = np.array([[float(v) for v in line.split(",")[1:]] for line in cut.splitlines()[1:] if line[0] != "#"])
        self.assertLessEqual(rows.max(), 2300.0)
        whole = write_table(plan, "csv", values="pulses", anyway=True).decode()
        self.assertGreater(max(float(v) for line in whole.splitlines()[1:] for v in line.split(",")[1:]), 2300.0)
