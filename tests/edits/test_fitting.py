"""Limbs added and legs refitted: everything that hangs on them fits, for every family."""

from __future__ import annotations

import unittest

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.document.file import load_project, save_project
from bustle.core.edits import frame_sections
from bustle.core.edits import new_limbs as fitting
from bustle.core.edits.chain_joints import jointed
from bustle.core.edits.limb_edits import mirrored
from bustle.core.evaluate import evaluate
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.project import document
from bustle.core.walk.motions.retold import as_keyframes
from bustle.core.words.problems import InputRefused
from tests.long import in_turns
from tests.motions import programme, transition, with_motions
from tests.projects import changed, demo, hexapod, quadruped, troubles


class Fitting(unittest.TestCase):
    @in_turns
    def test_every_family_can_be_added_and_stands(self):
        for family in FAMILIES:
            if family == "fixed":
                continue
            for role in ("leg", "arm"):
                project = fitting.added(quadruped(), role, family)
                plan = evaluate(project, "Stand")
                self.assertGreater(plan.figure("mass_g"), evaluate(quadruped(), "Stand").figure("mass_g"), family)
                self.assertEqual(len(project.walker.legs), 5 if role == "leg" else 4)
                self.assertEqual(load_project(save_project(project)), project)

    def test_a_caster_under_the_middle_touches_the_floor(self):
        project = fitting.added(hexapod(), "support", "")
        e = evaluate(project, "Stand").reading
        self.assertTrue(e.course.contact[-1].all())

    def test_legs_of_another_family_stand_in_the_same_places_and_cost_fewer_servos(self):
        two = fitting.refitted(hexapod(), "L1", "sprawled_2", alike=True)
        before, after = (evaluate(p, "Stand").reading for p in (hexapod(), two))
        self.assertEqual(len(after.kit.servos), len(before.kit.servos) - 6)
        self.assertEqual([m.neutral_mm for m in two.walker.limbs], [m.neutral_mm for m in hexapod().walker.limbs])
        # Two joints do not get where three did, which is told.
        self.assertEqual([f.title for f in troubles(evaluate(two, "Stand"))], ["Feet stand elsewhere"])
        alone = fitting.refitted(hexapod(), "L1", "upright_3", alike=False)
        self.assertEqual([m.family for m in alone.walker.limbs], ["upright_3"] + ["sprawled_3"] * 5)

    def test_a_leg_of_another_family_is_as_heavy_and_driven_by_the_servos_it_had(self):
        """Its knees are of another type, and its links heavier than usual."""
        values = document(hexapod())
        values["servo_types"].append({**values["servo_types"][0], "name": "Knee servo"})
        for drive in values["walker"]["drives"]:
            if drive["joints"][0].endswith("tibia"):
                drive["servos"][0]["type"] = "Knee servo"
        for limb in values["walker"]["limbs"]:
            for link in limb["links"]:
                link["mass_g"] = link["mass_g"] * 3 + 1.0
        heavy = parse_project(values)
        hips = heavy.servo_types[0].name
        for family in FAMILIES:
            if family == "fixed":
                continue
            with self.subTest(family=family):
                other = fitting.refitted(heavy, "L1", family, alike=True)
                for was, now in zip(heavy.walker.limbs, other.walker.limbs, strict=True):
                    weighs = [sum(k.mass_g for k in limb.links) for limb in (was, now)]
                    self.assertAlmostEqual(*weighs, delta=0.3)
                kinds = [d.servos[0].type for d in other.walker.drives if d.joints[0].startswith("L1/")]
                expected = [hips, hips, *["Knee servo"] * len(kinds)][: len(kinds)]
                self.assertEqual(kinds, expected)
                added = fitting.added(heavy, "leg", family)
                new = added.walker.limbs[-1]
                self.assertTrue(all(k.mass_g for k in new.links), family)
                kinds = [d.servos[0].type for d in added.walker.drives if d.joints[0].startswith(f"{new.name}/")]
                self.assertEqual(kinds, [hips, hips, *["Knee servo"] * len(kinds)][: len(kinds)])
        longer = jointed(fitting.refitted(heavy, "L1", "serial", alike=False), "L1")
        self.assertEqual(longer.walker.drives[-1].servos[0].type, "Knee servo")
        self.assertTrue(longer.walker.limbs[0].links[-1].mass_g)

    def test_joints_that_share_two_servos_have_one_each(self):
        values = document(hexapod())
        first = values["servo_types"][0]
        values["servo_types"] += [{**first, "name": name} for name in ("Second", "Knee")]
        yaw, femur, tibia = (d for d in values["walker"]["drives"] if d["joints"][0].startswith("L1/"))
        yaw["kind"], yaw["joints"] = "parallel_rod", [*yaw["joints"], *femur["joints"]]
        yaw["servos"] += femur["servos"]
        yaw["servos"][1]["type"], tibia["servos"][0]["type"] = "Second", "Knee"
        values["walker"]["drives"].remove(femur)
        other = fitting.refitted(parse_project(values), "L1", "upright_3", alike=False)
        kinds = [d.servos[0].type for d in other.walker.drives if d.joints[0].startswith("L1/")]
        self.assertEqual(kinds, [first["name"], "Second", "Knee"])

    def test_links_joints_and_servos_that_both_kinds_have_stay_as_they_are(self):
        values = document(quadruped())
        for limb in values["walker"]["limbs"]:
            limb["branch"] = FAMILIES["upright_3"].branches[-1]
            for n, link in enumerate(limb["links"]):
                link["length_mm"], link["mass_g"] = 31.5 + 17.25 * n, 4.5 + n
            for joint in limb["joints"]:
                joint["max_deg"] += 1.25
        for drive in values["walker"]["drives"]:
            drive["servos"][0]["centre_deg"] = 3.5
        own = parse_project(values)
        for family in ("upright_2", "biped_planar_3"):
            with self.subTest(family=family):
                other = fitting.refitted(own, "FL", family, alike=True)
                for was, now in zip(own.walker.limbs, other.walker.limbs, strict=True):
                    self.assertEqual(now.branch, was.branch)
                    self.assertEqual(now.links[:3], was.links)
                    stays = {joint.name: joint for joint in was.joints}
                    for joint in now.joints:
                        self.assertEqual(joint, stays.get(joint.name, joint))
                    centres = {d.joints[0]: d.servos[0].centre_deg for d in other.walker.drives}
                    self.assertEqual([centres[f"{now.name}/{name}"] for name in ("pitch", "knee")], [3.5, 3.5])
                # And back again.
                back = fitting.refitted(other, "FL", "upright_3", alike=True)
                for was, now in zip(own.walker.limbs, back.walker.limbs, strict=True):
                    self.assertEqual((now.links, now.joints[1:]), (was.links, was.joints[1:]))

    def test_a_leg_is_mirrored_on_to_one_of_another_kind(self):
        """Which keeps its phase; what named its own joints is no more."""
        lead = {"name": "Hip", "length_mm": 300.0, "path": [{"on": "body"}, {"on": "FR/shank"}]}
        truth = {"limb": "FR", "link_length_mm": {"thigh": 90.0}}
        own = changed(quadruped(), {"walker/leads": [lead], "walker/as_built/limbs": [truth]})
        mixed = fitting.refitted(own, "FL", "sprawled_2", alike=False)
        pair = mirrored(mixed, "FL")
        one, other = pair.walker.limbs[:2]
        self.assertEqual((one.name, other.name), ("FL", "FR"))
        self.assertEqual((other.family, other.links), (one.family, one.links))
        np.testing.assert_allclose(np.array(other.mount.at_mm) * [1, -1, 1], one.mount.at_mm)
        for motion in pair.motions:
            for was in getattr(mixed.motion(motion.name), "legs", ()):
                self.assertIn(was, motion.legs)
            e = evaluate(pair, motion.name, 30).reading
            self.assertTrue(np.isfinite(e.angles).all(), motion.name)
        # Nor was it this leg that was measured.
        self.assertEqual((pair.walker.leads, pair.walker.as_built.limbs), ((), ()))
        # Drives come in the order of the limbs and their joints, those that are no more with nobody.
        driven = [f"{limb.name}/{joint.name}" for limb in pair.walker.limbs for joint in limb.joints]
        self.assertEqual([d.joints[0] for d in pair.walker.drives], driven)

    def test_what_rode_on_a_link_that_is_no_more_rides_on_the_frame(self):
        lead = {"name": "Knee", "length_mm": 300.0, "path": [{"on": "body"}, {"on": "L1/tibia"}]}
        mass = {"name": "Bumper", "mass_g": 20.0, "on": "L1/tibia"}
        loaded = changed(hexapod(), {"walker/leads": [lead], "walker/masses": [mass]})
        two = fitting.refitted(loaded, "L1", "sprawled_2", alike=False)
        self.assertEqual(two.walker.masses[0].on, "body")
        self.assertEqual(two.walker.leads, ())

    @in_turns
    def test_motions_of_every_kind_take_a_new_leg_and_a_refitted_one(self):
        """A pose of joints says nothing of the new leg, and forgets joints that are no more."""
        told = with_motions(
            hexapod(),
            {"kind": "joint_pose", "name": "Folded", "joints": [
                {"limb": "L1", "joint": joint, "value": value} for joint, value in (("yaw", 20.0), ("tibia", -90.0))]},
            as_keyframes(hexapod(), "Forward").model_dump(mode="json"),
            programme("Row", ("Forward", 1.0, "cycles"), ("Folded", 1.0, "seconds")),
            transition("Down", "Forward", 0.2, "Folded", 0.0),
        )  # fmt: skip
        # A pose of joints may come first of all.
        values = document(told)
        values["motions"].insert(0, values["motions"].pop(-4))
        told = parse_project(values)
        for changed_so, legs in (
            (fitting.added(told, "leg", "sprawled_3"), 7),
            (fitting.added(told, "support", ""), 6),
            (fitting.refitted(told, "L1", "sprawled_2", alike=False), 6),
        ):
            self.assertEqual(len(changed_so.walker.legs), legs)
            for motion in changed_so.motions:
                e = evaluate(changed_so, motion.name, 30).reading
                self.assertTrue(np.isfinite(e.angles).all(), motion.name)
        joints = fitting.refitted(told, "L1", "sprawled_2", alike=False).motion("Folded").joints
        self.assertEqual([(a.limb, a.joint) for a in joints], [("L1", "yaw")])

    def test_a_head_of_another_kind_is_moved_and_steered_by_what_it_still_has(self):
        project = demo("faults/F49.sound")
        head = next(m for m in project.walker.limbs if not m.steps)
        axis = f"{head.name}/{head.joints[0].name}"
        control = {"mode": "look", "input": "knob", "does": "axis", "target": axis}
        project = changed(project, {"controls": [control]})
        self.assertTrue(project.motions[0].moves_of_arms)
        other = fitting.refitted(project, head.name, "rocker_2", alike=False)
        left = {f"{head.name}/{j.name}" for m in other.walker.limbs if m.name == head.name for j in m.joints}
        named = [f"{a.limb}/{a.joint}" for a in other.motions[0].moves_of_arms] + [c.target for c in other.controls]
        self.assertLessEqual(set(named), left)
        evaluate(other, "Forward")

    def test_three_sections_at_most(self):
        once = frame_sections.hinged(quadruped(), "yaw")
        twice = frame_sections.hinged(once, "pitch")
        self.assertEqual([s.name for s in twice.walker.sections], ["body", "back", "tail"])
        with self.assertRaisesRegex(InputRefused, "at most three sections"):
            frame_sections.hinged(twice, "roll")
        with self.assertRaisesRegex(InputRefused, "must be one of sprawled_3"):
            fitting.added(quadruped(), "leg", "wings")
        with self.assertRaisesRegex(InputRefused, "cannot become 'fixed'"):
            fitting.refitted(quadruped(), "FL", "fixed", alike=True)


if __name__ == "__main__":
    unittest.main()
