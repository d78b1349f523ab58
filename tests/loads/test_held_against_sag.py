"""What is sent makes up for what the servos give: by as much as they do, in every format, and not at all where off."""

from __future__ import annotations

import json
import tempfile
from pathlib import Path

import numpy as np

from bustle.core.document.file import save_project
from bustle.core.evaluate import evaluate
from bustle.core.loads.at_its_voltage import at_its_voltage
from bustle.core.loads.held_against_sag import carried_joints, sent_joints, sent_servos
from bustle.core.loads.joint_torques import servo_loads
from bustle.core.project.project import Project
from bustle.core.servo.joint_table import joint_table
from bustle.core.servo.servo_table import table_of
from bustle.formats import write_table
from bustle.formats.plan_json import plan_values
from tests.projects import changed, hexapod, quadruped
from tests.seeded import SeededTest
from tests.servo.machines import on_boards
from tests.terminal import bustle


def held(project: Project, how: str) -> Project:
    return changed(project, {"against_sag": how})


class Held(SeededTest):
    def test_off_changes_nothing_at_all(self):
        for project in (hexapod(), quadruped()):
            plain, off = (evaluate(p, "Forward") for p in (project, held(project, "off")))
            self.assertIs(off.reading.of(sent_joints), off.reading.angles)
            for kind in ("csv", "c", "python", "json"):
                self.assertEqual(write_table(plain, kind), write_table(off, kind))

    def test_static_sends_what_gravity_takes_and_is_carried_back_by_it(self):
        r = evaluate(held(quadruped(), "static"), "Forward").reading
        loads = r.of(servo_loads)
        ahead = np.degrees(r.of(sent_servos) - r.kit.servo_angles(r.angles))
        np.testing.assert_allclose(
            ahead, loads.held_nm / r.of(at_its_voltage).stall_nm * np.degrees(r.kit.full_torque_at)
        )
        self.assertGreater(np.abs(ahead).max(), 0.3)
        # Direct drives: what is carried is planned, but for what the motion adds to gravity.
        off = np.degrees(np.abs(r.of(carried_joints) - r.angles)).max()
        moving = np.abs(loads.load_deg - loads.give_deg).max()
        self.assertAlmostEqual(off, moving, places=9)
        standing = evaluate(held(quadruped(), "static"), "Stand").reading
        np.testing.assert_allclose(standing.of(carried_joints), standing.angles, atol=1e-9)

    def test_a_sprung_horn_gives_besides_its_servo(self):
        plain = evaluate(held(quadruped(), "static"), "Stand").reading
        sprung = evaluate(
            changed(held(quadruped(), "static"), {"walker/drives/2/stiffness_nm_deg": 0.05}), "Stand"
        ).reading
        servo = next(
            n for n, s in enumerate(plain.kit.servos) if s.name == plain.project.walker.drives[2].servos[0].name
        )
        more = (sprung.of(servo_loads).give_deg - plain.of(servo_loads).give_deg)[:, servo]
        # The feet share the weight by what gives: a leg that gives more carries less.
        np.testing.assert_allclose(
            sprung.of(servo_loads).give_deg[:, servo],
            sprung.of(servo_loads).held_nm[:, servo]
            * (np.degrees(plain.kit.full_torque_at[servo]) / plain.of(at_its_voltage).stall_nm[servo] + 1 / 0.05),
        )
        self.assertGreater(np.abs(more).max(), 0.1)
        self.assertLess(np.abs(sprung.of(carried_joints) - sprung.angles).max(), 1e-9)

    def test_full_sends_the_lag_too(self):
        r = evaluate(held(hexapod(), "full"), "Forward").reading
        ahead = np.degrees(r.of(sent_servos) - r.kit.servo_angles(r.angles))
        np.testing.assert_allclose(ahead, r.of(servo_loads).lag_deg)

    def test_tables_pulses_and_judgements_are_of_what_is_sent(self):
        project = on_boards(held(quadruped(), "static"), 1)
        r = evaluate(project, "Forward").reading
        table = joint_table(r, 4)
        np.testing.assert_allclose(table.values, np.degrees(r.of(sent_joints)), atol=5.1e-5)
        told = table_of(r, "pulses").values
        plain = table_of(evaluate(held(project, "off"), "Forward").reading, "pulses").values
        give = r.of(servo_loads).give_deg
        np.testing.assert_allclose(np.abs(told - plain), np.abs(give) * 10, atol=0.11)
        # An end stop that the plan keeps just within is passed by what is sent.
        planned, sent = (
            np.degrees(evaluate(held(project, "off"), "Forward").reading.angles),
            np.degrees(r.of(sent_joints)),
        )
        past = np.maximum(sent.max(axis=0) - planned.max(axis=0), planned.min(axis=0) - sent.min(axis=0))
        column = int(np.argmax(past))
        self.assertGreater(past[column], 0.05)
        joint = r.kit.joints[column]
        ends = planned[:, column].min() - 0.02, planned[:, column].max() + 0.02
        limb = next(i for i, m in enumerate(project.walker.limbs) if m.name == joint.limb.name)
        at = [j.name for j in joint.limb.joints].index(joint.name)
        path = f"walker/limbs/{limb}/joints/{at}"
        tight = {f"{path}/min_deg": float(ends[0]), f"{path}/max_deg": float(ends[1]), "limits/end_stop_deg": 0.0}
        for how, stops in (("off", False), ("static", True)):
            found = [f for f in evaluate(changed(held(project, how), tight), "Forward").findings
                     if f.code == "F15" and f.severity == "stop" and joint.limb.name in f.message]  # fmt: skip
            self.assertEqual(bool(found), stops, how)

    def test_every_file_says_so_in_its_first_lines(self):
        plan = evaluate(held(hexapod(), "static"), "Forward")
        words = "held against sag: static, give 5° assumed"
        for kind in ("c", "python"):
            self.assertIn(words.replace("°", " deg"), write_table(plan, kind).decode().splitlines()[0])
        self.assertIn(words, json.loads(write_table(plan, "json"))["assumed"])
        self.assertIn(words, write_table(plan, "csv", facts=True).decode())
        samples = plan_values(plan)["samples"]
        self.assertNotEqual(samples["sent_deg"], samples["joints_deg"])
        self.assertEqual(sorted(samples["foot_force_n"]), sorted(m.name for m in hexapod().walker.limbs))

    def test_from_the_terminal(self):
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "six.bustle.json"
            path.write_bytes(save_project(hexapod()))
            command = ("table", path, "--motion", "Forward")
            plain, off, static = (bustle(*command, *more).stdout for more in
                                  ((), ("--against-sag", "off"), ("--against-sag", "static")))  # fmt: skip
        self.assertEqual(plain, off)
        self.assertNotEqual(plain, static)
        self.assertEqual(static.encode(), write_table(evaluate(held(hexapod(), "static"), "Forward"), "csv"))
