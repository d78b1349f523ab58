"""Motions made of motions: walks from rest and to rest, changes of gait and pose, programmes, keyframes, pauses."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.geometry.planar_twist import carry, displacement
from bustle.core.judge.measures.feet.foot_slip import slip_mm
from bustle.core.judge.measures.joint_rates import joint_rates
from bustle.core.project.project import document
from bustle.core.walk.motions.retold import as_keyframes
from bustle.core.words.problems import InputRefused
from tests.long import in_turns
from tests.motions import joins, programme, transition, twist_of, with_motions
from tests.projects import changed, demo, hexapod, quadruped, start
from tests.seeded import SeededTest

STANDING = "Stand"


class Continuity(SeededTest):
    """The machine is where it was when one motion ends and the other begins, and as quick."""

    def random_gaits(self, project):
        values = document(project)
        for motion in values["motions"][:2]:
            motion["twist"] = {
                "vx_mm_s": float(self.random.uniform(-30, 40)),
                "vy_mm_s": float(self.random.uniform(-20, 20)),
                "omega_deg_s": float(self.random.uniform(-12, 12)),
            }
            motion["pose"]["roll_deg"] = float(self.random.uniform(-2, 2))
        return parse_project(values)

    def test_a_transition_joins_what_it_joins(self):
        for base in (hexapod(), quadruped()):
            for _ in range(3):
                project = self.random_gaits(base)
                p, q = (round(float(v), 3) for v in self.random.uniform(0, 0.999, 2))
                one, other = project.motions[0].name, project.motions[1].name
                project = with_motions(project, transition("Change", one, p, other, q))
                with self.subTest(seed=self.seed, phases=(p, q)):
                    joins(project, "Change", one, p, other, q)

    def test_from_standing_and_back(self):
        project = hexapod()
        project = with_motions(
            project,
            transition("Set out", STANDING, 0.0, "Forward", 0.3),
            transition("Halt", "Forward", 0.7, STANDING, 0),
        )
        joins(project, "Set out", STANDING, 0.0, "Forward", 0.3)
        joins(project, "Halt", "Forward", 0.7, STANDING, 0.0)

    def test_nothing_jumps_on_the_way(self):
        """Between neighbouring rows no foot, and no joint, moves further than its speed allows anywhere."""
        project = with_motions(
            quadruped(),
            transition("Change", "Forward", 0.31, "Turn left", 0.77),
            transition("Halt", "Forward", 0.5, "Stand", 0),
        )
        for name in ("Change", "Halt"):
            coarse, fine = (evaluate(project, name, n).reading for n in (2001, 8001))
            for e in (coarse, fine):
                self.assertFalse(e.score.periodic)
            steps = [np.abs(np.diff(e.angles, axis=0)).max() for e in (coarse, fine)]
            self.assertLess(steps[1], steps[0] / 2)

    def test_standing_feet_stay_where_they_are(self):
        project = with_motions(
            hexapod(), transition("Change", "Forward", 0.2, "Turn left", 0.6),
            programme(
                "Round", ("Forward", 300.0, "distance_mm"), ("Turn left", 90.0, "turn_deg"), ("Stand", 1.0, "seconds")
            ),
        )  # fmt: skip
        for name in ("Change", "Round"):
            e = evaluate(project, name, 4001).reading
            for leg in range(6):
                down = e.course.contact[leg, :4001]
                stays = down[:-1] & down[1:]
                for track in (e.course.target_ground_mm[leg, :4001], e.course.feet_ground_mm[leg, :4001]):
                    moved = np.linalg.norm(np.diff(track, axis=0), axis=1)
                    self.assertLess(
                        moved[stays].max(), 1e-9 if track is e.course.target_ground_mm[leg, :4001] else 1e-6
                    )
            self.assertEqual([f.code for f in evaluate(project, name).findings if f.severity == "stop"], [])


class Programmes(SeededTest):
    def test_a_hundred_steps_end_where_their_twists_lead(self):
        project = hexapod()
        names = ["Forward", "Turn left", "Forward", "Sideways left"]
        names = [n for n in names if n in {m.name for m in project.motions}]
        parts, pose = [], (np.array(0.0), np.array(0.0), np.array(0.0))
        for n in range(50):
            # Two steps a cycle: each foot once.
            name = names[n % len(names)]
            parts.append((name, 1.0, "cycles"))
            moved = displacement(*twist_of(project, name), project.motion(name).cycle_s)
            x, y = carry(pose, moved[0], moved[1])
            pose = (x, y, pose[2] + moved[2])
        plan = evaluate(with_motions(project, programme("Hundred", *parts)), "Hundred")
        e = plan.reading
        travel = [float(v[e.samples - 1]) for v in e.course.body.travel]
        np.testing.assert_allclose(travel, [float(v) for v in pose], atol=1e-6)
        lifts = sum(
            int(((~e.course.contact[leg, 1 : e.samples]) & e.course.contact[leg, : e.samples - 1]).sum())
            for leg in range(6)
        )
        self.assertGreaterEqual(lifts, 100)
        self.assertAlmostEqual(plan.figure("heading_deg"), np.degrees(travel[2]), places=6)

    def test_distance_and_turn_are_met(self):
        project = with_motions(
            hexapod(), programme("Course", ("Forward", 437.0, "distance_mm"), ("Turn left", 33.0, "turn_deg"))
        )
        e = evaluate(project, "Course").reading
        x, y, theta = (float(v[e.samples - 1]) for v in e.course.body.travel)
        self.assertAlmostEqual(x, 437.0, places=6)
        self.assertAlmostEqual(y, 0.0, places=6)
        self.assertAlmostEqual(np.degrees(theta), 33.0, places=6)

    def test_it_ends_with_every_foot_at_neutral(self):
        project = with_motions(hexapod(), programme("Course", ("Forward", 2.3, "cycles"), ("Turn left", 1.7, "cycles")))
        e = evaluate(project, "Course").reading
        last = e.samples - 1
        for leg, limb in enumerate(project.walker.limbs):
            x, y = carry(tuple(v[last] for v in e.course.body.travel), *limb.neutral_mm)
            np.testing.assert_allclose(e.course.feet_ground_mm[leg, last], [x, y, 0.0], atol=1e-6)

    def test_what_cannot_be_chained_is_refused(self):
        project = hexapod()
        for part, words in (
            (("Nowhere", 1.0, "cycles"), "no motion is called 'Nowhere'"),
            (("Stand", 100.0, "distance_mm"), "Stand covers no distance"),
            (("Forward", 10.0, "turn_deg"), "Forward does not turn"),
            (("Forward", 0.0, "cycles"), "must be above 0, got 0"),
        ):
            with self.subTest(part=part), self.assertRaises(InputRefused) as caught:
                with_motions(project, programme("Bad", part))
            self.assertIn(words, str(caught.exception))
            self.assertIn("motions[", str(caught.exception))
        with self.assertRaises(InputRefused) as caught:
            with_motions(project, programme("One", ("Stand", 1.0, "seconds")), programme("Two", ("One", 1.0, "cycles")))
        self.assertIn("One is itself made of motions", str(caught.exception))


class Folding(SeededTest):
    def test_up_from_the_fold_and_down_again(self):
        for shape in ("six_sprawled", "four_upright"):
            project = start(shape, "Folder", 200.0)
            project = with_motions(
                project, {"kind": "joint_pose", "name": "Centred", "joints": []},
                transition("Down", "Stand", 0.0, "Centred", 0.0), transition("Up", "Centred", 0.0, "Stand", 0.0),
            )  # fmt: skip
            down, up = (evaluate(project, name, 801).reading for name in ("Down", "Up"))
            stand, centred = (evaluate(project, name, 10).reading for name in ("Stand", "Centred"))
            np.testing.assert_allclose(down.angles[0], stand.angles[0], atol=1e-9)
            np.testing.assert_allclose(down.angles[-1], centred.angles[0], atol=1e-9)
            np.testing.assert_allclose(up.angles[-1], stand.angles[0], atol=1e-9)
            for e in (down, up):
                self.assertLess(np.abs(np.diff(e.angles, axis=0)).max(), np.radians(4.0))
                height = e.course.body.at[: e.samples, 2]
                self.assertLess(np.abs(np.diff(height)).max(), 4.0, shape)

    def squatting(self, shape, bend_deg=0.0):
        """Crouched on its own feet by joints that are given, each told to 0.01°; its soles rolled by so much."""
        project = start(shape, "Squats", float(self.random.uniform(80, 400)))
        sinks = 1.0 if shape in ("two_rocker", "two_wheels", "four_casters") else 0.97
        low = project.motion("Stand").pose.ride_height_mm * sinks
        at = [m.name for m in project.motions].index("Stand")
        r = evaluate(changed(project, {f"motions/{at}/pose/ride_height_mm": low}), "Stand").reading
        joints = []
        for joint, angle in zip(r.kit.joints, r.angles[0], strict=True):
            more = bend_deg if joint.name.endswith("roll") else 0.0
            joints.append(
                {"limb": joint.limb.name, "joint": joint.name, "value": round(float(np.degrees(angle)), 2) + more}
            )
        return with_motions(
            project, {"kind": "joint_pose", "name": "Squat", "joints": joints},
            transition("Down", "Stand", 0.0, "Squat", 0.0), transition("Up", "Squat", 0.0, "Stand", 0.0),
        )  # fmt: skip

    @in_turns
    def test_a_pose_of_joints_that_it_stands_in_is_come_to_and_left(self):
        """Feet, or what rolls under its belly, carry it all the way: nobody is told that it falls, is lowered on to
        its casters or lacks grip for standing."""
        for shape in ("six_sprawled", "four_upright_2", "two_full", "two_rocker", "four_casters", "two_wheels"):
            project = self.squatting(shape)
            for name in ("Squat", "Down", "Up"):
                with self.subTest(shape=shape, motion=name, seed=self.seed):
                    self.assertFalse([f.message for f in evaluate(project, name).findings if f.severity == "stop"])

    @in_turns
    def test_a_sole_that_its_given_joints_hold_on_its_edge_is_told(self):
        for bend, told in ((0.0, []), (6.0, ["warn"])):
            found = evaluate(self.squatting("two_full", bend), "Squat").findings
            self.assertEqual([f.severity for f in found if f.code == "F55"], told)


class Frames(SeededTest):
    def test_frames_in_a_row_are_stepped_into_and_out_of(self):
        """A gait told by frames begins in mid-stride: feet step over to where it has them, and home again."""
        project = hexapod()
        told = as_keyframes(project, "Forward")
        values = document(project)
        values["motions"] += [
            told.model_dump(mode="json"),
            programme("Row", ("Forward", 1.0, "cycles"), (told.name, 2.0, "cycles"), ("Forward", 1.0, "cycles")),
            transition("There", "Forward", 0.3, told.name, 0.0),
            transition("Home", told.name, 0.0, "Forward", 0.3),
        ]
        project = parse_project(values)
        for name in ("Row", "There", "Home"):
            e = evaluate(project, name, 4000).reading
            self.assertLess(np.abs(np.diff(e.angles, axis=0)).max(), 0.06, name)
            self.assertLess(e.of(slip_mm).max(), 0.5, name)
            if name != "There":
                feet = np.array([m.neutral_mm for m in project.walker.limbs])
                down = e.course.contact[:, 0] if name == "Row" else np.zeros(6, dtype=bool)
                np.testing.assert_allclose(e.course.feet_body_mm[down, 0, :2], feet[down], atol=1e-6)
        row = evaluate(project, "Row").reading.score
        self.assertEqual([p.name for p in row.pieces].count("Feet to neutral"), 1)

    def test_a_foot_leaves_with_its_frame_and_stands_as_the_next_is_reached(self):
        """Lifts and landings are instants of their own, however coarse the samples, the way back to the start too."""
        project = quadruped()
        pose = document(project)["motions"][0]["pose"]
        pose["sway"] = []
        moves, holds = self.random.uniform(0.2, 0.9, (2, 4)).round(3)
        at = {m.name: m.neutral_mm for m in project.walker.legs}
        # FL is up in the third frame; BR in the first, from where the set begins again.
        up = [("BR",), (), ("FL",), ()]
        frames = [
            {"name": str(n), "move_s": float(moves[n]), "hold_s": float(holds[n]), "pose": pose,
             "feet": [{"limb": name, "at_mm": [*place, 20.0 if name in up[n] else 0.0]} for name, place in at.items()]}
            for n in range(4)
        ]  # fmt: skip
        for repeats in (True, False):
            sequence = {"kind": "keyframes", "name": "Paw", "frames": frames, "repeats": repeats, "judged": False}
            score = evaluate(with_motions(project, sequence), "Paw", 7).reading.score
            leave = np.cumsum(holds + np.array([0.0, *moves[1:]]))
            reach = leave - holds
            expected = [reach[1], leave[1], reach[3], *([leave[3]] if repeats else [])]
            with self.subTest(seed=self.seed, repeats=repeats):
                np.testing.assert_allclose(score.events(), expected, atol=1e-9)
                events = np.array(expected)
                names = [m.name for m in project.walker.limbs]
                for leg, before, after in (
                    ("BR", [False, True, True, True], [True, True, True, False]),
                    ("FL", [True, True, False, True], [True, False, True, True]),
                ):
                    n = names.index(leg)
                    self.assertEqual(score.contacts(events, True)[n].tolist(), before[: len(events)], leg)
                    self.assertEqual(score.contacts(events)[n].tolist(), after[: len(events)], leg)

    def test_feet_already_there_are_not_stepped_over(self):
        pose = document(hexapod())["motions"][0]["pose"]
        low = {**pose, "ride_height_mm": pose["ride_height_mm"] - 10.0}
        bow = {
            "kind": "keyframes",
            "name": "Bow",
            "frames": [{"name": "Up", "pose": pose}, {"name": "Low", "pose": low}],
        }
        project = with_motions(hexapod(), bow, programme("Row", ("Bow", 3.0, "cycles"), ("Stand", 1.0, "seconds")))
        pieces = [p.name for p in evaluate(project, "Row").reading.score.pieces]
        self.assertEqual(pieces[:3], ["Bow"] * 3)
        self.assertNotIn("Feet to neutral", pieces)


class Pauses(SeededTest):
    def test_everything_stands_still_in_a_pause_and_time_is_added(self):
        project = changed(hexapod(), {"motions/0/pauses": [{"at": 0.25, "hold_s": 0.6}]})
        plain = hexapod().motions[0].cycle_s
        e = evaluate(project, "Forward", 2400).reading
        self.assertGreater(e.score.duration_s, plain + 0.6)
        still = np.abs(np.diff(e.angles, axis=0)).max(axis=1) < 1e-12
        self.assertAlmostEqual(still.sum() * e.row_s, 0.6, delta=3 * e.row_s)
        # The body's speed has no step: it eases into the pause.
        speed = np.diff(e.course.body.at[: e.samples, 0]) / e.row_s
        self.assertLess(np.abs(np.diff(speed)).max(), 0.05 * speed.max())
        self.assertAlmostEqual(e.course.body.travel[0][: e.samples].max() / speed.max(), plain, delta=0.01)

    def test_a_walk_from_rest_to_rest_stands_still_at_its_pauses_too(self):
        """As far as without them, and longer by every pause it comes by; by seconds, as many cycles as fit."""
        hold, at = 0.7, float(self.random.uniform(0.2, 0.9))
        plain = with_motions(hexapod(), programme("Row", ("Forward", 3.0, "cycles")))
        paused = changed(plain, {"motions/0/pauses": [{"at": at, "hold_s": hold}]})
        quick, slow = (evaluate(p, "Row", 3000).reading for p in (plain, paused))
        still = np.abs(np.diff(slow.course.body.at[: slow.samples], axis=0)).max(axis=1) < 1e-9
        longer = slow.score.duration_s - quick.score.duration_s
        self.assertGreater(longer, 2.9 * hold)
        self.assertGreater(still.sum() * slow.row_s, 2.9 * hold)
        for a, b in zip(quick.course.body.travel, slow.course.body.travel, strict=True):
            self.assertAlmostEqual(float(a[quick.samples - 1]), float(b[slow.samples - 1]), delta=1e-6)
        self.assertLess(slow.of(slip_mm).max(), 1e-6)
        self.assertLess(np.abs(np.diff(slow.angles, axis=0)).max(), 3 * np.abs(np.diff(quick.angles, axis=0)).max())

    def test_a_head_waits_with_the_walk(self):
        values = document(demo("faults/F49.sound"))
        motion = next(m for m in values["motions"] if m.get("moves_of_arms"))
        motion["pauses"] = [{"at": 0.25, "hold_s": 0.6}]
        move = motion["moves_of_arms"][0]
        move.update(at=0.1, back_at=0.6, takes=0.4)
        e = evaluate(parse_project(values), motion["name"], 1200).reading
        column = e.kit.column_of[f"{move['limb']}/{move['joint']}"]
        legs = np.abs(np.diff(np.delete(e.angles, column, axis=1), axis=0)).max(axis=1) < 1e-12
        self.assertGreater(legs.sum() * e.row_s, 0.5)
        self.assertLess(np.abs(np.diff(e.angles[:, column]))[legs].max(), 1e-12)
        self.assertGreater(np.ptp(e.angles[:, column]), 0.05)

    def test_a_head_looks_both_ways_in_a_cycle(self):
        """Two moves of one joint, one after the other; a second that begins before the first is back is refused."""
        values = document(demo("faults/F49.sound"))
        motion = next(m for m in values["motions"] if m.get("moves_of_arms"))
        first = motion["moves_of_arms"][0] | {"to": 8.0, "at": 0.05, "back_at": 0.3, "takes": 0.15}
        second = first | {"to": -12.0, "at": 0.5, "back_at": 0.75}
        motion["moves_of_arms"] = [first, second]
        r = evaluate(parse_project(values), motion["name"], 200).reading
        column = r.kit.column_of[f"{first['limb']}/{first['joint']}"]
        turned = np.degrees(r.angles[:, column])
        held = {(a.limb, a.joint): a.value for a in r.motion.joints}
        rest = held.get((first["limb"], first["joint"]), 0.0)
        np.testing.assert_allclose(turned[[50, 90, 150, 190]], [8.0, rest, -12.0, rest], atol=1e-9)
        self.assertLess(np.abs(np.diff(turned, append=turned[:1])).max(), 2.0)
        for late, sound in ((0.4, False), (0.46, True), (0.25, False)):
            motion["moves_of_arms"] = [first, second | {"at": late, "back_at": late + 0.25}]
            if sound:
                parse_project(values)
                continue
            with self.assertRaises(InputRefused) as caught:
                parse_project(values)
            self.assertIn("moves_of_arms[1].at", str(caught.exception))
            self.assertIn("still under way", str(caught.exception))


class Nothing(SeededTest):
    def test_a_pose_into_the_same_pose_stands_for_as_long_as_a_pose_takes(self):
        """Whatever is asked of it, held against its sag or not: nothing moves, and nothing is without a number."""
        for shape in ("four_upright", "two_full", "two_rocker"):
            for flows in (True, False):
                asked = transition("Stay", STANDING, 0.0, STANDING, 0.0, pose_s=0.7, flows=flows)
                project = with_motions(start(shape, "Still", 200.0), asked)
                for held in ("off", "static", "full"):
                    with self.subTest(shape=shape, flows=flows, held=held):
                        plan = evaluate(changed(project, {"against_sag": held}), "Stay")
                        self.assertAlmostEqual(plan.reading.score.duration_s, 0.7)
                        self.assertLess(np.abs(plan.reading.of(joint_rates)).max(), 1e-6)
                        self.assertTrue(all(np.isfinite(f.value) for f in plan.figures))


class SwingsInARow(SeededTest):
    """Machines that walk by swinging their joints: from rest into their swings, so many of them, and to rest."""

    def course(self, shape, *parts):
        return with_motions(start(shape, "Row", 180.0), programme("Course", *parts))

    def test_it_is_start_walk_and_stop_in_one_and_ends_standing(self):
        project = self.course(
            "two_servo", ("Forward", 3, "cycles"), ("Turn left", 2, "cycles"), (STANDING, 1, "seconds")
        )
        course = evaluate(project, "Course")
        r = course.reading
        names = ("Start", *["Forward"] * 3, "Stop", "Start turn left", *["Turn left"] * 2, "Stop turn left")
        alone = [evaluate(project, name).reading for name in names]
        rows = np.concatenate([one.angles[: one.samples - (not one.score.periodic)] for one in alone])
        np.testing.assert_allclose(r.angles[: len(rows)], rows, atol=1e-9)
        self.assertLess(np.abs(r.angles[len(rows) :]).max(), 1e-9)
        # Two cycles into the swings, two out of them, and what is asked between.
        self.assertAlmostEqual(r.score.duration_s, (4 + 3 + 4 + 2) * project.motion("Forward").cycle_s + 1)
        # It goes as its soles let it, on from where each leaves off.
        turned = sum(float(one.course.body.travel[2][one.samples - 1]) if not one.score.periodic else one.goes_on[2]
                     for one in alone)  # fmt: skip
        self.assertAlmostEqual(float(r.course.body.travel[2][r.samples - 1]), turned, delta=0.02)
        self.assertEqual([f.code for f in course.findings if f.severity != "note"], [])

    def test_a_change_takes_it_into_its_swings_and_out_of_them(self):
        for shape in ("two_servo", "two_rocker"):
            project = with_motions(
                start(shape, "Change", 180.0),
                transition("In", STANDING, 0.0, "Forward", 0.0),
                transition("Out", "Forward", 0.0, STANDING, 0.0),
            )
            for name, same in (("In", "Start"), ("Out", "Stop")):
                one, other = (evaluate(project, n).reading for n in (name, same))
                np.testing.assert_allclose(one.angles, other.angles, atol=1e-9, err_msg=f"{shape} {name}")

    def test_how_far_it_goes_is_not_asked_of_it(self):
        for by in ("distance_mm", "turn_deg"):
            with self.assertRaisesRegex(InputRefused, "its swings decide; say it in cycles or seconds"):
                self.course("two_rocker", ("Forward", 100, by))
        timed = self.course("two_rocker", ("Forward", 3.0, "seconds"))
        cycle = timed.motion("Forward").cycle_s
        whole = evaluate(timed, "Course").reading.score.duration_s
        self.assertAlmostEqual(whole, (4 + round(3.0 / cycle)) * cycle)
