"""Frames, limbs and feet of every kind through the front door, and the checks of the machine itself."""

from __future__ import annotations

import numpy as np
import shapely

from bustle.core.at_rest.joint_axes import joint_axes
from bustle.core.at_rest.outer_size import extents_mm
from bustle.core.at_rest.posed_joints import posed_joints
from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.geometry.capsule_distance import between_segments, segment_to_box
from bustle.core.judge.measures.gaps import gaps
from bustle.core.judge.measures.lead_lengths import lead_needs
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.project.project import document
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.walk.standing_polygon import standing
from tests.long import in_turns, is_long, share
from tests.projects import changed, hexapod, quadruped, stands, start, troubles
from tests.seeded import SeededTest


class Frames(SeededTest):
    def bent(self, angle, axis="yaw"):
        """The back pair of a hexapod on a section of its own."""
        values = document(hexapod())
        size = values["walker"]["sections"][0]["size_mm"]
        hinge = {"on": "body", "at_mm": [-size[0] / 4, 0.0, 0.0], "to_mm": [-size[0] / 4, 0.0, 0.0], "axis": axis}
        values["walker"]["sections"].append({"name": "back", "size_mm": [40.0, 80.0, 30.0], "hinge": hinge})
        for limb in values["walker"]["limbs"]:
            if limb["name"] in ("L3", "R3"):
                limb["section"] = "back"
                limb["mount"]["at_mm"][0] = 0.0
        values["motions"] = [m for m in values["motions"] if m["name"] == "Stand"]
        values["motions"][0]["pose"]["bends"] = [{"section": "back", "angle_deg": angle}]
        return parse_project(values)

    def test_a_straight_hinge_is_as_good_as_none(self):
        straight, plain = (evaluate(p, "Stand").reading for p in (self.bent(0.0), hexapod()))
        np.testing.assert_allclose(straight.course.solved.points[2], plain.course.solved.points[2], atol=1e-9)

    def test_a_bend_carries_the_section_and_its_legs_round_the_hinge(self):
        size = hexapod().walker.sections[0].size_mm
        for axis in ("yaw", "pitch", "roll"):
            mounts = [evaluate(self.bent(a, axis), "Stand").reading.course.solved.points[2][0, 0] for a in (0.0, 12.0)]
            hinge = np.array([-size[0] / 4, 0.0, 0.0])
            lengths = [np.linalg.norm(m - hinge) for m in mounts]
            self.assertAlmostEqual(*lengths, places=9)
            moved = np.degrees(
                2 * np.arcsin(np.linalg.norm(mounts[1] - mounts[0]) / 2 / self.arm(mounts[0] - hinge, axis))
            )
            self.assertAlmostEqual(moved, 12.0, places=6)
            # The feet still stand where they stood.
            self.assertEqual([f.code for f in evaluate(self.bent(12.0, axis), "Stand").findings if f.code == "F17"], [])

    @staticmethod
    def arm(away, axis):
        keep = {"yaw": [0, 1], "pitch": [0, 2], "roll": [1, 2]}[axis]
        return np.linalg.norm(away[keep])

    def test_refusals(self):
        for change, words in (
            ({"walker/sections/1/hinge": None}, "how back hangs on another section"),
            ({"walker/sections/1/hinge/on": "front"}, "must be a section listed before back"),
            ({"motions/0/pose/bends/0/angle_deg": 80.0}, "must be from -45 to 45, got 80"),
            ({"motions/0/pose/bends/0/section": "tail"}, "'tail' is no hinged section"),
        ):
            with self.assertRaises(ValueError) as caught:
                changed(self.bent(5.0), change)
            self.assertIn(words, str(caught.exception))


class Feet(SeededTest):
    def soled(self, sole, shape="two_full"):
        project = stands(shape, "Soles", 240.0)
        values = document(project)
        for limb in values["walker"]["limbs"]:
            limb["feet"][0]["sole"] = sole
        return parse_project(values)

    def test_the_polygon_of_flat_soles_is_the_hull_of_their_corners(self):
        sole = {"kind": "rectangle", "length_mm": 90.0, "width_mm": 50.0, "ahead_mm": 12.0, "left_mm": 3.0}
        e = evaluate(self.soled(sole), "Stand").reading
        corners = [
            (foot[0] + 12 + sx * 45, foot[1] + 3 + sy * 25)
            for foot in (limb.neutral_mm for limb in e.project.walker.limbs)
            for sx in (-1, 1)
            for sy in (-1, 1)
        ]
        hull = shapely.convex_hull(shapely.multipoints(corners))
        polygon = shapely.polygons(e.of(standing).corners[0, : e.of(standing).count[0]])
        self.assertLess(shapely.area(shapely.symmetric_difference(hull, polygon)), 1e-6)
        centre = shapely.points(e.course.com_ground_mm[0, :2])
        self.assertAlmostEqual(e.of(standing).margin_mm[0], shapely.distance(shapely.boundary(hull), centre), places=6)

    @in_turns
    def test_an_edge_gives_no_sideways_support(self):
        e = evaluate(self.soled({"kind": "edge", "length_mm": 80.0}), "Stand").reading
        self.assertEqual(int(e.of(standing).count[0]), 4)
        one_down = changed(self.soled({"kind": "edge", "length_mm": 80.0}), {"motions/0/balance": "dynamic"})
        values = document(one_down)
        values["motions"][0]["legs"][0].update(duty=0.5)
        values["motions"][0]["legs"][1].update(duty=0.9, phase=0.2)
        margins = evaluate(parse_project(values), "Stand").reading.of(standing)
        self.assertLess(margins.margin_mm[margins.count == 2].max(), 0)

    def test_a_ball_stands_its_radius_below_the_end_of_the_leg(self):
        values = document(quadruped())
        for limb in values["walker"]["limbs"]:
            limb["feet"][0]["sole"] = {"kind": "ball", "radius_mm": 9.0}
        e = evaluate(parse_project(values), "Forward").reading
        ends = np.stack([p[:, -1] for p in e.course.solved.points])
        ground = np.einsum("sab,lsb->lsa", e.course.body.turn, ends) + e.course.body.at
        np.testing.assert_allclose(ground[..., 2] - e.course.feet_ground_mm[..., 2], 9.0, atol=1e-9)
        standing = e.course.contact
        self.assertLess(np.abs(e.course.feet_ground_mm[standing] - e.course.target_ground_mm[standing]).max(), 1e-9)

    def test_a_curved_sole_rolls_under_a_leaning_leg(self):
        """Two feet on arcs of one radius: the leg leans by α, and its contact has rolled on by ρ·α ahead of the
        sole's lowest point at rest, as a wheel does."""
        project = stands("two_rocker", "Rocker", 200.0)
        radius = 60.0
        values = document(project)
        for limb in values["walker"]["limbs"]:
            limb["feet"][0]["sole"] = {"kind": "curved", "radius_fore_mm": radius, "radius_side_mm": radius}
        values["motions"][0]["pose"]["shift_mm"] = [25.0, 0.0]
        values["motions"][0]["pose"]["ride_height_mm"] -= 4.0
        e = evaluate(parse_project(values), "Stand").reading
        lean = e.angles[0, e.kit.column_of["L/swing"]]
        self.assertLess(lean, -0.05)
        end = e.course.solved.points[0][0, -1] + e.course.body.at[0]
        touch = e.course.feet_ground_mm[0, 0]
        # The middle of the arc is straight above the contact, one radius up.
        turn = e.course.solved.end_turns(0)[0]
        middle = end + turn @ np.array([0.0, 0.0, radius])
        np.testing.assert_allclose(middle - touch, [0.0, 0.0, radius], atol=1e-6)
        # The stroke is met. Lifting a straight leg raises it by next to nothing at first, so the height is met roughly.
        # It has rolled from where it was put by its radius times its lean.
        put = e.course.print_ground_mm[0, 0]
        self.assertAlmostEqual(put[0], e.project.walker.limbs[0].neutral_mm[0], delta=0.05)
        self.assertAlmostEqual(np.hypot(*(touch - put)[:2]), radius * np.arccos(turn[2, 2]), places=9)
        self.assertAlmostEqual(touch[2], 0.0, delta=2.0)

    def test_casters_and_wheels_carry_where_they_touch(self):
        project = start("four_casters", "Casters", 160.0)
        e = evaluate(project, "Forward").reading
        casters = [n for n, limb in enumerate(project.walker.limbs) if limb.passive]
        self.assertTrue(e.course.contact[casters].all())
        lifted = evaluate(changed(project, {"motions/0/pose/ride_height_mm": 75.0}), "Forward").reading
        # Two feet of a trot alone do not carry it: it comes down on to its casters, and that is told.
        self.assertGreater(e.of(worst_margin)[0], 5.0)
        self.assertTrue(lifted.course.contact[casters].any(axis=0).all())
        told = {f.code: f for f in evaluate(lifted.project, "Forward").findings}
        self.assertAlmostEqual(told["F56"].value, 75.0 + project.walker.limbs[4].mount.at_mm[2], places=6)

    @in_turns
    def test_a_boom_leaves_only_fore_and_aft_to_judge(self):
        held = stands("two_planar", "Boom", 240.0)
        values = document(held)
        for leg in values["motions"][0]["legs"]:
            leg.update(duty=0.6, phase=0.0 if leg["limb"] == "L" else 0.5)
        boomed = parse_project(values)
        free = changed(boomed, {"walker/held": "free"})
        with_boom, without = (evaluate(p, "Stand").reading.of(standing).margin_mm.min() for p in (boomed, free))
        self.assertGreater(with_boom, 10.0)
        self.assertLess(without, 0.0)


class Limbs(SeededTest):
    def test_a_weight_on_an_arm_moves_the_centre_of_mass_by_its_share(self):
        project = stands("two_moving_mass", "Thrower", 220.0)
        motion = project.motions[0]
        held = [{"limb": "weight", "joint": "swing", "value": 30.0}]
        thrown = changed(project, {"motions/0/joints": held})
        before, after = (evaluate(p, motion.name).reading for p in (project, thrown))
        arm = next(m for m in project.walker.masses if m.name == "Swinging weight")
        link = project.walker.limbs[2].links[0]
        travel = np.array([-np.sin(np.radians(30)), np.cos(np.radians(30)) - 1])
        moved = (arm.mass_g * arm.at_mm[2] + link.mass_g * link.length_mm / 2) * travel
        total = before.assembled.total_kg * 1000
        np.testing.assert_allclose(
            (after.course.com_body_mm - before.course.com_body_mm)[0, 1:], moved / total, atol=1e-9
        )

    def test_any_number_of_legs_anywhere(self):
        """A five-legged ring on a gait of its own still stands and keeps its feet."""
        values = document(start("six_radial", "Ring", 200.0))
        walker = values["walker"]
        walker["limbs"] = walker["limbs"][:5]
        names = [limb["name"] for limb in walker["limbs"]]
        walker["drives"] = [d for d in walker["drives"] if d["joints"][0].split("/")[0] in names]
        values["motions"] = [m for m in values["motions"] if m["name"] == "Stand"]
        values["motions"][0]["legs"] = values["motions"][0]["legs"][:5]
        self.assertEqual(troubles(evaluate(parse_project(values), "Stand")), ())
        walker["limbs"] = walker["limbs"][:1]
        walker["drives"] = [d for d in walker["drives"] if d["joints"][0].startswith(names[0])]
        values["motions"] = []
        with self.assertRaisesRegex(ValueError, "2 to 12 legs"):
            parse_project(values)

    def test_a_free_chain_walks_like_the_family_it_copies(self):
        project = hexapod()
        values = document(project)
        axes = {"yaw": [0.0, 0.0, 1.0], "femur": [0.0, -1.0, 0.0], "tibia": [0.0, -1.0, 0.0]}
        for limb in values["walker"]["limbs"]:
            limb.update(family="serial", branch="as_near_as_it_gets")
            for joint in limb["joints"]:
                joint["axis"] = axes[joint["name"]]
            for link in limb["links"]:
                link["offset_mm"] = [link["length_mm"], 0.0, 0.0]
        free, closed = (evaluate(p, "Forward").reading for p in (parse_project(values), project))
        np.testing.assert_allclose(free.course.feet_ground_mm, closed.course.feet_ground_mm, atol=1e-6)
        np.testing.assert_allclose(free.angles, closed.angles, atol=1e-6)


class Nearness(SeededTest):
    def test_segments_against_a_search(self):
        p, q, r, s = self.random.normal(0, 50, (4, 40, 1, 3))
        found = between_segments(*(np.moveaxis(ends, -1, 0) for ends in (p, q, r, s)))[:, 0]
        share = np.linspace(0, 1, 161)[:, None]
        for n in range(40):
            first, second = p[n] + share * (q - p)[n], r[n] + share * (s - r)[n]
            best = np.linalg.norm(first[:, None] - second[None], axis=-1).min()
            coarse = (np.linalg.norm((q - p)[n]) + np.linalg.norm((s - r)[n])) / 320
            self.assertLessEqual(found[n], best + 1e-9, f"seed {self.seed}")
            self.assertGreaterEqual(found[n], best - coarse, f"seed {self.seed}")

    def test_segments_against_a_box(self):
        half = np.array([40.0, 25.0, 15.0])
        start_, end = self.random.normal(0, 70, (2, 400, 1, 3))
        # Along a face, along an edge, through the middle, a point.
        start_[:3, 0] = [[60, 0, 0], [-50, 25, 15], [-80, 0, 0]]
        end[:3, 0] = [[60, 10, 5], [50, 25, 15], [80, 0, 0]]
        found = segment_to_box(np.moveaxis(start_, -1, 0), np.moveaxis(end, -1, 0), half)[:, 0]
        shares = np.linspace(0, 1, 2001)[:, None]
        for n in range(400):
            q = np.abs(start_[n] + shares * (end[n] - start_[n])) - half
            away = np.linalg.norm(np.maximum(q, 0), axis=1).min()
            # Between two of the places looked at no distance changes by more than half the way from one to the other.
            coarse = np.linalg.norm(end[n] - start_[n]) / 4000 + 1e-9
            nearest = away if away > 0 else q.max(axis=1).min()
            self.assertAlmostEqual(found[n], nearest, delta=coarse, msg=f"seed {self.seed}")
            self.assertLessEqual(found[n], nearest + 0.01)

    @is_long
    @in_turns
    def test_no_starting_shape_collides_with_itself(self):
        for shape in share(self.random, list(SHAPES), 8):
            project = start(shape, "Apart", 200.0)
            for motion in project.motions:
                found = evaluate(project, motion.name).reading.of(gaps)
                self.assertTrue(all(g.distance_mm > 0 for g in found), f"{shape} {motion.name}")

    def test_the_folded_box_holds_every_joint_and_link(self):
        project = changed(hexapod(), {"walker/folded": {"box_mm": [400.0, 400.0, 200.0]}})
        walker = project.walker
        joints = posed_joints(walker, walker.folded.joints)[None]
        size = extents_mm(walker, joints)[0]
        # By hand: a leg's furthest point sideways at the servo centres, coxa + femur·cos 20°, tibia hanging.
        out = 44.0 + 60.0 * np.cos(np.radians(20)) + 96.0 * np.cos(np.radians(-65))
        self.assertAlmostEqual(size[1], 100.0 + 2 * (out + 6.0), delta=0.5)

    def test_leads_are_measured_along_their_waypoints(self):
        lead = {
            "name": "Knee",
            "length_mm": 300.0,
            "path": [{"on": "body", "at_mm": [10.0, 20.0, 30.0]}, {"on": "L1/tibia"}],
        }
        e = evaluate(changed(hexapod(), {"walker/leads": [lead]}), "Forward").reading
        knee = e.course.solved.points[0][: e.samples, 2]
        away = np.linalg.norm(knee - [10.0, 20.0, 30.0], axis=1)
        self.assertAlmostEqual(e.of(lead_needs)[0].needed_mm, away.max(), places=9)
        self.assertEqual(e.of(lead_needs)[0].sample, int(away.argmax()))


class JointAxes(SeededTest):
    @is_long
    def test_a_joint_turned_by_a_hair_moves_its_hold_about_its_axis(self):
        """On every starting shape, folded at random: the hold goes by axis × arm (along the axis of a slide)."""
        for shape in share(self.random, list(SHAPES), 6):
            values = document(start(shape, "Fold", 180.0))
            angles = []
            for limb in values["walker"]["limbs"]:
                for joint in limb["joints"]:
                    low, high = (joint.get(f"{end}_deg", joint.get(f"{end}_mm")) for end in ("min", "max"))
                    value = float(self.random.uniform(low, high))
                    angles.append({"limb": limb["name"], "joint": joint["name"], "value": value})

            def posed(at, by, angles=angles, values=values):
                held = [a | {"value": a["value"] + (by if n == at else 0.0)} for n, a in enumerate(angles)]
                pose = {"kind": "joint_pose", "name": "Fold", "joints": held}
                r = evaluate(parse_project(values | {"motions": [pose]}), "Fold").reading
                return r, joint_axes(r.assembled.parts, r.course.solved)

            r, axes = posed(0, 0.0)
            for n in self.random.choice(len(angles), min(3, len(angles)), replace=False):
                centre, axis, tip = axes[n]
                hair = 1e-4
                _, moved = posed(n, hair / (1.0 if r.kit.slides[n] else np.radians(1.0)))
                way = axis if r.kit.slides[n] else np.cross(axis, tip - centre)
                with self.subTest(shape=shape, joint=r.kit.joints[n].path):
                    np.testing.assert_allclose((moved[n][2] - tip) / hair, way, atol=0.02)


class WhatALimbIs(SeededTest):
    def test_a_copy_in_which_something_differs_is_asked_anew(self):
        """Whether it steps is worked out once of a limb, and not taken along to another."""
        walker = start("four_casters", "Asked", float(self.random.uniform(120, 300))).walker
        leg = walker.legs[0]
        self.assertTrue(leg.steps)
        bare = leg.model_copy(update={"feet": ()})
        self.assertEqual((bare.steps, bare.passive), (False, False))
        self.assertEqual(leg.model_copy(), leg)
        fewer = walker.model_copy(update={"limbs": tuple(limb for limb in walker.limbs if limb is not leg)})
        self.assertNotIn(leg, fewer.legs)
        self.assertEqual(len(fewer.legs), len(walker.legs) - 1)
        self.assertEqual(type(leg).model_validate(leg.model_dump()), leg)
