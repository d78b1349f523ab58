"""What a builder types in a shell: every file that can be written so, and what is said where it cannot."""

from __future__ import annotations

import csv
import io
import json
import os
import subprocess
import sys
import tempfile
import zipfile
from pathlib import Path

import numpy as np

from bustle.core.document.file import save_project
from bustle.core.project.project import document
from bustle.core.servo.fitted_servos import servos_at
from bustle.formats.robot_files.mjcf_out import write_mjcf
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.formats.posed import Engine
from tests.long import in_turns
from tests.projects import ROOT, changed, hexapod, quadruped, stands, start
from tests.seeded import SeededTest
from tests.servo.machines import on_boards
from tests.terminal import bustle


class Shell(SeededTest):
    def setUp(self):
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def saved(self, project, name="walker"):
        path = self.folder / f"{name}.bustle.json"
        path.write_bytes(save_project(project))
        return path

    def rows(self, data):
        head, *rows = csv.reader(line for line in io.StringIO(data.decode()) if not line.startswith("#"))
        return head, np.array(rows, dtype=float)


class Typed(Shell):
    def test_the_joint_check_moves_one_servo_after_the_other_and_says_what_is_seen(self):
        project = on_boards(quadruped(), 1)
        path = self.saved(project)
        done = bustle("joint-check", path)
        head, rows = self.rows(done.data)
        self.assertEqual(len(head) - 1, len(servos_at(project)))
        moving = np.abs(np.diff(rows[:, 1:], axis=0)) > 0
        self.assertLessEqual(moving.sum(axis=1).max(), 2)
        seen = [line for line in done.stderr.splitlines() if line.startswith("bustle: ")]
        self.assertEqual(len(seen), len(servos_at(project)))
        one = self.rows(bustle("joint-check", path, "--limb", "FL", "--values", "ticks").data)
        self.assertEqual(len(one[0]) - 1, 3)
        np.testing.assert_array_equal(one[1][:, 1:], np.rint(one[1][:, 1:]))
        self.assertIn("those that have", bustle("joint-check", path, "--limb", "tail", expect=2).stderr)
        loose = self.saved(quadruped(), "loose")
        self.assertIn("take pulses", bustle("joint-check", loose, "--values", "ticks", expect=2).stderr)

    @in_turns
    def test_a_set_from_the_machine_alone_has_the_walks_that_it_has_not(self):
        alone = self.saved(stands("six_sprawled", "Alone", 180.0))
        names = {}
        for flags in ((), ("--fresh",)):
            data = bustle("set", alone, "--anyway", *flags).data
            names[flags] = {Path(n).stem for n in zipfile.ZipFile(io.BytesIO(data)).namelist()}
        self.assertFalse({n for n in names[()] if "orward" in n})
        self.assertTrue({n for n in names["--fresh",] if "orward" in n})

    def test_what_cannot_be_read_or_written_is_one_sentence(self):
        large = self.folder / "large.json"
        large.write_bytes(b" " * 2_100_000)
        taken = self.folder / "taken"
        taken.write_text("a file")
        path = self.saved(hexapod())
        for words, said in (
            (("plan", large, "--motion", "Forward"), "at most 2 MB"),
            (("plan", self.folder / "none.json", "--motion", "Forward"), "no such file"),
            (("sheets", path, "--out", taken / "in"), "not a directory"),
            (("table", path, "--motion", "Gallop"), "Gallop"),
            (("urdf", path, "--out", taken / "in" / "x.urdf"), "not a directory"),
        ):
            with self.subTest(words=words):
                done = bustle(*words, expect=2)
                self.assertEqual(len(done.stderr.strip().splitlines()), 1, done.stderr)
                self.assertTrue(done.stderr.startswith("bustle: "))
                self.assertIn(said, done.stderr)
                self.assertEqual(done.data, b"")

    @in_turns
    def test_a_reader_that_goes_away_is_no_traceback(self):
        """As `bustle plan … | head -1` does it."""
        path = self.saved(hexapod())
        read, write = os.pipe()
        os.close(read)
        try:
            done = subprocess.run(
                [sys.executable, "-m", "bustle.cli", "plan", path, "--motion", "Forward"],
                stdout=write, stderr=subprocess.PIPE, cwd=ROOT, text=True,
            )  # fmt: skip
        finally:
            os.close(write)
        self.assertEqual((done.returncode, done.stderr), (1, ""))


class NotInTheFile(SeededTest):
    """What no robot file holds is said, and what it does hold is there."""

    def test_each_part_that_is_left_out_has_its_sentence(self):
        project = changed(hexapod(), {"servo_types/0/play_deg": 0.0})
        body, leg = project.walker.sections[0].name, project.walker.legs[0].name
        whole = changed(project, {
            "walker/as_built/limbs": [{"limb": leg, "joint_zero_deg": {project.walker.legs[0].joints[0].name: 2.0}}],
            "walker/leads": [{"name": "Lead", "length_mm": 300.0, "path": [{"on": body}, {"on": body}]}],
            "walker/folded": {"box_mm": [300.0, 300.0, 200.0]},
            "walker/drives/0/stiffness_nm_deg": 0.05,
            "servo_types/0/play_deg": 1.0,
        })  # fmt: skip
        for write in (write_urdf, write_mjcf):
            before, after = write(project).lost, write(whole).lost
            more = " ".join(line for line in after if line not in before)
            for words in (f"{leg}: what was measured", "Leads.", "The folded pose.", "how far its horn gives", "Play"):
                self.assertIn(words, more)

    def test_a_servo_stiffer_than_the_file_can_have_gives_as_much_as_it_can(self):
        stiff = changed(quadruped(), {"servo_types/0/full_torque_at_deg": 0.05})
        self.assertTrue([line for line in write_mjcf(stiff).lost if "give less than" in line])
        self.assertFalse([line for line in write_mjcf(quadruped()).lost if "give less than" in line])

    def test_a_ring_that_rubs_holds_in_the_engine(self):
        """The joint of a file with dry friction stays where it is let go; without, its weight turns it."""
        values = document(start("four_upright", "Rubs", 200.0))
        values["walker"]["limbs"][0]["joints"][1]["friction_nm"] = 2.0
        rubbing = changed(start("four_upright", "Rubs", 200.0),
                          {"walker/limbs": values["walker"]["limbs"]})  # fmt: skip
        joint = f"{rubbing.walker.limbs[0].name}/{rubbing.walker.limbs[0].joints[1].name}"
        for project, held in ((rubbing, True), (start("four_upright", "Rubs", 200.0), False)):
            engine = Engine(write_mjcf(project).data)
            at = engine.model.joint(joint)
            loss = float(engine.model.dof_frictionloss[at.dofadr[0]])
            self.assertEqual(loss > 1.9, held)

    def test_a_blade_is_a_box_along_the_way_it_points_and_slides_on_its_runner(self):
        heading = float(self.random.uniform(-60, 60))
        foot = {"sole": {"kind": "edge", "length_mm": 40.0, "heading_deg": heading}}
        project = start("four_upright", "Blades", 200.0)
        project = changed(project, {f"walker/limbs/{n}/feet/0": foot for n in range(4)})
        engine = Engine(write_mjcf(project).data)
        boxes = np.flatnonzero(np.abs(engine.model.geom_size[:, 1] - 0.0005) < 1e-9)
        self.assertEqual(len(boxes), 4)
        # With its legs straight: the file has it fixed to the last link.
        engine.follow()
        for g in boxes:
            np.testing.assert_allclose(sorted(engine.model.geom_size[g] * 2000)[-1], 40.0, atol=1e-6)
            long = engine.data.geom_xmat[g].reshape(3, 3)[:, int(np.argmax(engine.model.geom_size[g]))]
            off = np.degrees(np.arctan2(long[1], long[0])) - heading
            self.assertLess(abs((off + 90) % 180 - 90), 2.0, self.seed)


class OnASlope(Shell):
    def sloping(self, slope=9.0, uphill=60.0, project=None):
        edits = {"floor/slope_deg": slope, "floor/uphill_deg": uphill, "floor/friction": 0.8}
        return changed(project or hexapod(), edits)

    def test_a_plan_has_where_a_plumb_line_falls_and_what_feet_push(self):
        slope = float(self.random.uniform(3, 12))
        path = self.saved(self.sloping(slope, 0.0))
        plan = json.loads(bustle("plan", path, "--motion", "Stand").data)
        samples = plan["samples"]
        slid = np.subtract(samples["plumb_ground_mm"], samples["com_ground_mm"])
        high = plan["figures"]["com_height_mm"]
        np.testing.assert_allclose(slid[:, 0], -high * np.tan(np.radians(slope)), rtol=1e-3)
        np.testing.assert_allclose(slid[:, 1], 0.0, atol=1e-6)
        # Every foot is pushed uphill by the floor, and all together by the weight's part along it.
        pushes = sum(np.array(force)[0] for force in samples["foot_force_n"].values())
        self.assertAlmostEqual(pushes[0] / pushes[2], np.tan(np.radians(slope)), places=4)
        self.assertAlmostEqual(plan["figures"]["grip_needed"], np.tan(np.radians(slope)), places=3)

    def test_robot_files_hold_the_slope_or_say_that_they_do_not(self):
        sloping, level = self.saved(self.sloping(), "sloping"), self.saved(hexapod(), "level")
        said = bustle("urdf", sloping).stderr
        self.assertIn("bustle: not in the file: That the floor slopes", said)
        self.assertNotIn("slopes", bustle("urdf", level).stderr)
        gravity = np.array(
            [float(v) for v in bustle("mjcf", sloping).stdout.split('gravity="')[1].split('"')[0].split()]
        )
        told = np.array([float(v) for v in said.split("where gravity is ")[1].split(" m/s")[0].split()])
        np.testing.assert_allclose(gravity, told, atol=1e-6)
        self.assertEqual(bustle("urdf", sloping).data, bustle("urdf", level).data)

    @in_turns
    def test_a_set_made_for_a_slope_stands_on_it(self):
        path = self.saved(self.sloping(8.0, 90.0, start("two_full", "Climbs", 260.0)))
        with zipfile.ZipFile(io.BytesIO(bustle("set", path, "--fresh").data)) as archive:
            tables = [name for name in archive.namelist() if name.endswith(".csv")]
            self.assertGreaterEqual(len(tables), 7)
            text = b"".join(archive.read(name) for name in tables).decode()
        self.assertNotIn("STOP", text)
        # As it comes, made for the level, most of it would not be written.
        level = bustle("set", path, expect=None)
        with zipfile.ZipFile(io.BytesIO(level.data)) as archive:
            self.assertIn("F53", " ".join(archive.read(name).decode() for name in archive.namelist()))

    def test_a_dry_run_on_a_slope_falls_where_the_table_says_so(self):
        path = self.saved(self.sloping(12.0, 90.0, start("two_full", "Falls", 260.0)))
        said = bustle("dry-run", path, "--motion", "Forward").stdout
        self.assertRegex(said, r"as its sheets say: falls after [\d.]+ s")
        table = bustle("table", path, "--motion", "Forward", "--format", "c").stdout
        self.assertIn("STOP F53: ", table)

    def test_the_first_evening_s_sheets_are_written_whatever_the_floor(self):
        path, out = self.saved(self.sloping()), self.folder / "sheets"
        bustle("sheets", path, "--out", out)
        self.assertGreater(len(list(out.iterdir())), 3)
