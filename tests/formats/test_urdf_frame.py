"""Where anybody's URDF is: its frame, wherever the root lies, what hangs within it, every joint and every foot."""

from __future__ import annotations

import json

import numpy as np
import pinocchio

from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.servo.joint_table import joint_table
from bustle.formats.robot_files.urdf_in import read_urdf
from bustle.web.said.motion_shapes import ProjectDraft
from bustle.web.work import start_over
from tests.formats.anybodys import Anybodys
from tests.formats.bipeds import Biped
from tests.formats.test_urdf import Independent
from tests.long import in_turns, is_long, share
from tests.projects import changed
from tests.seeded import SeededTest


class FramesRead(Anybodys, SeededTest):
    BOX = "<collision><origin xyz='{at}' rpy='{turn}'/><geometry>{shape}</geometry></collision>"

    def read(self, root, more=""):
        return read_urdf(f"<robot name='r'>{root}{self.four_legs()}{more}</robot>".encode())

    def trunk(self, shape="<box size='0.2 0.1 0.05'/>", at="0 0 0", turn="0 0 0", name="trunk"):
        touch = self.BOX.format(at=at, turn=turn, shape=shape) if shape else ""
        return f"<link name='{name}'><inertial><mass value='0.6'/>{self.ROUND}</inertial>{touch}</link>"

    def test_where_the_root_lies_changes_nothing(self):
        """All that hangs on it moved by as much the other way: the same machine, on the same feet."""
        plain = self.read(self.trunk())
        by = self.random.uniform(-0.3, 0.3, 3)
        moved = f"<robot name='r'>{self.trunk(at=' '.join(map(str, by)))}{self.four_legs()}</robot>"
        moved = moved.replace("<mass value='0.6'/>", f"<origin xyz='{by[0]} {by[1]} {by[2]}'/><mass value='0.6'/>")
        for ahead, side in ((0.08, 0.05), (0.08, -0.05), (-0.08, 0.05), (-0.08, -0.05)):
            there = f"{ahead + by[0]} {side + by[1]} {by[2]}"
            self.assertIn(f"xyz='{ahead} {side} 0'", moved)
            moved = moved.replace(f"xyz='{ahead} {side} 0'", f"xyz='{there}'")
        self.assertAlike(document(read_urdf(moved.encode()).project), document(plain.project))

    def assertAlike(self, one, other, where=""):  # noqa: N802
        if isinstance(one, dict):
            self.assertEqual(one.keys(), other.keys(), where)
            for key in one:
                self.assertAlike(one[key], other[key], f"{where}/{key}")
        elif isinstance(one, list):
            self.assertEqual(len(one), len(other), where)
            for n, pair in enumerate(zip(one, other, strict=True)):
                self.assertAlike(*pair, f"{where}/{n}")
        elif isinstance(one, float):
            self.assertAlmostEqual(one, other, 5, f"{where} {self.seed}")
        else:
            self.assertEqual(one, other, where)

    def test_it_is_the_largest_of_what_is_fixed_together_as_it_lies(self):
        """On a link of its own, turned, lying, round, and beside a smaller part."""
        fixed = (
            "<joint name='held' type='fixed'><parent link='trunk'/><child link='hull'/><origin xyz='0 0 0.03'"
            " rpy='0 0 1.5707963267948966'/></joint>"
        )
        cases = [
            (self.trunk(None) + self.trunk(name="hull") + fixed, [100.0, 200.0, 50.0], "box", 30.0),
            (self.trunk("<box size='0.05 0.1 0.2'/>", turn="0 1.5707963267948966 0"), [200.0, 100.0, 50.0], "box", 0.0),
            (self.trunk("<cylinder radius='0.07' length='0.04'/>", "0 0 -0.01"), [140.0, 140.0, 40.0], "round", -10.0),
            (
                self.trunk("<cylinder radius='0.03' length='0.2'/>", turn="0 1.5707963267948966 0"),
                [200.0, 60.0, 60.0], "box", 0.0,
            ),
            (
                self.trunk() + self.trunk("<box size='0.03 0.03 0.02'/>", name="hull") + fixed,
                [200.0, 100.0, 50.0], "box", 0.0,
            ),
        ]  # fmt: skip
        for text, size, shape, up in cases:
            project = self.read(text).project
            section = project.walker.sections[0]
            with self.subTest(text=text):
                np.testing.assert_allclose(section.size_mm, size, atol=1e-6)
                self.assertEqual(section.shape, shape)
                heights = {round(limb.mount.at_mm[2], 6) for limb in project.walker.limbs}
                self.assertEqual(heights, {-up})

    def test_what_shows_nothing_is_as_large_as_its_legs_hang_apart_and_that_is_said(self):
        read = self.read(self.trunk(None))
        (line,) = [line for line in read.unused if line.startswith("how large the frame is")]
        long, wide, tall = read.project.walker.sections[0].size_mm
        np.testing.assert_allclose([long, wide], [160.0, 100.0], atol=1e-6)
        self.assertIn(f"{long:g} × {wide:g} × {tall:g} mm", line)
        # It lies on where they hang, out of the way of what hangs down.
        for limb in read.project.walker.limbs:
            self.assertAlmostEqual(limb.mount.at_mm[2], -tall / 2, places=6)
        self.assertFalse(evaluate(read.project, "Stand").findings_among(("F16",)))
        self.assertFalse([line for line in self.read(self.trunk()).unused if "frame" in line])


class BeginsWithin(Anybodys, SeededTest):
    def found(self, height):
        """Legs whose hips hang 20 mm under the root's middle, in a trunk so many mm high."""
        trunk = self.TRUNK.replace("0.2 0.1 0.05", f"0.2 0.14 {height / 1000}")
        legs = self.four_legs().replace("ACROSS 0", "ACROSS -0.02")
        for side in (0.05, -0.05):
            legs = legs.replace(f"{side} 0'/><axis xyz='1 0 0'", f"{side} -0.02'/><axis xyz='1 0 0'")
        # The thigh hangs a little below its hip.
        legs = legs.replace("<origin xyz='0 0 0'/><axis xyz='0 1 0'", "<origin xyz='0 0 -0.012'/><axis xyz='0 1 0'")
        project = read_urdf(f"<robot name='r'>{trunk}{legs}</robot>".encode()).project
        return evaluate(project, "Stand").findings_among(("F16",))

    def test_what_comes_out_of_the_frame_needs_an_opening_and_what_hangs_below_none(self):
        (found,) = self.found(90.0)
        self.assertEqual((found.severity, found.title), ("warn", "Begins within the frame"))
        # 45 mm down to the underside, 32 of them to where the thigh begins.
        self.assertAlmostEqual(found.value, -13.0, places=6)
        self.assertIn("13 mm within body, as 3 more do", found.message)
        self.assertEqual(self.found(46.0), ())


class AsTheFile(Anybodys, SeededTest):
    """What was read stands where an independent library puts the file, by the values that its own table has."""

    ORDERS = (
        ("1 0 0", "0 1 0", "0 1 0"),
        ("0 0 1", "0 1 0", "0 1 0"),
        ("0 1 0", "0 1 0"),
        ("0 0 1", "1 0 0", "0 1 0", "0 1 0", "0 1 0"),
        ("1 0 0", "0 1 0", "0 1 0", "0 1 0"),
    )

    def legs(self, order, hip, aside):
        """On the corners, each joint turning whichever way, with a hip that is off its first axis."""
        text = ""
        for n, (ahead, side) in enumerate(((0.08, 1), (0.08, -1), (-0.08, 1), (-0.08, -1))):
            offsets = [(ahead, side * 0.05, 0.0)]
            offsets += [(hip[0], side * (hip[1] + aside), hip[2])] + [(0.0, 0.0, -0.08)] * (len(order) - 2)
            ways = self.random.choice([-1, 1], len(order))
            links = []
            for axis, way, offset in zip(order, ways, offsets, strict=True):
                turned = [way * float(v) for v in axis.split()]
                links.append((" ".join(map(str, turned)), " ".join(map(str, offset))))
            text += self.limb(f"leg{n}", side * 0.05, links, self.BALL)
        return text

    @is_long
    def test_every_joint_and_foot_is_where_the_file_has_it(self):
        for order in share(self.random, self.ORDERS, 2):
            hip, aside = self.random.uniform(-0.02, 0.02, 3), float(self.random.choice([0.0, 0.03]))
            hip = hip * self.random.choice([0.0, 1.0], 3)
            data = f"<robot name='r'>{self.TRUNK}{self.legs(order, hip, aside)}</robot>".encode()
            project = read_urdf(data).project
            with self.subTest(order=order, hip=hip, aside=aside, seed=self.seed):
                self.agree(Independent(data), evaluate(project, "Stand", 4).reading, len(order))

    def agree(self, other, r, joints):
        table = joint_table(r, 4)
        q = pinocchio.neutral(other.model)
        for n, column in enumerate(table.columns):
            at = other.model.getJointId(column)
            q[other.model.idx_qs[at]] = np.radians(table.values[0, n])
        pinocchio.forwardKinematics(other.model, other.data, q)
        for i, limb in enumerate(r.project.walker.limbs):
            last = other.data.oMi[other.model.getJointId(f"{limb.name}_{joints - 1}_joint")]
            points = r.course.solved.points[i][0]
            np.testing.assert_allclose(last.translation * 1000, points[-2], atol=1e-3)
            np.testing.assert_allclose(last.act(np.array([0.0, 0.0, -0.12])) * 1000, points[-1], atol=1e-3)


class ToldOnce(SeededTest):
    @in_turns
    def test_what_is_of_the_machine_is_told_in_full_where_it_stands(self):
        """A robot whose hips begin in its torso: each of its walks is marked, and Stand says why."""
        # Whose hip axes do not meet: else its thigh is what hangs on the frame.
        drawn = (Biped(self.random) for _ in range(50))
        biped = next(b for b in drawn if np.linalg.norm(b.hang[0]) > 0.004)
        came = read_urdf(biped.file.encode()).project
        long, wide, tall = came.walker.sections[0].size_mm
        # Down over its hips, and out.
        large = [long + 400 * biped.leg, wide + 400 * biped.leg, tall + 2000 * (0.1 * biped.leg + 0.04)]
        within = changed(came, {"walker/sections/0/size_mm": large})
        found = json.loads(start_over(ProjectDraft(project=within), lambda *_: None))
        rows = {row["name"]: row for row in found["made"]}
        self.assertIn("begins", rows["Stand"]["against"])
        for name in ("Forward", "Back", "Start", "Stop"):
            with self.subTest(name, hip=biped.hip, leg=biped.leg, seed=self.seed):
                self.assertEqual(rows[name]["severity"], "warn")
                # Or what it has of its own.
                self.assertNotIn("begins", rows[name]["against"])
