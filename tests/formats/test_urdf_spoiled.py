"""A robot file that is right but for one thing: what is refused is named where it stands, what is of no use is listed,
and all else is read as before."""

from __future__ import annotations

import re
from xml.etree import ElementTree as ET

import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.words.problems import InputRefused
from bustle.formats.robot_files.urdf_in import read_urdf
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.projects import hexapod, start
from tests.seeded import SeededTest


class Spoiled(SeededTest):
    def robot(self, project=None):
        return ET.fromstring(write_urdf(project or hexapod()).data)

    def read(self, robot):
        return read_urdf(ET.tostring(robot))

    def refused(self, robot):
        with self.assertRaises(InputRefused) as refused:
            self.read(robot)
        return str(refused.exception)

    def one(self, robot, tag, **of):
        """One of those elements at random, the first with such attributes."""
        found = [e for e in robot.findall(tag) if all(e.get(k) == v for k, v in of.items())]
        return found[int(self.random.integers(len(found)))]

    def moving(self, robot):
        return self.one(robot, "joint", type="revolute")

    def test_a_number_that_is_none_is_named_with_its_joint_or_link(self):
        for value in ("1 2", "a b c", "nan 0 0", "inf 0 0", "1 2 3 4", ""):
            robot = self.robot()
            joint = self.moving(robot)
            joint.find("origin").set("xyz", value)
            with self.subTest(value=value):
                said = self.refused(robot)
                self.assertIn(f"joint {joint.get('name')} origin xyz", said)
                self.assertRegex(said, "must be 3 (finite )?numbers")

    def test_what_is_too_far_or_too_heavy_is_no_part_of_a_walker(self):
        robot = self.robot()
        self.moving(robot).find("origin").set("xyz", "0 3.2 0")
        self.assertIn("must be within 3 m, got 0 3.2 0", self.refused(robot))
        for mass in ("-0.1", "120"):
            robot = self.robot()
            link = next(e for e in robot.findall("link") if e.find("inertial") is not None)
            link.find("inertial/mass").set("value", mass)
            said = self.refused(robot)
            self.assertIn(f"link {link.get('name')} mass: must be from 0 to 100 kg, got {float(mass):g}", said)

    def test_a_joint_needs_an_axis_limits_a_kind_and_both_its_links(self):
        for change, said in (
            (lambda j: j.find("axis").set("xyz", "0 0 0"), "axis: must not be 0 0 0"),
            (lambda j: j.find("limit").set("lower", "2"), "its upper limit must be above its lower one"),
            (lambda j: j.set("type", "spherical"), "its type must be one of"),
            (lambda j: j.find("child").set("link", "nowhere"), "its child link 'nowhere' is not in the file"),
            (lambda j: j.remove(j.find("parent")), "its parent link 'without name' is not in the file"),
            (lambda j: j.set("name", ""), "every joint needs a name"),
        ):
            robot = self.robot()
            change(self.moving(robot))
            with self.subTest(said=said):
                self.assertIn(said, self.refused(robot))

    def test_names_are_their_own(self):
        robot = self.robot()
        joints = robot.findall("joint")
        joints[3].set("name", joints[0].get("name"))
        self.assertIn(f"two joints are called {joints[0].get('name')!r}", self.refused(robot))
        robot = self.robot()
        robot.append(ET.Element("link", name=robot.find("link").get("name")))
        self.assertIn("two links are called", self.refused(robot))

    def test_what_runs_in_a_circle_beside_the_robot_is_no_part_of_it(self):
        robot = self.robot()
        for name in ("loose_1", "loose_2"):
            robot.append(ET.Element("link", name=name))
        for n, (parent, child) in enumerate((("loose_1", "loose_2"), ("loose_2", "loose_1"))):
            joint = ET.SubElement(robot, "joint", name=f"round_{n}", type="fixed")
            ET.SubElement(joint, "parent", link=parent)
            ET.SubElement(joint, "child", link=child)
        self.assertIn("run in a circle that nothing leads to", self.refused(robot))

    def test_more_joints_than_are_read_are_counted(self):
        robot, last = self.robot(), self.robot().find("link").get("name")
        for n in range(400):
            robot.append(ET.Element("link", name=f"chain_{n}"))
            joint = ET.SubElement(robot, "joint", name=f"chained_{n}", type="fixed")
            ET.SubElement(joint, "parent", link=last)
            ET.SubElement(joint, "child", link=f"chain_{n}")
            last = f"chain_{n}"
        self.assertRegex(self.refused(robot), r"The file has \d+ joints; at most \d+ are read")

    def test_elements_of_other_programs_are_counted_and_passed_over(self):
        plain, robot = self.robot(), self.robot()
        kinds = [f"extra_{k}" for k in range(int(self.random.integers(25, 40)))]
        for n, kind in enumerate(kinds):
            for _ in range(1 + n % 3):
                ET.SubElement(ET.SubElement(robot, kind), "nested", value="1")
        found, was = self.read(robot), self.read(plain)
        self.assertEqual(found.project.walker, was.project.walker)
        told = [line for line in found.unused if line not in was.unused]
        self.assertTrue(all(re.fullmatch(r"elements <extra_\d+>: [123] of them", line) for line in told[:-1]))
        self.assertRegex(told[-1], r"^\d+ more kinds of element$")
        more = int(told[-1].split()[0])
        self.assertEqual(len(told) - 1 + more, len(kinds))

    def test_a_shape_without_a_size_and_a_mesh_are_as_if_they_were_not_there(self):
        plain, robot = self.robot(start("two_full", "Meshes", 260.0)), self.robot(start("two_full", "Meshes", 260.0))
        for link in robot.findall("link"):
            shown = ET.SubElement(link, "visual")
            ET.SubElement(ET.SubElement(shown, "geometry"), "mesh", filename="part.stl")
            empty = ET.SubElement(link, "collision")
            ET.SubElement(ET.SubElement(empty, "geometry"), "box", size="0 0 0")
        found, was = self.read(robot), self.read(plain)
        self.assertEqual(found.project.walker, was.project.walker)
        self.assertIn(f"mesh shapes: {len(robot.findall('link'))} of them", found.unused)

    def test_a_leg_that_branches_is_read_along_one_branch_and_the_other_is_told(self):
        robot = self.robot()
        knee = next(j for j in robot.findall("joint") if j.get("name") == "L1/femur")
        twig = ET.SubElement(robot, "joint", name="twig", type="revolute")
        ET.SubElement(twig, "parent", link=knee.find("child").get("link"))
        ET.SubElement(twig, "child", link="twig_link")
        ET.SubElement(twig, "axis", xyz="0 1 0")
        ET.SubElement(twig, "limit", lower="-1", upper="1", effort="1", velocity="1")
        robot.append(ET.Element("link", name="twig_link"))
        found = self.read(robot)
        self.assertEqual(len(found.project.walker.legs), 6)
        self.assertEqual([j.name for j in found.project.walker.limbs[0].joints], ["yaw", "femur", "tibia"])
        self.assertTrue(any("twig" in line and "does not branch" in line for line in found.unused), found.unused)

    def test_a_limb_of_more_joints_than_one_has_is_left_out_and_the_rest_walks(self):
        robot = self.robot()
        last = robot.find("link").get("name")
        for n in range(9):
            robot.append(ET.Element("link", name=f"tail_{n}"))
            joint = ET.SubElement(robot, "joint", name=f"tail_joint_{n}", type="revolute")
            ET.SubElement(joint, "parent", link=last)
            ET.SubElement(joint, "child", link=f"tail_{n}")
            ET.SubElement(joint, "axis", xyz="0 1 0")
            ET.SubElement(joint, "origin", xyz="-0.02 0 0.1")
            ET.SubElement(joint, "limit", lower="-1", upper="1", effort="1", velocity="1")
            last = f"tail_{n}"
        found = self.read(robot)
        self.assertTrue(any("at most seven joints" in line for line in found.unused), found.unused)
        self.assertEqual(len(found.project.walker.legs), 6)
        plan = evaluate(found.project, found.project.motions[0].name)
        self.assertTrue(np.isfinite(plan.reading.angles).all())

    def test_a_robot_of_more_legs_than_a_walker_has_is_refused_with_their_number(self):
        robot = self.robot()
        parts = [e for e in robot if "L1" in (e.get("name") or "")]
        for copy in range(7):
            for part in parts:
                text = ET.tostring(part).decode().replace("L1", f"N{copy}")
                robot.append(ET.fromstring(text))
        self.assertIn("The file has 13 limbs that end in a foot; a walker has at most twelve", self.refused(robot))
