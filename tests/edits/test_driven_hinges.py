"""A hinge of the frame with a servo: its section and all on it move within a motion, and everything is told of it."""

from __future__ import annotations

import numpy as np
from scipy.spatial.transform import Rotation

from bustle.core.at_rest.outer_size import extents_mm
from bustle.core.at_rest.posed_joints import posed_joints
from bustle.core.at_rest.resting_height import resting_height_mm
from bustle.core.document.checked import parse_project
from bustle.core.document.file import load_project, save_project
from bustle.core.edits.frame_sections import hinged
from bustle.core.edits.hinge_drives import hinge_driven
from bustle.core.edits.limb_edits import removed, renamed
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.feet.foot_slip import slip_mm
from bustle.core.judge.measures.gaps import gaps
from bustle.core.judge.measures.lead_lengths import lead_ways
from bustle.core.machine.masses import place_of
from bustle.core.project.project import document
from bustle.core.servo.fitted_servos import servos_at
from bustle.core.servo.joint_check import must_be_seen
from bustle.core.servo.joint_table import joint_table
from bustle.core.servo.servo_table import table_of
from bustle.core.words.problems import InputRefused
from tests.projects import bending, changed, start
from tests.seeded import SeededTest
from tests.servo.machines import on_boards

AXES = {"yaw": [0, 0, 1], "pitch": [0, 1, 0], "roll": [1, 0, 0]}


class Behind(SeededTest):
    def test_a_section_behind_leaves_room_for_the_hips_before_it(self):
        shapes = ("six_sprawled", "four_upright", "six_upright", "four_upright_2", "six_two")
        project = start(str(self.random.choice(shapes)), "Longer", float(self.random.uniform(80.0, 400.0)))
        longer = hinged(project, str(self.random.choice(list(AXES))))
        for motion in ("Stand", "Forward"):
            with self.subTest(motion, shape=project.walker.legs[0].family, seed=self.seed):
                found = evaluate(longer, motion).findings_among(("F16",))
                self.assertEqual([f.message for f in found if f.severity == "stop"], [])


class Moves(SeededTest):
    def test_the_section_and_what_is_on_it_turn_about_the_hinge_by_the_joints_angle(self):
        """Mounts, a mass and a lead's waypoint, against rotations by an independent library."""
        for axis, way in AXES.items():
            values = document(bending(axis))
            values["walker"]["leads"] = [
                {"name": "Tail lead", "length_mm": 300.0,
                 "path": [{"on": "body"}, {"on": "back", "at_mm": [5.0, -7.0, 9.0]}]},
            ]  # fmt: skip
            r = evaluate(parse_project(values), "Forward").reading
            bend = r.angles[:, r.kit.column_of["spine/bend"]]
            self.assertGreater(np.ptp(bend), np.radians(15))
            pivot, to = np.array([-40.0, 0.0, 3.0]), np.array([-50.0, 0.0, 2.0])
            turn = Rotation.from_rotvec(np.outer(bend, way))

            def carried(at, pivot=pivot, to=to, turn=turn):
                return pivot + turn.apply(to + np.array(at))

            limbs = {m.name: i for i, m in enumerate(r.project.walker.limbs)}
            for leg in ("L3", "R3"):
                mount = r.project.walker.limbs[limbs[leg]].mount.at_mm
                got = r.course.solved.points[limbs[leg]][: r.samples, 0]
                np.testing.assert_allclose(got, carried(mount), atol=1e-9)
            tail = next(e for e in r.assembled.masses if e.name == "Tail")
            np.testing.assert_allclose(place_of(tail, r.course.solved)[: r.samples], carried([-10, 4, 6]), atol=1e-9)
            np.testing.assert_allclose(r.of(lead_ways)[0][1], carried([5, -7, 9]), atol=1e-9)

    def test_standing_feet_stand_still_under_a_frame_that_bends(self):
        for axis in AXES:
            plan = evaluate(bending(axis, 6.0), "Forward")
            r = plan.reading
            standing = r.course.contact
            off = np.abs(r.course.feet_ground_mm[standing] - r.course.target_ground_mm[standing]).max()
            self.assertLess(off, 1e-6, axis)
            self.assertLess(r.of(slip_mm).max(), 1e-6, axis)
            self.assertNotIn("F17", [f.code for f in plan.findings])

    def test_a_frame_that_bends_far_runs_its_legs_into_each_other(self):
        pairs = ({"L2", "L3"}, {"R2", "R3"})

        def nearest(deg):
            found = evaluate(bending("yaw", deg), "Forward").reading.of(gaps)
            return min((g.distance_mm for g in found if set(g.limbs) in pairs), default=40.0)

        self.assertLess(nearest(44.0), nearest(12.0) - 5)

    def test_a_held_bend_is_the_same_machine_as_one_bent_by_hand(self):
        """Bent by its joint or by hand: the same points, gaps, size, and the same place of a pose of joints."""
        driven = changed(bending(), {"motions/0/moves_of_arms": []})
        by_hand = changed(removed(driven, "spine"), {"motions/0/pose/bends": [{"section": "back", "angle_deg": 2.0}]})
        one, other = (evaluate(p, "Forward").reading for p in (driven, by_hand))
        for i in range(6):
            np.testing.assert_allclose(one.course.solved.points[i], other.course.solved.points[i], atol=1e-9)
        self.assertEqual(
            [round(g.distance_mm, 6) for g in one.of(gaps)], [round(g.distance_mm, 6) for g in other.of(gaps)]
        )
        # The same angle as moved to and held there.
        pitched = bending("pitch")
        joints = np.tile(posed_joints(pitched.walker, ()), (2, 1))
        column = evaluate(pitched, "Forward").reading.kit.column_of["spine/bend"]
        joints[1, column] = np.radians(-20.0)
        straight, bent = extents_mm(pitched.walker, joints)
        self.assertGreater(bent[2], straight[2] + 10)
        low, high = resting_height_mm(pitched.walker, joints, {})
        self.assertGreater(high, low + 5)

    def test_table_channels_limits_and_check_know_the_hinge(self):
        project = on_boards(bending(), 2)
        r = evaluate(project, "Forward").reading
        self.assertIn("spine.bend", joint_table(r).columns)
        table = table_of(r, "ticks")
        self.assertIn("spine.bend", table.columns)
        servo = next(s for s in servos_at(project) if s.joint == "spine/bend")
        self.assertIsNotNone(servo.board)
        self.assertEqual(must_be_seen(project, servo), "spine bend goes RIGHT")
        self.assertTrue(any(e.name == "spine bend" and e.on == "body" for e in r.assembled.masses))
        stops = changed(bending("yaw", 8.0), {"walker/limbs/6/joints/0/max_deg": 6.0})
        past = [f for f in evaluate(stops, "Forward").findings if f.code == "F15"]
        self.assertIn("spine bend", past[0].message)
        quick = changed(bending(), {"motions/0/cycle_s": 0.2})
        self.assertIn("F06", [f.code for f in evaluate(quick, "Forward").findings])


class Edits(SeededTest):
    def test_a_servo_put_on_a_hinge_keeps_how_it_was_bent(self):
        project = bending()
        self.assertEqual(project.motions[0].pose.bends, ())
        self.assertEqual([(a.limb, a.value) for a in project.motions[0].joints], [("spine", 2.0)])
        again = load_project(save_project(project))
        self.assertEqual(save_project(again), save_project(project))
        other = renamed(project, {"spine": "waist"})
        self.assertEqual(other.walker.sections[1].hinge.turned_by, "waist/bend")
        bare = removed(project, "spine")
        self.assertIsNone(bare.walker.sections[1].hinge.turned_by)
        with self.assertRaises(InputRefused):
            hinge_driven(project, "back")

    def test_what_cannot_turn_a_section_is_a_sentence_at_the_field(self):
        path = "walker/sections/1/hinge/turned_by"
        for to, words in (("L1/yaw", "cannot turn a section"), ("neck/nod", "is no joint of this walker")):
            with self.assertRaises(InputRefused) as caught:
                changed(bending(), {path: to})
            self.assertIn("walker.sections[1].hinge.turned_by", str(caught.exception))
            self.assertIn(words, str(caught.exception))
        with self.assertRaises(InputRefused) as caught:
            changed(bending(), {"motions/0/pose/bends": [{"section": "back", "angle_deg": 3.0}]})
        self.assertIn("back is turned by spine/bend", str(caught.exception))
