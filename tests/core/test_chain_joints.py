"""Joints put on to free chains and taken away: on one limb, or on all legs that have the same."""

from __future__ import annotations

import unittest

import numpy as np

from bustle.core.edits.chain_joints import jointed, unjointed
from bustle.core.edits.new_limbs import added, refitted
from bustle.core.evaluate import evaluate
from bustle.core.project.project import document
from bustle.core.words.problems import InputRefused
from tests.projects import hexapod


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
