"""Motions that cannot be: each gets a sentence that names its field; and what hangs on a limb follows it."""

from __future__ import annotations

import re

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits import limb_edits as assembly
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.feet.swing_clearance import clearances
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from bustle.core.walk.motions.retold import as_gait, as_keyframes
from bustle.core.words.problems import InputRefused
from tests.motions import programme, transition, with_motions
from tests.projects import changed, demo, hexapod
from tests.seeded import SeededTest

POSE = {"ride_height_mm": 75.0}
STILL = {"kind": "keyframes", "name": "Still", "frames": [{"name": "One", "pose": POSE, "hold_s": 0.5}]}
FOLD = {"kind": "joint_pose", "name": "Fold"}


def walk(**more):
    return {**document(hexapod())["motions"][0], "name": "Walk", **more}


def frames(*found, **more):
    listed = [{"name": str(n), "move_s": 0.4, "pose": POSE, **frame} for n, frame in enumerate(found)]
    return {"kind": "keyframes", "name": "Frames", "frames": listed, **more}


def free(**more):
    ways = [{"from_s": 0.0, "twist": {"vx_mm_s": 20.0}}]
    return {"kind": "free_walk", "name": "Free", "like": "Forward", "ways": ways, **more}


class Refused(SeededTest):
    def refused(self, motions, path, words, **values):
        project = {**document(hexapod()), **values}
        # Paths are written as if there were seven before.
        more = len(project["motions"]) - 7
        path = re.sub(r"motions\[(\d+)\]", lambda found: f"motions[{int(found[1]) + more}]", path)
        project["motions"] = project["motions"] + motions
        with self.subTest(path=path, words=words), self.assertRaises(InputRefused) as caught:
            parse_project(project)
        said = str(caught.exception)
        self.assertIn(words, said)
        self.assertTrue(any(line.strip().startswith(path) for line in said.split(";")), said)

    def test_gaits(self):
        legs = walk()["legs"]
        arm = {"limb": "L1", "joint": "yaw", "to": 5.0, "at": 0.1, "back_at": 0.6}
        for motion, field, words in (
            (walk(gait="hop"), "gait", "must be custom or one of"),
            (walk(legs=[*legs, legs[0]]), "legs", "leg L1 is timed twice"),
            (walk(legs=[*legs, {**legs[0], "limb": "Q"}]), "legs[6].limb", "'Q' is no leg of this walker"),
            (walk(legs=legs[1:]), "legs", "leg L1 has no phase and duty"),
            (walk(legs=[{**legs[0], "duty": 1.0}, *legs[1:]]), "legs[0].duty", "never lifts (duty 1)"),
            (walk(foot_path="zigzag"), "foot_path", "must be one of half_ellipse"),
            (walk(legs=[{**legs[0], "foot_path": "zigzag"}, *legs[1:]]), "legs[0].foot_path", "must be one of"),
            (walk(swing={"points": [[0.2, 1.0]]}, foot_path="cycloid"), "swing.points", "takes no points, got 1"),
            (walk(swing={"landing_mm_s": 4.0}, foot_path="half_ellipse"), "swing.landing_mm_s", "at its own speed"),
            (walk(joints=[{"limb": "L1", "joint": "yaw", "value": 3.0}]), "joints[0].limb", "L1 steps, so its joints"),
            (walk(joints=[{"limb": "Z", "joint": "yaw", "value": 3.0}]), "joints[0].limb", "'Z' is no limb"),
            (walk(moves_of_arms=[arm]), "moves_of_arms[0].limb", "L1 steps"),
            (walk(pose={**POSE, "bends": [{"section": "tail", "angle_deg": 3.0}]}), "pose.bends[0].section", "hinged"),
            (walk(cycle_s=60.0), "cycle_s", "rows of 2 ms"),
        ):  # fmt: skip
            controller = {"frame_period_ms": 2.0} if field == "cycle_s" else {"frame_period_ms": 20.0}
            self.refused([motion], f"motions[7].{field}", words, controller=controller)

    def test_frames(self):
        foot = {"limb": "L1", "at_mm": [100.0, 100.0, 0.0]}
        for motion, field, words in (
            (frames({"feet": [{**foot, "limb": "Q"}]}), "frames[0].feet[0].limb", "'Q' is no leg"),
            (frames({"feet": [foot, foot]}), "frames[0].feet", "a foot is placed twice"),
            (frames({}, {"ease": [{"limb": "Q", "ease": "late"}]}), "frames[1].ease[0].limb", "'Q' is no limb"),
            (frames({"joints": [{"limb": "L1", "joint": "yaw", "value": 1.0}]}), "frames[0].joints[0].limb", "steps"),
            (frames({"move_s": 0.0}, {"move_s": 0.0}), "frames", "take no time at all"),
        ):  # fmt: skip
            self.refused([motion], f"motions[7].{field}", words)

    def test_what_is_made_of_motions(self):
        inverted = walk(name="Over", inverted=True)
        for more, path, words in (
            ([transition("T", "Gone", 0.0, "Forward", 0.0)], "motions[7].start.motion", "no motion is called 'Gone'"),
            ([transition("T", "Forward", 0.0, "Gone", 0.0)], "motions[7].end.motion", "no motion is called 'Gone'"),
            ([programme("P", ("Forward", 1.0, "cycles")), transition("T", "P", 0.0, "Forward", 0.0)],
             "motions[8].start.motion", "P is itself made of motions"),
            ([FOLD, programme("P", ("Fold", 2.0, "cycles"))], "motions[8].parts[0].by", "Fold is a pose; say for how"),
            ([STILL, programme("P", ("Still", 2.0, "seconds"))], "motions[8].parts[0].by", "say how many times"),
            ([free(like="Gone")], "motions[7].like", "no motion is called 'Gone'"),
            ([FOLD, free(like="Fold")], "motions[8].like", "Fold is no gait"),
            ([free(like="Stand")], "motions[7].like", "has legs that never lift"),
            ([free(ways=[{"from_s": 2.0}, {"from_s": 1.0}])], "motions[7].ways", "one after another in time"),
            ([free(takes_s=120.0)], "motions[7].takes_s", "rows of 2 ms; a table has at most"),
        ):  # fmt: skip
            period = 2.0 if "takes_s" in path else 20.0
            self.refused(more, path, words, controller={"frame_period_ms": period})
        self.assertIn("inverted", inverted)

    def test_controls_start_up_and_what_was_walked(self):
        control = {"mode": "walk", "input": "left stick", "target": "Forward"}
        for values, path, words in (
            ({"controls": [{**control, "target": "Gone"}]}, "controls[0].target", "no motion is called 'Gone'"),
            ({"controls": [{**control, "does": "axis", "target": "L1/yaw"}]}, "controls[0].target",
             "must be a joint of a head or an arm (none: no head or arm has any)"),
            ({"controls": [control, control]}, "controls[1].input", "does something else in walk already"),
            ({"start_up": {"pose": "Gone"}}, "start_up.pose", "no motion is called 'Gone'"),
            ({"start_up": {"fail_safe": "Gone"}}, "start_up.fail_safe", "no motion is called 'Gone'"),
            ({"walked": [{"motion": "Gone", "cycle_s": 1.0, "stroke_mm": 9.0, "lift_mm": 9.0}]}, "walked[0].motion",
             "no motion is called 'Gone'"),
        ):  # fmt: skip
            self.refused([], path, words, **values)

    def test_frames_that_are_no_gait_say_why(self):
        up = [{"limb": m.name, "at_mm": [*m.neutral_mm, 20.0]} for m in hexapod().walker.legs[:1]]
        moving = {"vx_mm_s": 10.0}
        cases = (
            (frames({"feet": up}, {}), "L1 never stands in Frames"),
            (frames({}, {}, twist=moving), "never lifts in Frames though the body moves"),
        )
        for motion, words in cases:
            with self.assertRaisesRegex(InputRefused, words):
                as_gait(with_motions(hexapod(), motion), "Frames")
        with self.assertRaisesRegex(InputRefused, "Forward is no set of keyframes"):
            as_gait(hexapod(), "Forward")

    def test_frames_that_stand_come_back_as_a_pose(self):
        self.assertTrue(as_gait(with_motions(hexapod(), frames({}, {})), "Frames").stands)


class Heads(SeededTest):
    def headed(self):
        project = demo("faults/F49.sound")
        head = next(limb for limb in project.walker.limbs if not limb.steps)
        return project, head, head.joints[0]

    def test_a_head_goes_with_its_frames(self):
        """At each frame it is where the frame has it; a frame that does not name it leaves it there."""
        project, head, joint = self.headed()
        low, high = joint.min_deg, joint.max_deg
        values = [float(v) for v in self.random.uniform(max(low, -30), min(high, 30), 2).round(2)]
        pose = document(project)["motions"][0]["pose"]
        said = [[{"limb": head.name, "joint": joint.name, "value": v}] for v in values]
        listed = [
            {"name": str(n), "move_s": 0.5, "hold_s": 0.25, "pose": pose, "joints": joints}
            for n, joints in enumerate((said[0], [], said[1]))
        ]
        nod = {"kind": "keyframes", "name": "Nod", "frames": listed, "repeats": True}
        e = evaluate(with_motions(project, nod), "Nod", 900).reading
        angle = np.degrees(e.angles[:, e.kit.column_of[f"{head.name}/{joint.name}"]])
        t = e.course.time_s[:900]
        held = ((t > 0.0) & (t < 0.25)) | ((t > 0.75) & (t < 1.0))
        np.testing.assert_allclose(angle[held | ((t > 0.25) & (t < 0.75))], values[0], atol=1e-9)
        np.testing.assert_allclose(angle[(t > 1.5) & (t < 1.75)], values[1], atol=1e-9)
        between = angle[(t > 1.0) & (t < 1.5)]
        self.assertTrue((np.diff(between) * np.sign(values[1] - values[0]) >= -1e-12).all())
        self.assertLess(np.abs(np.diff(np.append(angle, angle[0]))).max(), np.ptp(values) * 0.02 + 1e-9)

    def test_a_kick_is_mended_by_moving_later_or_more_slowly(self):
        project = demo("faults/F49")
        motion = next(m.name for m in project.motions if any(
            f.code == "F49" for f in evaluate(project, m.name).findings))  # fmt: skip
        finding = next(f for f in evaluate(project, motion).findings if f.code == "F49")
        titles = [r.title for r in remedies(project, motion, finding)]
        self.assertTrue(any(" of the cycle" in title for title in titles), titles)


class Obstacles(SeededTest):
    def test_when_in_the_cycle_a_leg_swings_does_not_change_what_it_clears(self):
        """Swings that run over the end of the cycle are continued where the next begins."""
        project = changed(hexapod(), {"floor": {"obstacle_mm": 10.0, "obstacle_at": 0.3}, "motions/0/gait": "custom"})
        told = []
        for shift in (0.0, 0.25, float(self.random.uniform(0, 1))):
            legs = [{**leg, "phase": (leg["phase"] + shift) % 1.0} for leg in document(project)["motions"][0]["legs"]]
            e = evaluate(changed(project, {"motions/0/legs": legs}), "Forward", 2000).reading
            told.append([b.over_obstacle_mm for b in sorted(e.of(clearances), key=lambda b: b.limb)])
        np.testing.assert_allclose(told[1], told[0], atol=0.05, err_msg=f"seed {self.seed}")
        np.testing.assert_allclose(told[2], told[0], atol=0.05, err_msg=f"seed {self.seed}")

    def test_pile_catches_what_an_obstacle_would_not(self):
        e = evaluate(hexapod(), "Forward").reading
        left = e.of(clearances)[0].left_mm
        for pile, fires in ((left + 0.5, True), (left - 0.5, False)):
            found = evaluate(changed(hexapod(), {"floor": {"pile_mm": pile}}), "Forward").findings
            self.assertEqual(any(f.code == "F24" and "pile" in f.message for f in found), fires, pile)

    def test_a_landing_speed_that_was_chosen_is_taken_back(self):
        project = changed(
            hexapod(),
            {"motions/0/foot_path": "cycloid", "motions/0/swing/landing_mm_s": 600.0, "limits/jolt_share": 0.3},
        )
        finding = next(f for f in evaluate(project, "Forward").findings if f.code == "F25")
        titles = [r.title for r in remedies(project, "Forward", finding)]
        self.assertIn("Land without speed instead of 600 mm/s", titles)


class WhatHangsOnALimb(SeededTest):
    def furnished(self):
        """A walker with a lead, a mass, a frame and an arm that name limbs."""
        project = demo("faults/F49.sound")
        values = document(project)
        leg = project.walker.legs[0]
        head = next(limb for limb in project.walker.limbs if not limb.steps)
        link = leg.links[-1].name
        path = [{"on": "body", "at_mm": [0.0, 0.0, 10.0]}, {"on": f"{leg.name}/{link}"}]
        values["walker"]["leads"] = [{"name": "Foot lead", "length_mm": 400.0, "path": path}]
        values["walker"]["masses"].append({"name": "Shoe", "mass_g": 9.0, "on": f"{leg.name}/{link}"})
        values["motions"].append(as_keyframes(project, "Forward").model_dump(mode="json"))
        axis = f"{head.name}/{head.joints[0].name}"
        values["controls"] = [{"mode": "look", "input": "knob", "does": "axis", "target": axis}]
        return parse_project(values), leg.name, head.name

    def test_a_name_is_followed_everywhere(self):
        project, leg, head = self.furnished()
        renamed = assembly.renamed(project, {leg: "Pioneer", head: "Lamp"})
        text = str(document(renamed))
        for name in (f"'{leg}'", f"'{leg}/", f"'{head}'", f"'{head}/"):
            self.assertNotIn(name, text)
        for motion in project.motions:
            before, after = (evaluate(p, motion.name, 60).reading for p in (project, renamed))
            np.testing.assert_array_equal(before.angles, after.angles)
            np.testing.assert_array_equal(before.course.com_ground_mm, after.course.com_ground_mm)

    def test_what_hung_on_it_goes_with_it(self):
        project, leg, head = self.furnished()
        for name in (leg, head):
            text = str(document(assembly.removed(project, name)))
            self.assertNotIn(f"'{name}'", text)
            self.assertNotIn(f"'{name}/", text)

    def test_a_copy_carries_what_hung_on_the_first(self):
        project, leg, _ = self.furnished()
        twin = assembly.copied(project, leg)
        new = next(m.name for m in twin.walker.limbs if m.name not in {k.name for k in project.walker.limbs})
        before, after = (evaluate(p, "Forward").reading for p in (project, twin))
        sheets = {s.name: s for s in project.servo_types}
        limb = next(m for m in project.walker.legs if m.name == leg)
        servos = [s for d in project.walker.drives for s in d.servos if d.joints[0].startswith(f"{leg}/")]
        grams = sum(k.mass_g for k in limb.links) + sum(sheets[s.type].mass_g for s in servos)
        grams += sum(m.mass_g for m in project.walker.masses if m.on.startswith(f"{leg}/"))
        self.assertAlmostEqual(
            after.assembled.total_kg,
            before.assembled.total_kg + grams / 1000,
            places=9,
        )
        self.assertTrue(any(t.limb == new for t in twin.motion("Forward").legs))

    def test_the_other_sides_name(self):
        project, leg, _ = self.furnished()
        lone = assembly.renamed(project, {leg: "Leg1"})
        for name in [m.name for m in lone.walker.legs if m.name != "Leg1"][:1]:
            lone = assembly.removed(lone, name)
        names = {m.name for m in assembly.mirrored(lone, "Leg1").walker.limbs}
        self.assertIn("Leg1_R", names)

    def test_round_a_circle_and_back_to_the_first_place(self):
        """Six turns of a sixth bring a foot back to where it was; each stands as far from the middle."""
        project, leg, _ = self.furnished()
        ring = assembly.repeated(project, leg, 3)
        made = [m for m in ring.walker.legs if m.name not in {k.name for k in project.walker.limbs}]
        self.assertEqual(len(made), 2)
        first = project.walker.legs[0]
        for limb in made:
            self.assertAlmostEqual(np.hypot(*limb.neutral_mm), np.hypot(*first.neutral_mm), delta=0.01)
        with self.assertRaisesRegex(InputRefused, "must be from 2 to 12, got 1"):
            assembly.repeated(project, leg, 1)
