"""Legs of a family as the free chains that they are, and back again; chains that have too few joints for their foot."""

from __future__ import annotations

import unittest

import numpy as np
from scipy.optimize import least_squares
from scipy.spatial.transform import Rotation

from bustle.core.document.checked import parse_project
from bustle.core.document.file import save_project
from bustle.core.edits.alike import followed
from bustle.core.edits.chain_joints import jointed
from bustle.core.edits.new_limbs import refitted
from bustle.core.evaluate import evaluate
from bustle.core.geometry.serial_chain import Chain, forward
from bustle.core.kinds.legs import Build
from bustle.core.kinds.legs.searched.damped_least_squares import solve_damped
from bustle.core.project.project import document
from bustle.core.starting.fresh_set import fresh_set
from tests.long import in_turns
from tests.projects import start
from tests.seeded import SeededTest

# Each with how far its joints may be from the closed form's, °: legs of two joints let go of their slip in another way.
SHAPES = {
    "six_sprawled": 1e-6, "six_radial": 1e-6, "four_upright": 1e-6, "two_wheels": 1e-6, "two_full": 1e-6,
    "four_upright_2": 1e-6, "two_planar": 1e-3, "two_moving_mass": 1e-3, "six_two": 0.5, "four_casters": 0.5,
    "two_servo": 1e-3,
}  # fmt: skip
# A part that does not turn stays with what it hangs on.
WITH_STIFF_PARTS = ("four_upright_2", "two_planar", "two_moving_mass", "two_servo")


def opened(project):
    return refitted(project, project.walker.legs[0].name, "serial", True)


class AsFreeChains(SeededTest):
    def test_they_are_the_legs_that_they_were_and_become_them_again(self):
        """With a load on a link, something measured, and some with a hip set off."""
        for shape, near_deg in SHAPES.items():
            values = document(start(shape, "Opened", float(self.random.uniform(140, 280))))
            leg = next(m for m in values["walker"]["limbs"] if m["joints"])
            name, root, end = leg["name"], leg["links"][0]["name"], leg["links"][-1]
            if shape == "four_upright":
                for other in values["walker"]["limbs"]:
                    other["hip_offset_mm"] = [2.0, 1.5, -3.0]
            load = {"name": "Reader", "mass_g": 30.0, "on": f"{name}/{root}", "at_mm": [2.0, 1.0, 3.0]}
            values["walker"]["masses"].append(load)
            truth = {"limb": name, "link_length_mm": {end["name"]: end["length_mm"] + 0.4}}
            values["walker"]["as_built"]["limbs"] = [truth]
            project = parse_project(values)
            chains = opened(project)
            with self.subTest(seed=self.seed, shape=shape):
                self.assertEqual({m.family for m in chains.walker.legs}, {"serial"})
                for motion in project.motions[:2]:
                    was, now = evaluate(project, motion.name), evaluate(chains, motion.name)
                    off = np.degrees(np.abs(was.reading.angles - now.reading.angles).max())
                    self.assertLess(off, near_deg, motion.name)
                    self.assertEqual([f.code for f in was.findings], [f.code for f in now.findings], motion.name)
                    margins = [plan.figure("worst_margin_mm") or 0.0 for plan in (was, now)]
                    self.assertAlmostEqual(*margins, delta=0.01 if near_deg < 0.1 else 0.5, msg=motion.name)
                back = refitted(chains, name, project.walker.legs[0].family, True)
                if shape not in (*WITH_STIFF_PARTS, "four_upright"):
                    self.assertEqual(save_project(back), save_project(project))

    def test_what_rods_hold_level_gets_an_ankle_and_stands_where_it_stood(self):
        project = start("two_parallelogram", "Rods", float(self.random.uniform(180, 300)))
        chains = opened(project)
        for was, now in zip(project.walker.legs, chains.walker.legs, strict=True):
            self.assertEqual([j.name for j in now.joints], ["yaw", "roll", "pitch", "knee", "ankle"])
            lengths = {k.name: k.length_mm for k in now.links}
            self.assertEqual({k.name: lengths[k.name] for k in was.links}, {k.name: k.length_mm for k in was.links})
        standing, stood = (evaluate(p, "Stand").reading.course for p in (chains, project))
        np.testing.assert_allclose(standing.feet_ground_mm, stood.feet_ground_mm, atol=0.01, err_msg=str(self.seed))

    def test_an_axis_changed_is_changed_on_the_leg_across_in_its_own_sense(self):
        """Its feet then stand where the mirror image of the one changed stands."""
        before = opened(start("four_upright", "Canted", 220.0))
        values = document(before)
        left, right = (next(m for m in values["walker"]["limbs"] if m["name"] == name) for name in ("FL", "FR"))
        self.assertEqual([-v for v in left["joints"][0]["axis"]], right["joints"][0]["axis"])
        left["joints"][0]["axis"] = [1.0, 0.0, 0.3]
        after = followed(before, parse_project(values), "FL")
        turned = [m.joints[0].axis for m in after.walker.legs]
        self.assertEqual({axis if axis[0] > 0 else tuple(-v for v in axis) for axis in turned}, {(1.0, 0.0, 0.3)})
        course = evaluate(after, "Stand").reading.course
        feet = dict(zip([m.name for m in after.walker.legs], course.feet_ground_mm[:, 0], strict=True))
        np.testing.assert_allclose(feet["FR"], feet["FL"] * (1, -1, 1), atol=1e-6)

    @in_turns
    def test_a_biped_with_a_joint_to_spare_walks_without_a_stop(self):
        """One more yaw or roll in its hip: what they do against each other would bring them to their ends."""
        chains = opened(start("two_full", "Seven", float(self.random.uniform(150, 320))))
        for axis in ([0.0, 0.0, 1.0], [1.0, 0.0, 0.0]):
            seven = jointed(chains, "L", True, "roll")
            values = document(seven)
            values["walker"]["limbs"][0]["joints"][2]["axis"] = axis
            made = fresh_set(followed(seven, parse_project(values), "L"))
            with self.subTest(seed=self.seed, axis=axis):
                self.assertLessEqual({"Forward", "Turn left", "Start", "Stop"}, {m.name for m in made.motions})
                for motion in made.motions:
                    stops = [f.message for f in evaluate(made, motion.name).findings if f.severity == "stop"]
                    self.assertFalse(stops, motion.name)


class TooFewJoints(SeededTest):
    """Chains of two joints, and of three about one axis, which cannot put a foot anywhere."""

    def build(self, axes, offsets, turn):
        joints, none = len(axes), np.zeros((1, 3))
        axes = axes / np.linalg.norm(axes, axis=-1, keepdims=True)
        chain = Chain(axes[None], offsets[None], none, turn[None], np.zeros(joints, dtype=bool))
        ends, one = np.full((1, joints), 1.2), np.zeros(1, dtype=int)
        lengths = np.linalg.norm(offsets, axis=-1)[None]
        return Build(lengths, none, np.zeros(1, dtype=bool), one, one, -ends, ends, chain)

    def test_two_joints_stand_as_high_as_asked_and_as_near_as_that_allows(self):
        """By another search from where the foot was taken from, heights weighing as much."""
        for _ in range(8):
            turn = Rotation.from_euler("xyz", self.random.uniform(-0.4, 0.4, 3)).as_matrix()
            axes = np.array([[0.0, 0.0, 1.0], [0.0, -1.0, 0.0]]) + self.random.uniform(-0.25, 0.25, (2, 3))
            offsets = np.array([[40.0, 0.0, 0.0], [110.0, 0.0, -70.0]]) + self.random.uniform(-10, 10, (2, 3))
            build = self.build(axes, offsets, turn)
            q = self.random.uniform(-0.6, 0.6, (1, 5, 2))
            feet = forward(build.chain, q)[0][0, :, -1]
            away = np.column_stack([self.random.uniform(-9, 9, (5, 2)), np.zeros(5)])
            found = solve_damped(build, ((feet + away) @ turn)[None], None)
            missed = found.residual[0, :, :3] @ turn.T
            np.testing.assert_allclose(missed[:, 2], 0.0, atol=5e-3, err_msg=str(self.seed))
            np.testing.assert_allclose(found.short[0], 0.0, atol=5e-3, err_msg=str(self.seed))
            for row in range(5):

                def weighed(x, to=feet[row] + away[row], build=build):
                    return (to - forward(build.chain, x[None, None])[0][0, 0, -1]) * (1.0, 1.0, 300.0)

                other = least_squares(weighed, q[0, row], bounds=(-1.2, 1.2), xtol=1e-14, ftol=1e-14)
                nearest = np.linalg.norm(other.fun[:2])
                self.assertLess(np.linalg.norm(missed[row, :2]), nearest + 1e-3, self.seed)

    def test_hinges_about_one_axis_reach_all_of_their_plane_and_miss_what_is_beside_it(self):
        turn = Rotation.random(rng=self.random).as_matrix()
        across = np.array([0.0, -1.0, 0.0])
        offsets = np.array([[0.0, 30.0, -4.0], [2.0, 0.0, -100.0], [0.0, 5.0, -90.0]])
        build = self.build(np.array([across, across, -across]), offsets, turn)
        q = self.random.uniform(0.2, 1.0, (1, 7, 3)) * (1, -1, 1)
        feet = forward(build.chain, q)[0][0, :, -1] @ turn
        beside = self.random.uniform(-30, 30, 7)[:, None] * across
        found = solve_damped(build, (feet + beside)[None], None)
        np.testing.assert_allclose(found.residual[0, :, :3], beside, atol=1e-6, err_msg=str(self.seed))
        self.assertLess(found.short.max(), 1e-6, self.seed)

    @in_turns
    def test_a_hexapod_on_canted_legs_of_two_joints_is_told_its_slip_and_walks(self):
        values = document(opened(start("six_two", "Canted", float(self.random.uniform(120, 240)))))
        for leg in values["walker"]["limbs"]:
            leg["joints"][0]["axis"][0] = float(self.random.uniform(-0.2, 0.2))
        project = parse_project(values)
        r = evaluate(project, "Forward").reading
        self.assertLess(r.course.solved.miss_mm.max(), 0.01, self.seed)
        down = r.course.contact[:, : r.samples]
        self.assertLess(np.abs(r.course.feet_ground_mm[:, : r.samples, 2][down]).max(), 0.01, self.seed)
        self.assertIn("Forward", {m.name for m in fresh_set(project).motions})


if __name__ == "__main__":
    unittest.main()
