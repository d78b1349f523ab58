"""Servo types as CSV: what is written is read back, what is wrong is named by line and column."""

from __future__ import annotations

import unittest

from bustle.core.words.problems import InputRefused
from bustle.formats.servo_types_csv import read_servo_types, write_servo_types
from tests.projects import changed, demo, hexapod
from tests.web.test_api import ApiTest


class ServoTypes(unittest.TestCase):
    def test_written_and_read_back_they_are_the_same(self):
        at = [{"volts": 7.4, "stall_torque_nm": 2.1, "no_load_speed_deg_s": 420.0}]
        odd = {"servo_types/0/at": at, "servo_types/0/reads_back": True, "servo_types/0/counts_per_turn": 1024}
        for project in (demo("fennel"), demo("sorrel"), changed(hexapod(), odd)):
            self.assertEqual(tuple(read_servo_types(write_servo_types(project.servo_types))), project.servo_types)

    def test_what_is_wrong_is_named_by_line_and_column(self):
        head = "name,mass_g,stall_torque_nm,no_load_speed_deg_s,rated_v,travel_deg\n"
        for data, words in (
            (b"\xff\xfe", "not UTF-8"),
            (b"", "must name the columns"),
            (b"mass_g\n1\n", "must name the columns"),
            (b"name,colour\nA,red\n", "colour: is no column"),
            (head.encode(), "0 servo types"),
            ((head + "A,heavy,1,300,6,180\n").encode(), "line 2, mass_g: must be a number"),
            ((head + "A,40,1,300,6,180\nB,40,-1,300,6,180\n").encode(), "line 3, stall_torque_nm"),
            ((head + "A,40,1,300,6,\n").encode(), "line 2, travel_deg: is missing"),
            ((head.strip() + ",at\nA,40,1,300,6,180,strong\n").encode(), "must read like"),
            (b"name\n" + b"A\n" * 50, "50 servo types"),
            (b"x" * 300_000, "larger than"),
        ):
            with self.subTest(words=words), self.assertRaisesRegex(InputRefused, words):
                read_servo_types(data)


class AtTheDoor(ApiTest):
    def test_types_go_out_and_come_in(self):
        walker = self.create()["id"]
        data = self.web.get(f"/api/walkers/{walker}/servo-types").data
        found = self.web.post("/api/servo-types", data=data, content_type="text/csv").json
        self.assertEqual([t["name"] for t in found["servo_types"]], [s.name for s in hexapod().servo_types])
        self.assert_problem(
            self.web.post("/api/servo-types", data=b"name\n\n", content_type="text/csv"), 422, "0 servo"
        )
