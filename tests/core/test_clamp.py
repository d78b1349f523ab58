"""One leg on the clamp: reach, levers, straight lines, drift; machines compared; limbs added and mirrored."""

from __future__ import annotations

import numpy as np
import shapely
from scipy.optimize import minimize

from bustle.core.at_rest.foot_drift import explanations
from bustle.core.at_rest.parts_list import parts, totals
from bustle.core.clamp.leg_on_the_clamp import clamp, find, reach_mm
from bustle.core.clamp.reachable_area import PLANES, covers, within
from bustle.core.clamp.straight_line_test import LINES, line_test
from bustle.core.edits import limb_edits as assembly
from bustle.core.evaluate import evaluate
from bustle.core.geometry.serial_chain import forward
from bustle.core.kinds.drives import DRIVES
from bustle.core.machine.sections import turned
from bustle.core.project.project import document
from bustle.core.project.walker import DriftReading, MeasuredLimb
from bustle.core.search.machines_side_by_side import rival
from bustle.core.search.remedies import remedies
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.words.problems import InputRefused
from tests.long import in_turns, is_long, share
from tests.projects import changed, hexapod, quadruped, start, troubles
from tests.seeded import SeededTest


def standing(project, leg=0):
    limb = project.walker.legs[leg]
    return limb.name, np.array(
        [*limb.neutral_mm, -next(m for m in project.motions if m.name == "Stand").pose.ride_height_mm]
    )


class Reach(SeededTest):
    @in_turns
    def test_the_outline_agrees_with_inverse_kinematics_on_ten_thousand_points(self):
        for shape in ("six_sprawled", "four_upright", "six_two", "four_upright_2", "two_full"):
            project = start(shape, "Reach", 200.0)
            name, foot = standing(project)
            group, row = find(project, name)
            size, middle = reach_mm(group, row), group.build.chain.mount_at[row]
            for cut in clamp(project, name, foot).slices:
                axes = list(PLANES[cut.plane])
                places = np.tile(foot, (10_000, 1))
                places[:, axes] = middle[axes] + self.random.uniform(-size, size, (10_000, 2))
                inside = within(project, group, row, places)
                off = np.flatnonzero(inside != covers(cut.rings, places[:, axes]))
                with self.subTest(shape=shape, plane=cut.plane, seed=self.seed):
                    self.assertGreater(inside.sum(), 100)
                    # Slivers between two grid lines may be cut off: both sides of the true edge lie within a square's
                    # diagonal there. Nothing else may differ.
                    self.assertLessEqual(len(off), 8)
                    for place in places[off]:
                        around = np.tile(place, (2_000, 1))
                        turn = self.random.uniform(0, 2 * np.pi, 2_000)
                        far = np.sqrt(2) * size / 120 * np.sqrt(self.random.uniform(0, 1, 2_000))
                        around[:, axes] += far[:, None] * np.stack([np.cos(turn), np.sin(turn)], axis=-1)
                        self.assertEqual(len(np.unique(within(project, group, row, np.vstack([place, around])))), 2)
                        # A foot put there is told that it is at the edge, whatever the outline shows.
                        self.assertLessEqual(
                            abs(clamp(project, name, place, [cut.plane]).slices[0].edge_mm), 2 * size / 120
                        )

    @in_turns
    def test_a_shared_servo_turns_on_the_clamp_as_in_the_table(self):
        """Two yaws on one servo: toes asked apart cannot both be met, on the clamp no more than in the table."""
        project = start("two_full", "Shared", 240.0)
        values = document(project)
        kind = values["servo_types"][0]["name"]
        drives = [d for d in values["walker"]["drives"] if not d["joints"][0].endswith("/yaw")]
        shared = {"kind": "pair_equal", "joints": ["L/yaw", "R/yaw"], "servos": [{"name": "Both yaws", "type": kind}]}
        shared["settings"] = {"second_centre_deg": 0.0}
        project = changed(project, {"walker/drives": [*drives, shared]})
        name, foot = standing(project)
        ahead = foot + np.array([0.0, 25.0, 0.0])
        sole = turned(20.0, 0.0, 0.0)
        free, tied = (clamp(p, name, ahead, ["side"], sole) for p in (start("two_full", "Shared", 240.0), project))
        self.assertAlmostEqual(free.joints[0].value, 20.0, places=3)
        self.assertLess(abs(tied.joints[0].value), 15.0)
        moved = changed(project, {"walker/limbs/0/neutral_mm": ahead[:2].tolist(), "walker/limbs/0/toe_deg": 20.0})
        table = np.degrees(evaluate(moved, "Stand").reading.course.solved.joints[0, :6])
        np.testing.assert_allclose([j.value for j in tied.joints], table, atol=1e-6)

    def test_end_stops_and_servo_travel_cut_the_reach(self):
        project = hexapod()
        name, foot = standing(project)

        def area(p):
            cut = clamp(p, name, foot, ["side"]).slices[0]
            return sum(shapely.area(shapely.polygons(r)) for r in cut.rings)

        stops = changed(project, {"walker/limbs/0/joints/1/max_deg": 40.0})
        travel = changed(project, {"servo_types/0/travel_deg": 90.0})
        self.assertLess(area(stops), 0.9 * area(project))
        self.assertLess(area(travel), 0.9 * area(project))

    @in_turns
    def test_distance_to_the_edge_is_how_far_the_foot_may_go(self):
        project = quadruped()
        name, foot = standing(project)
        group, row = find(project, name)
        for cut in clamp(project, name, foot).slices:
            axes = list(PLANES[cut.plane])
            turn = np.linspace(0, 2 * np.pi, 60)
            for part, all_in in ((0.97, True), (1.1, False)):
                places = np.tile(foot, (60, 1))
                places[:, axes] += part * cut.edge_mm * np.stack([np.cos(turn), np.sin(turn)], axis=-1)
                self.assertEqual(bool(within(project, group, row, places).all()), all_in, cut.plane)


class Soles(SeededTest):
    @in_turns
    def test_a_sole_lies_on_the_slope_it_is_asked_for(self):
        """Every corner of the sole is on the plane through the foot that the slope's normal gives."""
        project = start("two_full", "Full", 260.0)
        name, foot = standing(project)
        for _ in range(40):
            slope = turned(*self.random.uniform((-10, -15, -8), (10, 15, 8)))
            state = clamp(project, name, foot + self.random.uniform(-8, 8, 3) + [0, 0, 12], [], slope)
            self.assertLess(state.short_mm, 1e-6)
            self.assertLess(state.tilt_deg, 1e-6)
            self.assertEqual(len(state.sole), 4)
            np.testing.assert_allclose((state.sole - state.foot) @ slope[:, 2], 0.0, atol=1e-6)

    @in_turns
    def test_the_reach_of_a_tilted_sole_is_another_reach(self):
        project = start("two_full", "Full", 260.0)
        name, foot = standing(project)
        group, row = find(project, name)
        places = foot + self.random.uniform(-120, 120, (4000, 3))
        level, steep = (within(project, group, row, places, turned(0, pitch, 0)) for pitch in (0.0, 25.0))
        self.assertTrue((level & ~steep).any() and (steep & ~level).any())
        for place, good in zip(places[:60], steep, strict=False):
            state = clamp(project, name, place, [], turned(0, 25.0, 0))
            ends = all(j.low - 1e-6 <= j.value <= j.high + 1e-6 for j in state.joints)
            if good:
                self.assertTrue(ends and state.short_mm < 1e-5)


class Levers(SeededTest):
    @in_turns
    def test_a_joint_moves_the_foot_by_its_lever(self):
        """Forward kinematics a tenth of a degree on, against what the clamp says a degree does."""
        for shape in SHAPES:
            project = start(shape, "Levers", 200.0)
            name, foot = standing(project)
            state = clamp(project, name, foot, [])
            group, row = find(project, name)
            chain = group.build.only([row]).chain
            values = np.array([np.radians(j.value) for j in state.joints])
            for n, joint in enumerate(state.joints):
                turned = np.stack([values, values])
                turned[:, n] += np.radians([0.05, -0.05])
                ends = forward(chain, turned[None])[0][0, :, -1]
                per_degree = (ends[0] - ends[1]) / 0.1
                said = joint.per_unit_mm * np.array(joint.direction)
                np.testing.assert_allclose(per_degree, said, atol=2e-4, err_msg=f"{shape} {joint.name}")
                if joint.newtons_per_nm:
                    # Work: torque × angle is force × way.
                    self.assertAlmostEqual(joint.newtons_per_nm * joint.per_unit_mm, 1000 * np.radians(1), places=6)

    def test_sprung_horns_settle_where_energy_is_least(self):
        """½·k·s² of the horns less the work of a small force on the foot, minimised over the servos' own angles."""
        for drive, settings in (("direct", {}), ("gear", {"ratio": -1.7}), ("rod", {})):
            project = changed(
                hexapod(),
                {
                    f"walker/drives/{n}": {
                        **document(hexapod())["walker"]["drives"][n],
                        "kind": drive,
                        "settings": settings,
                        "stiffness_nm_deg": None if n == 0 else 0.01 * n,
                    }
                    for n in range(3)
                },
            )
            name, foot = standing(project)
            state = clamp(project, name, foot, [])
            moved = self.settled(project, name, [j.value for j in state.joints], np.array([1e6, 0.01, 0.02]))
            np.testing.assert_allclose(state.give_mm_per_n, moved, rtol=0.01, atol=0.005, err_msg=drive)
            self.assertGreater(state.give_mm_per_n[2], 1.0)
        self.assertIsNone(clamp(hexapod(), name, foot, []).give_mm_per_n)

    def settled(self, project, name, angles_deg, nm_per_deg, newtons=0.005):
        """Millimetres per newton that the foot comes to rest from where it was, a servo for each of its joints."""
        group, row = find(project, name)
        chain = group.build.only([row]).chain
        own = project.walker.drives[: len(angles_deg)]
        kind = DRIVES[own[0].kind]
        centres = np.radians([[s.centre_deg for s in d.servos] for d in own])
        settings = np.array([kind.values(d.settings) for d in own]).reshape(len(own), -1)
        rest = kind.to_servos(np.radians(angles_deg)[None, :, None], centres, settings)[0, :, 0]

        def place(turn):
            joints = kind.to_joints((rest + turn)[None, :, None], centres, settings)[..., 0]
            return forward(chain, joints[None])[0][0, 0, -1]

        start_at = place(np.zeros(len(own)))

        def energy(turn):
            spring = 0.5 * (nm_per_deg * 180 / np.pi) @ turn**2
            return 1e4 * (spring - newtons * (place(turn) - start_at)[2] / 1000)

        still = np.zeros(len(own))
        turn = minimize(energy, still, method="Nelder-Mead", options={"xatol": 1e-10, "fatol": 1e-14}).x
        return (place(turn) - start_at) / newtons

    def test_the_knee_spikes_as_it_straightens(self):
        project = hexapod()
        name, foot = standing(project)
        mount = np.array(project.walker.limbs[0].mount.at_mm)
        out = (foot - mount) * [1, 1, 0]
        out /= np.linalg.norm(out)
        rates = [clamp(project, name, mount + out * d - [0, 0, 20.0], []).knee_deg_per_mm for d in (130, 180, 197)]
        self.assertTrue(rates[0] < rates[1] < rates[2])


class Straight(SeededTest):
    def test_the_design_goes_straight_and_an_error_shows(self):
        project = hexapod()
        name, foot = standing(project, 1)
        for line in LINES:
            sound = line_test(project, name, foot, line, 60.0, MeasuredLimb(limb=name))
            self.assertLess(sound.worst_mm, 1e-6)
            self.assertIsNone(sound.limited)
        longer = MeasuredLimb(limb=name, link_length_mm={"femur": 62.0})
        zero = MeasuredLimb(limb=name, joint_zero_deg={"femur": 3.0})
        # Out along the leg a femur zero only tilts the line; across the leg it bends it.
        self.assertAlmostEqual(line_test(project, name, foot, "sideways", 80.0, zero).lean_deg, 3.0, places=6)
        self.assertGreater(line_test(project, name, foot, "fore_aft", 80.0, zero).worst_mm, 0.05)
        self.assertGreater(line_test(project, name, foot, "mixed", 80.0, longer).worst_mm, 0.02)
        play = MeasuredLimb(limb=name, joint_play_deg={"yaw": 1.0})
        swing = line_test(project, name, foot, "sideways", 20.0, play)
        # Half a degree either way about the hip, straight across the line.
        self.assertAlmostEqual(swing.worst_mm, np.radians(0.5) * 114.0, delta=2.0)

    def test_it_says_which_joint_stops_it_and_where(self):
        project = changed(hexapod(), {"walker/limbs/1/joints/0/max_deg": 10.0})
        name, foot = standing(project, 1)
        found = line_test(project, name, foot, "fore_aft", 160.0, MeasuredLimb(limb=name))
        self.assertEqual(found.limited, "L2 yaw is at its end stop")
        radius = np.linalg.norm(foot[:2] - project.walker.limbs[1].mount.at_mm[:2])
        self.assertAlmostEqual(abs(found.limited_at_mm), radius * np.tan(np.radians(10)), delta=2.5)
        self.assertAlmostEqual(found.clear_mm, 2 * abs(found.limited_at_mm), places=6)


class Drift(SeededTest):
    def test_the_joint_that_is_off_ranks_first(self):
        """A zero put in on purpose, read at four heights, is found again with its size."""
        for joint, zero in (("femur", 3.0), ("femur", -2.0)):
            project = hexapod()
            limb = project.walker.limbs[1]
            truth = MeasuredLimb(limb="L2", joint_zero_deg={joint: zero})
            name, foot = standing(project, 1)
            readings = []
            for height in (30.0, 60.0, 90.0, 110.0):
                place = np.array([*foot[:2], -height])
                built = line_test(project, name, place, "up_down", 1e-6, truth)
                off = (built.path[0] - place)[:2]
                readings.append(DriftReading(height_mm=height, drift_mm=(float(off[0]), float(off[1]))))
            found = explanations(project.walker, limb, tuple(readings), MeasuredLimb(limb="L2"))
            self.assertEqual((found[0].kind, found[0].part), ("zero", joint))
            self.assertAlmostEqual(found[0].amount, zero, delta=0.02)
            self.assertLess(found[0].left_mm, 0.01)
            self.assertGreater(found[-1].left_mm, 0.5)


class Comparing(SeededTest):
    def test_fewer_joints_cost_less_and_slip_more(self):
        three, two = (
            {f.name: f.value for f in rival(start(s, s, 180.0), s).figures} for s in ("six_sprawled", "six_two")
        )
        self.assertLess(two["servos"], three["servos"])
        self.assertLess(two["price"], three["price"])
        self.assertGreater(two["slip_mm"], three["slip_mm"])
        self.assertGreater(two["turning_radius_mm"], three["turning_radius_mm"])

    @in_turns
    def test_torque_is_weight_times_lever(self):
        """A straight-legged stand on four: the femur's torque is a quarter of the weight at the foot's distance out."""
        project = start("four_sprawled", "Torque", 200.0)
        figures = {f.name: f.value for f in rival(project, "x", "Stand").figures}
        e = evaluate(project, "Stand").reading
        levers = []
        for n in range(4):
            points = e.course.solved.points[n][0]
            levers += [np.linalg.norm((points[-1] - points[k])[:2]) for k in (1, 2)]
        weight = sum(m.mass_kg for m in e.assembled.masses) * 9.80665 / 4
        self.assertAlmostEqual(figures["torque_nm"], weight * max(levers) / 1000, places=6)

    @in_turns
    def test_the_parts_list_adds_up_to_the_mass_of_the_plan(self):
        for shape in SHAPES:
            project = start(shape, "Parts", 200.0)
            plan = evaluate(project, project.motions[0].name)
            self.assertAlmostEqual(totals(project)[0].value, plan.figure("mass_g"), places=6, msg=shape)
            self.assertEqual(sum(p.count for p in parts(project) if p.kind == "servo"), len(plan.reading.kit.servos))


class Assembly(SeededTest):
    @in_turns
    def test_a_removed_leg_mirrored_back_stands_as_before(self):
        for project, gone, source in ((hexapod(), "R1", "L1"), (quadruped(), "BR", "BL")):
            again = assembly.mirrored(assembly.removed(project, gone), source)
            before, after = (evaluate(p, "Stand").reading for p in (project, again))
            old = [m.name for m in project.walker.limbs].index(gone)
            new = [m.name for m in again.walker.limbs].index(gone)
            np.testing.assert_allclose(
                after.course.solved.points[new], before.course.solved.points[old], atol=1e-9, err_msg=gone
            )
            self.assertAlmostEqual(
                after.assembled.total_kg,
                before.assembled.total_kg,
                places=9,
            )
            self.assertEqual(troubles(evaluate(again, "Stand")), ())

    @in_turns
    @is_long
    def test_every_leg_family_mirrors_to_the_mirrored_foot(self):
        for shape in share(self.random, list(SHAPES), 8):
            project = start(shape, "Mirror", 180.0)
            left = next(m.name for m in project.walker.legs if m.mount.at_mm[1] > 0)
            twin = assembly.mirrored(project, left)
            e = evaluate(twin, "Stand").reading
            names = [m.name for m in twin.walker.limbs]
            own = twin.walker.limbs[names.index(left)].mount.at_mm
            other = next(m.name for m in twin.walker.legs if m.mount.at_mm[0] == own[0] and m.mount.at_mm[1] < 0)
            one, two = (e.course.solved.points[names.index(n)][0, -1] for n in (left, other))
            np.testing.assert_allclose(one * [1, -1, 1], two, atol=1e-6, err_msg=shape)

    @in_turns
    def test_a_walker_that_loses_legs_is_still_judged_and_mended(self):
        """Legs left uneven fit no named gait; every finding is still asked for its remedies."""
        asked = 0
        for shape in ("six_sprawled", "six_two_radial", "four_upright"):
            project = start(shape, "Lamed", 200.0)
            while len(project.walker.legs) > 2:
                gone = str(self.random.choice([limb.name for limb in project.walker.legs]))
                project = assembly.removed(project, gone)
                for motion in project.motions[-3:]:
                    for finding in evaluate(project, motion.name, 40).findings:
                        remedies(project, motion.name, finding)
                        asked += 1
            with self.assertRaisesRegex(InputRefused, "a walker has 2 to 12 legs"):
                assembly.removed(project, project.walker.legs[0].name)
        self.assertGreater(asked, 5)

    def test_a_leg_that_cannot_keep_to_the_line_has_a_short_straight_stroke(self):
        """By hand: the straight stretch is where its path is within the slip allowed of the line."""
        two, three = (rival(start(shape, "Straight", 160.0), "x") for shape in ("six_two_radial", "six_radial"))
        strokes = [next(f.value for f in r.figures if f.name == "sideways_mm") for r in (two, three)]
        self.assertLess(strokes[0], 0.6 * strokes[1])

    def test_one_leg_repeated_round_a_circle_is_the_radial_walker(self):
        ring = start("six_radial", "Ring", 200.0)
        one = ring
        for name in ("L2", "L3", "R2", "R3"):
            one = assembly.removed(one, name)
        # Of two legs or of six, the ring takes the place of all that there are.
        for before in (one, ring):
            self.assertEqual(len(assembly.repeated(before, "L1", 6).walker.legs), 6)
        again = assembly.repeated(ring, "L1", 6)
        places = np.array([limb.mount.at_mm[:2] for limb in again.walker.limbs])
        wanted = np.array([limb.mount.at_mm[:2] for limb in ring.walker.limbs])
        for spot in wanted:
            self.assertLess(np.linalg.norm(places - spot, axis=1).min(), 0.6)

    def test_labels_by_side_corner_and_circle(self):
        self.assertEqual(
            [m.name for m in assembly.relabelled(hexapod(), "corners").walker.limbs],
            ["FL", "ML", "BL", "FR", "MR", "BR"],
        )
        renamed = assembly.relabelled(hexapod(), "round")
        self.assertEqual([m.name for m in renamed.walker.limbs], list("ABCFED"))
        before, after = (evaluate(p, "Forward") for p in (hexapod(), renamed))
        np.testing.assert_array_equal(before.reading.angles, after.reading.angles)

    def test_refusals(self):
        for call, words in (
            (lambda: assembly.mirrored(hexapod(), "Q9"), "no limb is called 'Q9'"),
            (lambda: assembly.repeated(hexapod(), "L1", 40), "must be from 2 to 12, got 40"),
            (lambda: assembly.repeated(hexapod(), "L1", 12), "at most 12"),
            (lambda: assembly.relabelled(hexapod(), "stars"), "must be one of sides"),
        ):
            with self.assertRaises(InputRefused) as caught:
                call()
            self.assertIn(words, str(caught.exception))
