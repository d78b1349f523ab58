"""A table knows whether it repeats; the core refuses what is asked wrongly; centred is centred."""

from __future__ import annotations

import re
import unittest

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.kinds.drives import DRIVES
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from bustle.core.servo.joint_table import joint_table
from bustle.core.servo.power_on_order import soft_start
from bustle.core.servo.servo_angles import servo_angles
from bustle.core.words.problems import InputRefused
from bustle.formats import TABLE_FORMATS, write_table
from tests.long import in_turns
from tests.projects import changed, demo, hexapod, quadruped


class Repeats(unittest.TestCase):
    @in_turns
    def test_a_motion_with_an_end_says_so_in_c(self):
        project = demo("fennel")
        for motion in project.motions:
            plan = evaluate(project, motion.name)
            text = write_table(plan, "c").decode()
            table = joint_table(plan.reading)
            repeats = plan.reading.score.periodic
            self.assertEqual(int(re.search(r"_REPEATS (\d)", text)[1]), int(repeats))
            self.assertEqual("After the last row comes the first again" in text, repeats, motion.name)
            row_us = int(re.search(r"_ROW_US (\d+)UL", text)[1])
            self.assertEqual(row_us, round((table.time_s[1] - table.time_s[0]) * 1e6), motion.name)

    def test_the_last_row_of_a_motion_with_an_end_is_its_end(self):
        plan = evaluate(demo("fennel"), "Aisle round")
        table = joint_table(plan.reading)
        self.assertFalse(table.repeats)
        self.assertAlmostEqual(table.time_s[-1], plan.reading.score.duration_s, places=9)


class Refusals(unittest.TestCase):
    """What is asked wrongly is an InputRefused with a field; anything else that is raised is a fault."""

    def test_of_the_core(self):
        project = hexapod()
        plan = evaluate(project, "Forward")
        for asked in (
            lambda: project.motion("Nowhere"),
            lambda: evaluate(project, "Nowhere"),
            lambda: evaluate(project, "Forward", 1),
            lambda: evaluate(project, "Forward", 10**9),
            lambda: joint_table(plan.reading, 9),
            lambda: write_table(plan, "papyrus"),
            lambda: remedies(project, "Nowhere", plan.findings[0] if plan.findings else None),
            lambda: soft_start(changed(project, {"motions": []})),
        ):
            with self.assertRaises(InputRefused) as caught:
                asked()
            self.assertTrue(caught.exception.problems[0].path)

    def test_a_header_that_cannot_hold_an_angle_says_which_motion(self):
        project = hexapod()
        values = document(project)
        for limb in values["walker"]["limbs"]:
            limb["joints"][0] = {"name": "yaw", "kind": "hinge", "min_deg": -60.0, "max_deg": 60.0}
        arm = {
            "name": "rail", "family": "serial", "branch": "as_near_as_it_gets",
            "mount": {"at_mm": [0.0, 0.0, 40.0]}, "feet": [],
            "joints": [{"name": "slide", "kind": "slide", "min_mm": 0.0, "max_mm": 2000.0, "axis": [0.0, 0.0, 1.0]}],
            "links": [{"name": "mast", "length_mm": 10.0, "offset_mm": [0.0, 0.0, 10.0]}],
        }  # fmt: skip
        values["walker"]["limbs"].append(arm)
        servo = {"name": "rail", "type": values["servo_types"][0]["name"]}
        values["walker"]["drives"].append({"joints": ["rail/slide"], "servos": [servo]})
        values["motions"] = [{"kind": "joint_pose", "name": "Up", "joints": []}]
        values["motions"][0]["joints"] = [{"limb": "rail", "joint": "slide", "value": 1999.0}]
        plan = evaluate(parse_project(values), "Up")
        self.assertTrue(write_table(plan, "c"))
        wild = np.full((2, 1), 3277.0)
        table = joint_table(plan.reading)
        with self.assertRaises(InputRefused) as caught:
            TABLE_FORMATS["c"].write(type(table)(**{**vars(table), "values": wild}))
        self.assertIn("Up", str(caught.exception))


class Centred(unittest.TestCase):
    """In a pose that names no joint every servo stands at its centre, whatever drives the joint."""

    def test_with_every_drive_there_is(self):
        # What moves slides has no place on this machine's hinges.
        for kind in (k for k in DRIVES.values() if not k.turns_slides):
            with self.subTest(drive=kind.name):
                self.assertLess(self.off_centre(kind), 1e-6)

    def off_centre(self, kind):
        values = document(quadruped())
        walker, sheet = values["walker"], values["servo_types"][0]["name"]
        for limb in walker["limbs"]:
            for joint in limb["joints"]:
                joint["min_deg"], joint["max_deg"] = -170.0, 170.0
        walker["drives"] = []
        for limb in walker["limbs"]:
            paths = [f"{limb['name']}/{j['name']}" for j in limb["joints"]]
            own = [paths[0]], paths[1:] if kind.joints == 2 else [paths[1]], [] if kind.joints == 2 else [paths[2]]
            for joints in (j for j in own if j):
                special = len(joints) == kind.joints and joints != [paths[0]]
                count = kind.servos if special else 1
                servos = [{"name": f"{joints[0]} {n}", "type": sheet, "centre_deg": 12.0 + 5 * n} for n in range(count)]
                drive = {"joints": joints, "servos": servos}
                walker["drives"].append({**drive, "kind": kind.name} if special else drive)
        values["motions"].append({"kind": "joint_pose", "name": "Centred", "joints": []})
        reading = evaluate(parse_project(values), "Centred").reading
        return float(np.abs(reading.of(servo_angles)).max())
