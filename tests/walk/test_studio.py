"""The motion studio's judgements: clearing, landing, searching, starting, steering, the next leg, telling otherwise."""

from __future__ import annotations

import io
import json
import zipfile
from functools import cache

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.feet.foot_give import footings
from bustle.core.judge.measures.feet.foot_slip import slip_mm
from bustle.core.judge.measures.feet.landing_jolt import jolt_n
from bustle.core.judge.measures.feet.late_foot import late_feet
from bustle.core.judge.measures.feet.swing_clearance import clearances
from bustle.core.judge.measures.margins.next_leg_ranking import candidates
from bustle.core.kinds.foot_paths import FOOT_PATHS, Swing
from bustle.core.loads.foot_forces import standing_forces
from bustle.core.loads.foot_gives import foot_gives
from bustle.core.project.project import document
from bustle.core.search.motion_set import motion_set
from bustle.core.search.stick_to_walk import Stick, steered
from bustle.core.servo.power_on_order import soft_start
from bustle.core.walk.motions.retold import as_gait, as_keyframes
from bustle.core.words.problems import InputRefused
from bustle.formats import TABLE_FORMATS
from bustle.formats.contacts_svg import runs, write_contacts
from bustle.formats.set_zip import blend_groups, write_set
from tests.long import in_turns
from tests.projects import changed, fault, hexapod, quadruped, start
from tests.seeded import SeededTest


@cache
def with_its_set():
    """A hexapod with the set of its tripod; found once, as it takes seconds."""
    return motion_set(hexapod(), "tripod").kept_in(hexapod())


class Swings(SeededTest):
    def swing(self, path, **more):
        lift = float(self.random.uniform(10, 40))
        return Swing(FOOT_PATHS[path], (lift, lift, lift), FOOT_PATHS[path].points, **more)

    def speeds(self, swing, step_mm, swing_s, at):
        """Across and up, mm/s, by differences at the beginning (0) or the end (1)."""
        du = 1e-6
        u = np.array([0.0, du]) if at == 0 else np.array([1 - du, 1.0])
        across = np.diff(swing.along(u))[0] / du * step_mm / swing_s
        return across, np.diff(swing.height_mm(u, swing_s))[0] / du / swing_s

    def test_matched_paths_touch_the_ground_without_speed(self):
        for path in FOOT_PATHS:
            swing = self.swing(path, matched=True, early=float(self.random.uniform(-0.3, 0.3)))
            for at in (0, 1):
                np.testing.assert_allclose(self.speeds(swing, 60.0, 0.5, at), 0.0, atol=0.1)

    def test_a_chosen_landing_speed_is_the_speed_it_lands_at(self):
        for path in ("cycloid", "minimum_jerk", "rectangle"):
            v = float(self.random.uniform(10, 90))
            swing = self.swing(path, landing_mm_s=v)
            across, up = self.speeds(swing, 60.0, 0.5, 1)
            self.assertAlmostEqual(up, -v, delta=0.05 + v * 1e-3)
            self.assertAlmostEqual(across, 0.0, delta=0.1)
            self.assertEqual(swing.landing(60.0, 0.5), (0.0, v))

    def test_lifts_at_start_middle_and_end(self):
        swing = Swing(FOOT_PATHS["rectangle"], (30.0, 10.0, 20.0))
        u = np.array([0.3401, 0.5, 0.6599])
        height = swing.height_mm(u, 0.5)
        self.assertAlmostEqual(height[1], 10.0, places=6)
        self.assertTrue(10.0 < height[0] < 30.0 and 10.0 < height[2] < 20.0)
        self.assertGreater(swing.height_mm(np.array([0.15]), 0.5)[0], swing.height_mm(np.array([0.85]), 0.5)[0])

    def test_early_swings_are_ahead_and_one_leg_may_differ(self):
        early, late = self.swing("cycloid", early=0.2), self.swing("cycloid", early=-0.2)
        self.assertGreater(early.along(np.array([0.5]))[0], late.along(np.array([0.5]))[0] + 0.2)
        project = changed(hexapod(), {"motions/0/legs/2/lift_mm": 44.0, "motions/0/legs/2/foot_path": "rectangle"})
        e = evaluate(project, "Forward").reading
        peaks = e.course.feet_ground_mm[:, : e.samples, 2].max(axis=1)
        self.assertAlmostEqual(peaks[2], 44.0, delta=0.1)
        self.assertLess(np.delete(peaks, 2).max(), 40.0)


class Landing(SeededTest):
    def test_the_budget_adds_up_and_sag_is_weight_on_the_springs(self):
        stiff = 0.35
        drives = {f"walker/drives/{n}/stiffness_nm_deg": stiff for n in range(18)}
        # Next to their horns these servos give nothing.
        firm = {"servo_types/0/full_torque_at_deg": 1e-4}
        e = evaluate(changed(hexapod(), drives | firm), "Forward").reading
        budget = e.of(clearances)[0]
        self.assertFalse(budget.assumed)
        self.assertAlmostEqual(budget.left_mm, budget.height_mm - budget.sag_mm - budget.droop_mm - budget.uneven_mm)
        other = changed(hexapod(), dict.fromkeys(drives, 2 * stiff) | firm)
        twice = evaluate(other, "Forward").reading.of(clearances)[0]
        self.assertAlmostEqual(twice.sag_mm, budget.sag_mm / 2, delta=1e-3 * budget.sag_mm)
        # Each of the three feet that stand sinks by what it carries; the lifted one goes with their plane, and hangs.
        down = np.flatnonzero(e.course.contact[:, budget.sample])
        at = e.course.feet_ground_mm[:, budget.sample]
        sinks = [e.of(standing_forces).of_limb(n)[budget.sample, 2] * e.of(foot_gives)[n][budget.sample] for n in down]
        plane = np.linalg.solve(np.column_stack([np.ones(3), at[down, :2]]), sinks)
        self.assertAlmostEqual(budget.sag_mm, float(plane @ [1.0, *at[budget.limb, :2]]), delta=0.2 * budget.sag_mm)
        self.assertTrue(evaluate(hexapod(), "Forward").reading.of(clearances)[0].assumed)

    def test_the_jolt_is_what_a_mass_on_a_spring_pushes_back_with(self):
        from scipy.integrate import solve_ivp

        footing = evaluate(hexapod(), "Forward").reading.of(footings)[0]
        k, m, v = 1000 / footing.give_mm_per_n, footing.mass_kg, 0.12
        quarter = np.pi / 2 / np.sqrt(k / m)
        run = solve_ivp(lambda t, y: [y[1], -k / m * y[0]], (0, 2 * quarter), [0.0, v], rtol=1e-9, atol=1e-12)
        self.assertAlmostEqual(jolt_n(footing, 120.0), k * np.abs(run.y[0]).max(), delta=0.01 * jolt_n(footing, 120.0))

    def test_a_foot_that_searches_leans_the_body_less(self):
        uneven = {"floor/unevenness_mm": 12.0}
        leans = []
        for depth in (0.0, 6.0, 12.0):
            e = evaluate(changed(hexapod(), {**uneven, "motions/0/swing/search_mm": depth}), "Forward").reading
            self.assertTrue(all(s.reach_mm == depth for s in e.of(late_feet)))
            leans.append(max(s.lean_deg(12.0) for s in e.of(late_feet)))
        self.assertGreater(leans[0], leans[1])
        self.assertEqual(leans[2], 0.0)
        # At the end of its reach a leg cannot go as deep as it is asked to.
        tall = {"motions/0/pose/ride_height_mm": 118.0, "motions/0/swing/search_mm": 60.0}
        e = evaluate(changed(hexapod(), tall), "Forward").reading
        self.assertLess(min(s.reach_mm for s in e.of(late_feet)), 60.0)
        self.assertIn("F48", [f.code for f in evaluate(changed(hexapod(), tall), "Forward").findings])


class UpsideDown(SeededTest):
    def test_turned_over_it_walks_on_its_upper_feet(self):
        project = fault("F23", sound=True)
        e = evaluate(project, "Forward").reading
        self.assertLess(e.course.solved.miss_mm.max(), 1e-6)
        # The body's own z axis looks down, the feet are on the floor, and everything else is above it.
        np.testing.assert_allclose(e.course.body.turn[:, 2, 2], -1.0, atol=1e-12)
        for leg in range(6):
            down = e.course.contact[leg]
            self.assertLess(np.abs(e.course.feet_ground_mm[leg, down, 2]).max(), 1e-6)
        self.assertGreater(e.course.body.at[:, 2].min(), 0.0)
        right_way = evaluate(changed(project, {"motions/0/inverted": False}), "Forward").reading
        self.assertAlmostEqual(e.course.body.travel[0][30], right_way.course.body.travel[0][30])

    @in_turns
    def test_a_foot_beside_its_link_stands_where_the_leg_can_put_it(self):
        """Whatever a leg follows is met by the foot on the floor: height always, and all of it by three joints."""
        follows = {"six_two": 2, "six_two_radial": 2, "four_upright_2": 2, "four_upright": 3, "four_sprawled": 3}
        for shape, coordinates in follows.items():
            values = document(start(shape, "Over", 180.0))
            long = 180.0 * self.random.uniform(0.03, 0.12, 2)
            sprawled = not shape.startswith("four_upright")
            upper = [-long[0], 0.0, long[1]] if sprawled else [long[0], 0.0, long[1] / 3]
            if coordinates == 3:
                upper[1] = float(self.random.uniform(-20, 20))
            walk = next(m for m in values["motions"] if m["name"] == "Forward")
            walk["inverted"], values["motions"] = True, [walk]
            walk["pose"]["ride_height_mm"] = 70.0 if sprawled else 110.0
            for limb in values["walker"]["limbs"]:
                for joint in limb["joints"]:
                    joint["min_deg"], joint["max_deg"] = -360.0, 360.0
                limb["feet"].append({"name": "aside", "side": "upper", "at_mm": upper})
            course = evaluate(parse_project(values), "Forward").reading.course
            with self.subTest(shape=shape, seed=self.seed, upper=upper):
                self.assertLess(course.solved.miss_mm.max(), 1e-6)
                off = course.feet_ground_mm - course.target_ground_mm
                self.assertLess(np.abs(off[..., 2]).max(), 1e-6)
                if coordinates == 3:
                    self.assertLess(np.abs(off).max(), 1e-6)

    def test_what_is_made_of_it_goes_upside_down_too_and_not_half_of_it(self):
        def in_a_row(project, *names):
            values = document(project)
            values["motions"].append({"kind": "joint_pose", "name": "Centred"})
            parts = [{"motion": n, "by": "seconds"} for n in names]
            values["motions"].append({"kind": "programme", "name": "Row", "parts": parts})
            return parse_project(values)

        project = fault("F23", sound=True)
        row = evaluate(in_a_row(project, "Forward", "Forward"), "Row")
        self.assertLess(row.reading.course.solved.miss_mm.max(), 1e-6)
        np.testing.assert_allclose(row.reading.course.body.turn[:, 2, 2], -1.0, atol=1e-12)
        faulty = evaluate(in_a_row(fault("F23"), "Forward"), "Row")
        self.assertIn("F23", [f.code for f in faulty.findings])
        with self.assertRaises(InputRefused) as refused:
            in_a_row(project, "Forward", "Centred")
        self.assertIn("turn the walker over by hand", str(refused.exception))


class Starting(SeededTest):
    def test_every_servo_is_switched_on_once_and_none_before_its_turn(self):
        project = changed(hexapod(), {"start_up/at_once": 4, "start_up/speed_deg_s": 50.0})
        found = soft_start(project)
        self.assertEqual(len(found.switches), 18)
        self.assertEqual(len({s.servo for s in found.switches}), 18)
        for at in {s.at_s for s in found.switches}:
            group = [s for s in found.switches if s.at_s == at]
            self.assertLessEqual(len(group), 4)
            later = [s.at_s for s in found.switches if s.at_s > at]
            if later:
                self.assertAlmostEqual(min(later) - at, max(s.travel for s in group) / 50.0, delta=0.01)
        limits = {f"{m.name}/{j.name}": j for m in project.walker.limbs for j in m.joints}
        for s in found.switches:
            joint = limits[s.joint]
            self.assertAlmostEqual(s.travel, max(s.to - joint.min_deg, joint.max_deg - s.to), delta=0.06)


class Steering(SeededTest):
    def setUp(self):
        super().setUp()
        self.project = with_its_set()

    def test_full_stick_is_the_motion_itself_and_half_is_half(self):
        forward = self.project.motion("Forward").twist.vx_mm_s
        self.assertAlmostEqual(steered(self.project, Stick(1, 0, 0)).twist.vx_mm_s, forward, places=2)
        half = steered(self.project, Stick(0.5, 0, 0))
        self.assertAlmostEqual(half.twist.vx_mm_s, forward / 2, places=2)
        slow = steered(self.project, Stick(0.5, 0, 0), "slower_pace")
        self.assertAlmostEqual(slow.cycle_s, 2 * half.cycle_s, delta=0.02)
        self.assertAlmostEqual(slow.twist.vx_mm_s * slow.cycle_s, forward * half.cycle_s, delta=0.5)

    def test_no_mixture_strides_longer_than_its_parts_and_the_inner_side_is_shorter(self):
        longest = max(
            float(evaluate(self.project, n).reading.score.stroke_mm.max()) for n in ("Forward", "Left", "Turn left")
        )
        for _ in range(12):
            stick = Stick(*(float(v) for v in self.random.uniform(-1, 1, 3)))
            walk = steered(self.project, stick)
            values = document(self.project)
            values["motions"] = [walk.model_dump(mode="json")]
            plan = evaluate(parse_project(values), "Drive")
            self.assertLessEqual(plan.reading.score.stroke_mm.max(), longest * 1.001, stick)
        arc = steered(self.project, Stick(0.6, 0, 0.4))
        values = document(self.project)
        values["motions"] = [arc.model_dump(mode="json")]
        strokes = evaluate(parse_project(values), "Drive").reading.score.stroke_mm
        names = [m.name for m in self.project.walker.limbs]
        self.assertLess(max(strokes[n] for n, name in enumerate(names) if name[0] == "L"),
                        min(strokes[n] for n, name in enumerate(names) if name[0] == "R"))  # fmt: skip

    def test_a_way_the_set_lacks_is_refused(self):
        with self.assertRaises(InputRefused) as caught:
            steered(start("four_upright_2", "Straight", 200.0), Stick(0, -1, 0))
        self.assertIn("goes to the right", str(caught.exception))

    @in_turns
    def test_a_motion_of_another_name_goes_that_way_too(self):
        back = steered(quadruped(), Stick(0, 0.5, 0))
        self.assertGreater(back.twist.vy_mm_s, 0)
        self.assertEqual((back.twist.vx_mm_s, back.twist.omega_deg_s), (0.0, 0.0))


class NextLeg(SeededTest):
    def test_the_next_leg_may_lift_and_has_least_stroke_left(self):
        for base in (hexapod(), quadruped()):
            e = evaluate(base, "Forward").reading
            keep = base.limits.margin_mm
            for sample in self.random.integers(0, e.samples, 12):
                found = candidates(e, int(sample))
                self.assertEqual({c.leg for c in found},
                                 {m.name for m, d in zip(base.walker.limbs, e.course.contact[:, sample], strict=True)
                                  if d})  # fmt: skip
                may = [c for c in found if c.may(keep)]
                self.assertEqual(found[: len(may)], may)
                self.assertTrue((np.diff([c.left_s for c in may]) > -1e-5).all())

    def test_time_left_is_when_the_gait_itself_lifts_the_leg(self):
        """Walking on as it walks, a leg has used up its stroke just as its own stance ends."""
        e = evaluate(hexapod(), "Forward", 600).reading
        for sample in (10, 200, 420):
            now = sample * e.row_s
            for c in candidates(e, sample):
                leg = e.timing[c.leg]
                stance = ((now / e.gait.cycle_s - leg.phase) % 1.0) * e.gait.cycle_s
                self.assertAlmostEqual(c.left_s, leg.duty * e.gait.cycle_s - stance, delta=2 * e.row_s)


class ToldOtherwise(SeededTest):
    def test_a_gait_by_frames_walks_the_same_and_comes_back_as_it_was(self):
        for project in (hexapod(), quadruped()):
            gait = project.motion("Forward")
            frames = as_keyframes(project, "Forward")
            values = document(project)
            values["motions"].append(frames.model_dump(mode="json"))
            both = parse_project(values)
            told, own = (evaluate(both, name, 400).reading for name in (frames.name, "Forward"))
            self.assertAlmostEqual(told.score.duration_s, gait.cycle_s, places=6)
            agree = told.course.contact[:, :400] == own.course.contact[:, :400]
            self.assertGreater(agree.mean(), 0.995)
            self.assertLess(told.of(slip_mm).max(), 1e-3)
            back = as_gait(both, frames.name)
            for one, other in zip(back.legs, gait.legs, strict=True):
                self.assertEqual(one.limb, other.limb)
                self.assertAlmostEqual((one.phase - other.phase + 0.5) % 1.0, 0.5, delta=0.001)
                self.assertAlmostEqual(one.duty, other.duty, delta=0.001)
            self.assertEqual(back.twist, gait.twist)
            self.assertAlmostEqual(back.lift_mm, gait.lift_mm, delta=0.5)

    def test_what_is_no_gait_says_why(self):
        project = hexapod()
        values = document(project)
        frame = {"name": "One", "pose": {"ride_height_mm": 75.0}}
        values["motions"].append({"kind": "keyframes", "name": "Once", "repeats": False, "frames": [frame, frame]})
        with self.assertRaises(InputRefused) as caught:
            as_gait(parse_project(values), "Once")
        self.assertIn("does not repeat", str(caught.exception))


class Written(SeededTest):
    @in_turns
    def test_the_set_holds_a_table_for_every_motion_and_says_what_blends(self):
        project = changed(
            with_its_set(), {"controls": [{"mode": "Walk", "input": "Stick up", "does": "motion", "target": "Forward"}]}
        )
        data, _ = write_set(project, TABLE_FORMATS["csv"], anyway=True)
        self.assertEqual(data, write_set(project, TABLE_FORMATS["csv"], anyway=True)[0])
        archive = zipfile.ZipFile(io.BytesIO(data))
        about = json.loads(archive.read("set.json"))
        self.assertEqual([m["name"] for m in about["motions"]], [m.name for m in project.motions])
        for motion in about["motions"]:
            rows = archive.read(motion["file"]).decode().strip().splitlines()
            self.assertEqual(len([r for r in rows if r[0].isdigit()]), motion["rows"])
        self.assertEqual(about["controls"][0]["target"], "Forward")
        self.assertEqual(len(about["start"]["switch_on"]), 18)
        self.assertIn("Forward", about["blend_groups"][0])
        # Rows of motions in one group may be mixed: their feet stand and swing together.
        contacts = [evaluate(project, n).reading for n in blend_groups(project)[0]]
        for e in contacts[1:]:
            np.testing.assert_array_equal(e.course.contact[:, : e.samples], contacts[0].course.contact[:, : e.samples])

    def test_the_picture_of_contacts_shows_every_stance(self):
        import xml.etree.ElementTree as ElementTree

        plan = evaluate(start("six_sprawled", "A & B", 200.0), "Forward")
        root = ElementTree.fromstring(write_contacts(plan))
        filled = [r for r in root.iter("{http://www.w3.org/2000/svg}rect") if r.get("fill") == "#000"]
        e = plan.reading
        self.assertEqual(len(filled), sum(len(runs(e.course.contact[n, : e.samples])) for n in range(6)))
        wide = sum(float(r.get("width")) for r in filled)
        self.assertAlmostEqual(wide / 640, e.course.contact[:, : e.samples].mean() * 6, places=2)
