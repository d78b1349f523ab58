"""Joints put on to free chains and taken away: on one limb, or on all legs that have the same."""

from __future__ import annotations

import unittest

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.document.file import save_project
from bustle.core.edits.chain_joints import joint_called, jointed, link_called, unjointed
from bustle.core.edits.new_limbs import added, refitted
from bustle.core.evaluate import evaluate
from bustle.core.geometry.serial_chain import forward
from bustle.core.project.project import document
from bustle.core.words.problems import InputRefused
from tests.projects import changed, demo, hexapod, start


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

    def test_a_joint_behind_another_moves_nothing_and_taken_out_of_the_middle_leaves_all_where_it_is(self):
        """On legs that are mirrored too, with a load on the link that goes to the part before it."""
        values = document(refitted(start("four_upright", "Chains", 230.0), "FL", "serial", True))
        loads = [
            {"name": f"Load {n}", "mass_g": 40.0, "on": f"FR/{link}", "at_mm": [3.0, 5.0, -20.0]}
            for n, link in enumerate(("hip", "thigh"))
        ]
        values["walker"]["masses"] += loads
        chains = parse_project(values)
        longer = jointed(chains, "FR", True, "pitch")
        new = limbs(longer)["FR"].joints[2].name
        self.assertEqual([j.name for j in limbs(longer)["BL"].joints], ["roll", "pitch", new, "knee"])
        self.assertEqual(save_project(unjointed(longer, "FL", new, True)), save_project(chains))

        def lying(project):
            """Where feet are at zero pose, and what weighs on the body and on links there."""
            (group,) = evaluate(project, "Stand").reading.assembled.parts
            none = np.zeros((len(group.members), 1, group.columns.shape[1]))
            points = forward(group.build.chain, none)[0][:, 0]
            at = {f"{m.name}/{k.name}": points[n, i] for n, m in enumerate(project.walker.limbs)
                  for i, k in enumerate(m.links)}  # fmt: skip
            told = {m.name: m for m in project.walker.masses}
            return points[:, -1], [at.get(m.on, np.zeros(3)) + m.at_mm for m in (told[load["name"]] for load in loads)]

        feet, weighs = lying(chains)
        for joint in ("roll", "pitch"):
            there, weigh_there = lying(unjointed(chains, "FR", joint, True))
            np.testing.assert_allclose(there, feet, atol=1e-6)
            np.testing.assert_allclose(weigh_there, weighs, atol=1e-3)
        # The last goes with the link beyond it.
        self.assertGreater(np.abs(lying(unjointed(chains, "FR", "knee", True))[0] - feet).max(), 50.0)

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
        named = joint_called(six, "L2", "tibia", "knee", alike=True)
        self.assertEqual({m.joints[2].name for m in named.walker.limbs}, {"knee"})
        self.assertIn("R3 knee", {s.name for d in named.walker.drives for s in d.servos})
        alone = joint_called(six, "L2", "tibia", "knee")
        self.assertEqual([m.joints[2].name for m in alone.walker.limbs].count("knee"), 1)
