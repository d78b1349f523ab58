"""Tables as files, and the command line that writes them: what a servo controller's owner would try."""

from __future__ import annotations

import csv
import io
import json
import re
import shutil
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

import jsonschema
import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.servo.joint_table import joint_table
from bustle.formats import TABLE_FORMATS, write_table
from bustle.formats.json_table import schema
from tests.long import in_turns
from tests.projects import ROOT, changed, demo, hexapod
from tests.terminal import bustle

FENNEL = ROOT / "demo" / "fennel.bustle.json"
SORREL = ROOT / "demo" / "sorrel.bustle.json"


class Tables(unittest.TestCase):
    def test_rows_are_at_the_frame_period_and_close(self):
        plan = evaluate(demo("fennel"), "Forward")
        table = joint_table(plan.reading, 4)
        np.testing.assert_allclose(np.diff(table.time_s), 0.020, atol=1e-12)
        self.assertEqual(len(table.time_s), 60)
        # The step from the last row to the first is like any other step.
        steps = np.abs(np.diff(np.vstack([table.values, table.values[:1]]), axis=0)).max(axis=1)
        self.assertLess(steps[-1], 1.5 * steps.max() + 1e-9)
        again = evaluate(demo("fennel"), "Forward", 60).reading.angles
        np.testing.assert_allclose(np.radians(table.values), again, atol=1e-6)

    def test_a_cycle_that_is_no_whole_number_of_rows_still_closes(self):
        table = joint_table(evaluate(changed(hexapod(), {"motions/0/cycle_s": 1.207}), "Forward").reading)
        self.assertEqual(len(table.time_s), 60)
        self.assertAlmostEqual(table.time_s[-1] + table.time_s[1], 1.207)

    def test_csv_is_what_the_readme_says(self):
        data = write_table(evaluate(demo("sorrel"), "Forward"), "csv", 3).decode()
        rows = list(csv.reader(io.StringIO(data)))
        self.assertEqual(rows[0][:4], ["time_s", "FL.roll_deg", "FL.pitch_deg", "FL.knee_deg"])
        self.assertEqual(len(rows[0]), 13)
        self.assertEqual(len(rows), 151)
        self.assertTrue(all(len(r) == 13 for r in rows))
        self.assertNotIn("#", data)
        angles = np.array([[float(v) for v in r[1:]] for r in rows[1:]])
        wanted = np.degrees(evaluate(demo("sorrel"), "Forward").reading.angles)
        self.assertLess(np.abs(angles - wanted).max(), 0.00051)

    def test_minus_zero_is_never_written(self):
        walk = changed(hexapod(), {"motions/0/twist": {"vx_mm_s": 0.001}, "motions/0/lift_mm": 0.0})
        for decimals in range(5):
            for cell in write_table(evaluate(walk, "Forward"), "csv", decimals).decode().replace("\n", ",").split(","):
                self.assertNotRegex(cell, r"^-0(\.0*)?$")

    def read_as_c(self, data, language="c"):
        """What a program that was compiled with the header prints: row time in µs, and the rows."""
        compiler = shutil.which("cc" if language == "c" else "c++")
        self.assertIsNotNone(compiler, "a compiler is needed for this test")
        big = re.search(r"#define (\w+)_ROWS ", data.decode())[1]
        program = (
            '#include "walk.h"\n#include "walk.h"\n#include <stdio.h>\nint main(void) {\n'
            f'  printf("%d %d %lu\\n", {big}_ROWS, {big}_COLUMNS, {big}_ROW_US);\n'
            f"  for (int r = 0; r < {big}_ROWS; r++) for (int j = 0; j < {big}_COLUMNS; j++)\n"
            f'    printf("%d ", {big}_AT(r, j));\n  return 0;\n}}\n'
        )
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "walk.h").write_bytes(data)
            source = Path(folder) / ("main.c" if language == "c" else "main.cpp")
            source.write_text(program)
            standard = "-std=c99" if language == "c" else "-std=c++17"
            flags = [standard, "-Wall", "-Wextra", "-Werror", "-pedantic", "-o", f"{folder}/a"]
            built = subprocess.run([compiler, *flags, source], capture_output=True, text=True)
            self.assertEqual(built.returncode, 0, built.stderr)
            head, _, body = subprocess.run([f"{folder}/a"], capture_output=True, text=True).stdout.partition("\n")
        rows, columns, row_us = map(int, head.split())
        return row_us, np.array(body.split(), dtype=int).reshape(rows, columns)

    def test_c_header_compiles_and_holds_the_same_angles(self):
        for name, motion in (("fennel", "Turn left"), ("sorrel", "Hose step")):
            plan = evaluate(demo(name), motion)
            for language in ("c", "c++"):
                row_us, tenths = self.read_as_c(write_table(plan, "c", anyway=True), language)
                self.assertEqual(row_us, 20_000)
                self.assertEqual(tenths.shape, plan.reading.angles.shape)
                self.assertLessEqual(np.abs(tenths / 10 - np.degrees(plan.reading.angles)).max(), 0.0501)

    def test_a_long_table_is_in_arrays_of_less_than_32_kb(self):
        plan = evaluate(demo("fennel"), "Aisle round")
        data = write_table(plan, "c", anyway=True)
        sizes = [int(r) * int(c) * 2 for r, c in re.findall(r"int16_t \w+\[(\d+)\]\[(\d+)\]", data.decode())]
        self.assertGreater(len(sizes), 1)
        self.assertLess(max(sizes), 32_768)
        _, tenths = self.read_as_c(data)
        self.assertLessEqual(np.abs(tenths / 10 - np.degrees(plan.reading.angles)).max(), 0.0501)

    def test_python_module_is_read_by_a_bare_interpreter_without_a_list_of_rows(self):
        plan = evaluate(demo("fennel"), "Aisle round")
        with tempfile.TemporaryDirectory() as folder:
            (Path(folder) / "walk.py").write_bytes(write_table(plan, "python", anyway=True))
            (Path(folder) / "play.py").write_text(
                "import sys, tracemalloc\nsys.path.insert(0, sys.argv[1])\nimport walk\n"
                "into = [0] * walk.COLUMNS\ntracemalloc.start()\nsums = [0] * walk.COLUMNS\n"
                "for n in range(walk.ROWS):\n    walk.row(n, into)\n"
                "    for k in range(walk.COLUMNS):\n        sums[k] += into[k]\n"
                "print(tracemalloc.get_traced_memory()[1], len(walk.DATA), walk.ROW_US, *sums)\n"
            )
            done = subprocess.run(
                [sys.executable, "-S", "-I", f"{folder}/play.py", folder], capture_output=True, text=True
            )
        self.assertEqual(done.returncode, 0, done.stderr)
        peak, size, row_us, *sums = map(int, done.stdout.split())
        tenths = np.rint(np.degrees(plan.reading.angles) * 10)
        self.assertEqual((size, row_us), (2 * tenths.size, 20_000))
        self.assertLess(peak, 4096)
        self.assertLess(np.abs(np.array(sums) - tenths.sum(axis=0)).max(), 0.01 * len(tenths) + 2)

    def test_json_holds_to_its_schema(self):
        for values in ("angles", "pulses"):
            plan = evaluate(demo("sorrel"), "Forward")
            told = json.loads(write_table(plan, "json", 4, values=values))
            jsonschema.validate(told, schema())
            if values == "angles":
                off = np.array(told["rows"]) - np.degrees(plan.reading.angles)
                self.assertLess(np.abs(off).max(), 0.000051)
            with self.assertRaises(jsonschema.ValidationError):
                jsonschema.validate({**told, "rows": "none"}, schema())

    def test_writing_twice_gives_the_same_bytes(self):
        for kind in TABLE_FORMATS:
            for values in ("angles", "pulses"):
                one, other = (write_table(evaluate(demo("sorrel"), "Forward"), kind, values=values) for _ in range(2))
                self.assertEqual(one, other)

    def test_no_name_breaks_the_c_header(self):
        project = changed(demo("fennel"), {"name": "*/ 9 ??/ Ünïcode \\", "motions/3/name": "/* gö // */"})
        with tempfile.TemporaryDirectory() as folder:
            header = Path(folder) / "w.h"
            header.write_bytes(write_table(evaluate(project, "/* gö // */"), "c"))
            done = subprocess.run(
                ["cc", "-std=c99", "-Wall", "-Werror", "-Wno-unused", "-fsyntax-only", "-x", "c", str(header)],
                capture_output=True,
                text=True,
            )
            self.assertEqual(done.returncode, 0, done.stderr)


class CommandLine(unittest.TestCase):
    @in_turns
    def test_it_is_installed_as_a_command(self):
        command = Path(sys.executable).parent / "bustle"
        done = subprocess.run([command, "formats"], capture_output=True, text=True, cwd=ROOT)
        self.assertEqual((done.returncode, done.stdout), (0, bustle("formats").stdout), done.stderr)

    def test_plan_json_hangs_together(self):
        plan = json.loads(bustle("plan", SORREL, "--motion", "Forward", "--samples", 90).stdout)
        samples = plan["samples"]
        self.assertEqual(len(samples["time_s"]), 90)
        for leg in ("FL", "FR", "BL", "BR"):
            body = np.array(samples["feet_body_mm"][leg])
            points = np.array(samples["link_points_body_mm"][leg])
            np.testing.assert_allclose(points[:, -1], body)
            links = np.linalg.norm(np.diff(points, axis=1), axis=-1)
            np.testing.assert_allclose(links, np.broadcast_to([34.0, 96.0, 102.0], links.shape), atol=1e-9)
            down = np.array(samples["contact"][leg])
            np.testing.assert_allclose(np.array(samples["feet_ground_mm"][leg])[down][:, 2], 0, atol=1e-6)
            self.assertEqual(set(samples["joints_deg"][leg]), {"roll", "pitch", "knee"})
        self.assertLess(abs(min(samples["margin_mm"]) - plan["figures"]["worst_margin_mm"]), 3.0)
        self.assertEqual([f["code"] for f in plan["findings"] if f["severity"] != "note"], [])
        self.assertTrue(all(len(p) >= 3 for p in samples["support_polygon_ground_mm"]))

    def test_margin_is_null_without_contact(self):
        project = hexapod()
        for n in range(6):
            project = changed(project, {f"motions/0/legs/{n}/phase": 0.0, f"motions/0/legs/{n}/duty": 0.5})
        from bustle.core.document.file import save_project

        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "hop.bustle.json"
            path.write_bytes(save_project(project))
            samples = json.loads(bustle("plan", path, "--motion", "Forward").stdout)["samples"]
        self.assertIn(None, samples["margin_mm"])
        self.assertEqual(samples["support_polygon_ground_mm"][samples["margin_mm"].index(None)], [])

    def test_findings_say_where(self):
        plan = json.loads(bustle("plan", FENNEL, "--motion", "Hurry").stdout)
        first = plan["findings"][0]
        self.assertEqual((first["code"], first["severity"], first["where"]["leg"]), ("F06", "stop", "L1"))

    def test_table_goes_to_standard_output_or_a_file(self):
        out = bustle("table", FENNEL, "--motion", "Forward").stdout
        with tempfile.TemporaryDirectory() as folder:
            target = Path(folder) / "t.csv"
            bustle("table", FENNEL, "--motion", "Forward", "--format", "csv", "--out", target)
            self.assertEqual(target.read_text(), out)

    def test_formats_lists_what_there_is(self):
        names = [line.split("\t")[0] for line in bustle("formats").stdout.splitlines()]
        self.assertEqual(names, list(TABLE_FORMATS))

    def test_what_is_wrong_is_said_in_a_sentence(self):
        with tempfile.TemporaryDirectory() as folder:
            cut = Path(folder) / "cut.bustle.json"
            cut.write_bytes(FENNEL.read_bytes()[:5000])
            for args, words in (
                (("table", FENNEL, "--motion", "Gallop"), "no motion is called 'Gallop'"),
                (("plan", FENNEL, "--motion", "Forward", "--samples", "1"), "samples: must be from 2"),
                (("table", FENNEL, "--motion", "Forward", "--decimals", "9"), "decimals: must be from 0 to 4"),
                (("table", "nowhere.json", "--motion", "Forward"), "no such file"),
                (("table", folder, "--motion", "Forward"), "is a directory"),
                (("table", cut, "--motion", "Forward"), "cut short"),
                (("table", FENNEL, "--motion", "Forward", "--out", f"{folder}/no/such"), "no such file"),
                (("table", FENNEL, "--motion", "Forward", "--format", "wax"), "invalid choice"),
            ):
                with self.subTest(args=args):
                    done = bustle(*args, expect=2)
                    self.assertIn(words, done.stderr)
                    self.assertNotIn("Traceback", done.stderr)
