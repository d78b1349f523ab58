"""URDF out, read back by an independent rigid-body library; URDF in, from our own files and from bad ones."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np
import pinocchio

from bustle.core.document.checked import parse_project
from bustle.core.document.file import save_project
from bustle.core.edits.limb_edits import repeated
from bustle.core.edits.new_limbs import added
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.servo.joint_table import joint_table
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from bustle.formats.robot_files.urdf_in import read_urdf
from bustle.formats.robot_files.urdf_out import write_urdf
from tests.long import in_turns, is_long, share
from tests.projects import changed, demo, hexapod, start, troubles
from tests.seeded import SeededTest
from tests.terminal import bustle


class Independent:
    """The file as pinocchio has it, free-floating, with what follows a joint following it."""

    def __init__(self, data):
        self.model = pinocchio.buildModelFromXML(data.decode(), pinocchio.JointModelFreeFlyer(), True)
        self.data = self.model.createData()

    def pose(self, e, sample):
        """Every joint at the table's value for it, in full precision."""
        q = pinocchio.neutral(self.model)
        for n, joint in enumerate(e.kit.joints):
            at = self.model.idx_qs[self.model.getJointId(joint.path)]
            q[at] = e.angles[sample, n] / (1000 if joint.slides else 1)
        pinocchio.forwardKinematics(self.model, self.data, q)
        pinocchio.updateFramePlacements(self.model, self.data)
        return q

    def frame(self, name):
        at = self.model.getFrameId(name, pinocchio.FrameType.BODY)
        return self.data.oMf[at].translation * 1000


class Out(SeededTest):
    def agree(self, project, motion):
        e = evaluate(project, motion).reading
        other = Independent(write_urdf(project).data)
        for sample in self.random.integers(0, e.samples, 5):
            q = other.pose(e, sample)
            for i, limb in enumerate(project.walker.limbs):
                if limb.feet:
                    end = e.course.solved.points[i][sample, -1]
                    np.testing.assert_allclose(other.frame(f"{limb.name}/foot"), end, atol=1e-6)
            centre = pinocchio.centerOfMass(other.model, other.data, q) * 1000
            np.testing.assert_allclose(centre, e.course.com_body_mm[sample], atol=1e-3)
        self.assertAlmostEqual(
            pinocchio.computeTotalMass(other.model) * 1000, sum(m.mass_kg for m in e.assembled.masses) * 1000, places=3
        )

    @is_long
    def test_every_starting_shape_has_the_same_feet_and_centre_of_mass(self):
        for shape in share(self.random, list(SHAPES), 6):
            project = start(shape, "Out", 200.0)
            with self.subTest(shape=shape, seed=self.seed):
                self.agree(project, project.motions[0].name)

    def test_the_demo_and_a_bent_frame_too(self):
        for name in ("fennel", "sorrel"):
            self.agree(demo(name), "Forward")
        values = document(hexapod())
        hinge = {"on": "body", "at_mm": [-40.0, 0.0, 3.0], "to_mm": [-50.0, 0.0, 2.0], "axis": "pitch"}
        values["walker"]["sections"].append({"name": "back", "size_mm": [60.0, 80.0, 30.0], "hinge": hinge})
        for limb in values["walker"]["limbs"]:
            if limb["name"] in ("L3", "R3"):
                limb["section"], limb["mount"]["at_mm"] = "back", [0.0, limb["mount"]["at_mm"][1], 0.0]
        values["walker"]["masses"].append({"name": "Tail", "mass_g": 80.0, "on": "back", "at_mm": [-10.0, 4.0, 6.0]})
        self.agree(parse_project(values), "Stand")

    def test_balls_far_out_on_a_small_frame_weigh_what_it_spares(self):
        """Each ball borrows its mass, and a small, light frame has little to lend so far out."""
        project = start("two_moving_mass", "Balls", 80.0)
        project = added(project, "support", "upright_3", (60.0, 50.0))
        project = repeated(project, project.walker.limbs[-1].name, 6)
        self.agree(project, project.motions[0].name)

    def test_limits_are_written(self):
        other = Independent(write_urdf(hexapod()).data).model
        joint = other.getJointId("L1/femur")
        low, high = (v[other.idx_qs[joint]] for v in (other.lowerPositionLimit, other.upperPositionLimit))
        np.testing.assert_allclose(np.degrees([low, high]), [-60, 100])
        self.assertAlmostEqual(np.degrees(other.velocityLimit[other.idx_vs[joint]]), 400, places=6)

    def test_what_it_cannot_hold_is_said(self):
        rods = changed(hexapod(), {"walker/drives/0/kind": "rod"})
        self.assertTrue(any("dead points are not there" in line for line in write_urdf(rods).lost))
        self.assertFalse(any("dead points" in line for line in write_urdf(hexapod()).lost))
        boom = write_urdf(start("two_planar", "Boom", 240.0)).lost
        self.assertTrue(any("boom" in line for line in boom))

    def test_from_the_command_line(self):
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder) / "w.bustle.json"
            file.write_bytes(save_project(hexapod()))
            out = Path(folder) / "w.urdf"
            bustle("urdf", file, "--out", out)
            self.assertEqual(out.read_bytes(), write_urdf(hexapod()).data)


class In(SeededTest):
    @in_turns
    def test_our_own_file_comes_back_with_the_same_legs_and_masses(self):
        for shape in ("six_sprawled", "four_upright", "six_two", "two_full", "two_moving_mass"):
            project = start(shape, "Back", 200.0)
            read = read_urdf(write_urdf(project).data)
            with self.subTest(shape=shape):
                self.assertEqual(
                    [limb.name for limb in read.project.walker.limbs], [limb.name for limb in project.walker.limbs]
                )
                again = write_urdf(read.project)
                first, second = Independent(write_urdf(project).data), Independent(again.data)
                q1, q2 = pinocchio.neutral(first.model), pinocchio.neutral(second.model)
                for one, q in ((first, q1), (second, q2)):
                    pinocchio.forwardKinematics(one.model, one.data, q)
                    pinocchio.updateFramePlacements(one.model, one.data)
                for limb in project.walker.legs:
                    np.testing.assert_allclose(
                        first.frame(f"{limb.name}/foot"), second.frame(f"{limb.name}/foot"), atol=1e-5
                    )
                centres = [pinocchio.centerOfMass(one.model, one.data, q) for one, q in ((first, q1), (second, q2))]
                np.testing.assert_allclose(*centres, atol=1e-6)

    def test_three_joint_legs_are_recognised(self):
        self.assertEqual(read_urdf(write_urdf(hexapod()).data).project.walker.limbs[0].family, "sprawled_3")
        upright = read_urdf(write_urdf(start("four_upright", "Up", 200.0)).data).project
        self.assertEqual([limb.family for limb in upright.walker.limbs], ["upright_3"] * 4)
        self.assertEqual([limb.mirrored for limb in upright.walker.limbs], [False, True, False, True])
        self.assertEqual(troubles(evaluate(upright, "Stand")), ())

    def test_joints_named_after_their_leg_are_named_once_and_hanging_legs_stand_under_their_hips(self):
        data = write_urdf(start("four_upright", "Up", 200.0)).data.decode()
        for leg in ("FL", "FR", "BL", "BR"):
            for joint in ("roll", "pitch", "knee"):
                data = data.replace(f'"{leg}/{joint}"', f'"{leg}_{joint}"')
        read = read_urdf(data.encode()).project
        self.assertEqual([limb.name for limb in read.walker.limbs], ["FL", "FR", "BL", "BR"])
        stand = evaluate(read, "Stand")
        # Tables call them what the file does.
        self.assertEqual(joint_table(stand.reading).columns[:3], ("FL_roll", "FL_pitch", "FL_knee"))
        for limb in read.walker.limbs:
            self.assertAlmostEqual(limb.neutral_mm[0], limb.mount.at_mm[0], delta=1.0)
        self.assertEqual(troubles(stand), ())

    ROD = "<robot name='r'>{}</robot>"

    def refused(self, inner, whole=None):
        with self.assertRaises(InputRefused) as caught:
            read_urdf((whole or self.ROD.format(inner)).encode())
        return str(caught.exception)

    def test_bad_files_get_a_sentence(self):
        link = "<link name='{}'/>"
        ends = "<parent link='{}'/><child link='{}'/><limit lower='-1' upper='1'/>"
        hinge = f"<joint name='{{}}' type='revolute'>{ends}</joint>"
        two = link.format("a") + link.format("b")
        for inner, words in (
            (two + hinge.format("j", "a", "b") + hinge.format("k", "b", "a"), "run in a circle"),
            (link.format("a") + hinge.format("j", "a", "ghost"), "its child link 'ghost' is not in the file"),
            (two, "no revolute, continuous or prismatic joint"),
            (two + hinge.format("j", "a", "b") + hinge.format("k", "a", "b"), "hangs on two joints"),
            (two + link.format("c") + hinge.format("j", "a", "b"), "2 links hang on nothing"),
            (two + hinge.format("j", "a", "b"), "0 limbs that end in a foot"),
            (two + hinge.format("j", "a", "b").replace("'1'", "'-2'"), "upper limit must be above"),
            (two + hinge.format("j", "a", "b").replace("revolute", "ball"), "its type must be one of"),
            (two + hinge.format("j", "a", "b").replace("<limit", "<origin xyz='1 nan 0'/><limit"), "3 finite numbers"),
            (
                two + hinge.format("j", "a", "b").replace("<limit", "<axis xyz='0 1e300 0'/><limit"),
                "no more than 1e+100",
            ),
            (two + two, "two links are called 'a'"),
        ):
            with self.subTest(words=words):
                self.assertIn(words, self.refused(inner))
        bomb = "<!DOCTYPE r [<!ENTITY a 'aaaa'><!ENTITY b '&a;&a;&a;'>]><robot name='&b;'/>"
        self.assertIn("entities", self.refused("", bomb))
        self.assertIn("not well-formed", self.refused("", "<robot"))
        self.assertIn("<robot>", self.refused("", "<machine/>"))
        self.assertIn("MB", self.refused("", "<robot>" + " " * 5_000_000 + "</robot>"))

    def test_what_cannot_be_used_is_listed(self):
        data = write_urdf(start("four_casters", "Casters", 160.0)).data
        self.assertEqual(read_urdf(data).unused, ())
        # A foot that is fixed to the frame: nobody says that it rolls.
        skid = "<link name='skid'/><joint name='s' type='fixed'><parent link='body'/><child link='skid'/></joint>"
        data = data.replace(b"</robot>", f"<transmission name='t'/>{skid}</robot>".encode())
        unused = read_urdf(data).unused
        self.assertTrue(any("<transmission>" in line for line in unused))
        self.assertEqual(len([line for line in unused if "read as a caster" in line]), 1)
        self.assertTrue(any("skid" in line for line in unused))
