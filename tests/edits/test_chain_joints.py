"""Joints put on to free chains and taken away: on one limb, or on all legs that have the same."""

from __future__ import annotations

import unittest

import numpy as np

from bustle.core.document.file import save_project
from bustle.core.edits.chain_joints import joint_called, jointed, link_called, unjointed
from bustle.core.edits.new_limbs import added, refitted
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.words.problems import InputRefused
from tests.projects import changed, demo, hexapod


def limbs(project):
    return {limb.name: limb for limb in project.walker.limbs}


class ChainJoints(unittest.TestCase):
    def test_a_joint_put_on_and_taken_off_again_leaves_nothing(self):
        project = added(hexapod(), "arm", "serial")
        name = project.walker.limbs[-1].name
        longer = jointed(project, name)
        new = limbs(longer)[name].joints[-1].name
        self.assertEqual(len(limbs(longer)[name].joints), 3)
        self.assertEqual(document(unjointed(longer, name, new)), document(project))
        one = unjointed(project, name, "turn")
        self.assertEqual([j.name for j in limbs(one)[name].joints], ["nod"])
        self.assertNotIn(f"{name}/turn", {j for d in one.walker.drives for j in d.joints})
        with self.assertRaises(InputRefused):
            jointed(hexapod(), "L1")

    def test_legs_alike_get_a_joint_and_lose_it_together(self):
        """But for the one that has other joints, and for arms."""
        six = added(refitted(hexapod(), "L1", "serial", alike=True), "arm", "serial")
        odd = jointed(six, "R3")
        self.assertEqual([len(m.joints) for m in odd.walker.limbs], [3, 3, 3, 3, 3, 4, 2])
        longer = jointed(odd, "L2", alike=True)
        self.assertEqual([len(m.joints) for m in longer.walker.limbs], [4, 4, 4, 4, 4, 4, 2])
        self.assertEqual(len(longer.walker.drives), len(odd.walker.drives) + 5)
        heights = [evaluate(p, "Stand").reading.course.feet_ground_mm[:6, 0, 2] for p in (six, longer)]
        np.testing.assert_allclose(heights[0], heights[1], atol=0.1)
        # Now they are all of the same joints.
        last = limbs(longer)["L2"].joints[-1].name
        self.assertEqual(document(unjointed(longer, "R3", last, alike=True)), document(six))
        self.assertEqual(document(jointed(six, six.walker.limbs[-1].name, alike=True))["walker"]["limbs"][:6],
                         document(six)["walker"]["limbs"][:6])  # fmt: skip

    def test_a_joint_and_a_link_under_other_names_take_along_what_names_them(self):
        project = demo("faults/F49.sound")
        head = next(m for m in project.walker.limbs if not m.steps)
        joint, link = head.joints[0].name, head.links[-1].name
        knob = {"mode": "look", "input": "knob", "does": "axis", "target": f"{head.name}/{joint}"}
        lead = {"name": "Eye", "length_mm": 300.0, "path": [{"on": "body"}, {"on": f"{head.name}/{link}"}]}
        told = changed(project, {"controls": [knob], "walker/leads": [lead]})
        other = link_called(joint_called(told, head.name, joint, "sway"), head.name, link, "skull")
        said = save_project(other).decode()
        for name in (f"{head.name}/{joint}", f"{head.name}/{link}", f"{head.name} {joint}"):
            self.assertNotIn(f'"{name}"', said)
        self.assertIn(f'"{head.name} sway"', said)
        self.assertIn("sway", {move.joint for move in other.motions[0].moves_of_arms})
        walk = other.motions[0].name
        angles = [evaluate(p, walk).reading.angles for p in (told, other)]
        np.testing.assert_array_equal(*angles)
        back = link_called(joint_called(other, head.name, "sway", joint), head.name, "skull", link)
        self.assertEqual(document(back), document(told))
        with self.assertRaisesRegex(InputRefused, "arm1 has another joint that is called 'nod'"):
            joint_called(added(hexapod(), "arm", "serial"), "arm1", "turn", "nod")
        with self.assertRaisesRegex(InputRefused, "and no 'wing'"):
            link_called(told, head.name, "wing", "other")

    def test_legs_alike_are_called_alike(self):
        six = refitted(hexapod(), "L1", "serial", alike=True)
        named = joint_called(six, "L2", "bend", "knee", alike=True)
        self.assertEqual({m.joints[2].name for m in named.walker.limbs}, {"knee"})
        self.assertIn("R3 knee", {s.name for d in named.walker.drives for s in d.servos})
        alone = joint_called(six, "L2", "bend", "knee")
        self.assertEqual([m.joints[2].name for m in alone.walker.limbs].count("knee"), 1)
