"""Edits of a whole machine: changes that others follow, scaling, own numbers, round bodies, free chains, rest."""

from __future__ import annotations

from unittest.mock import patch

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.alike import followed
from bustle.core.edits.as_measured import sagging
from bustle.core.edits.at_rest import AT_REST, folded, standing
from bustle.core.edits.frame_sections import hinged, hung
from bustle.core.edits.limb_edits import at_the_other_end
from bustle.core.edits.mirroring import mirror_image
from bustle.core.edits.new_limbs import added
from bustle.core.edits.scaling import scaled
from bustle.core.evaluate import evaluate
from bustle.core.geometry.capsule_distance import segment_to_cylinder
from bustle.core.judge.measures.feet.foot_give import sag_mm
from bustle.core.judge.measures.gaps import gaps
from bustle.core.machine.sections import section_places
from bustle.core.project.project import document
from bustle.core.starting.own_numbers import OwnNumbers
from bustle.core.starting.starting_walkers import SHAPES, start_from
from bustle.core.words.problems import InputRefused
from tests.long import in_turns, share
from tests.projects import changed, demo, hexapod, quadruped, start
from tests.seeded import SeededTest


def limbs(project):
    return {m.name: m for m in project.walker.limbs}


class Followed(SeededTest):
    def test_every_leg_follows_and_the_mirror_image_in_place_too(self):
        project = quadruped()
        index = [m.name for m in project.walker.limbs].index("FL")
        at = f"walker/limbs/{index}"
        after = changed(
            project,
            {
                f"{at}/links/1/length_mm": 91.5,
                f"{at}/links/1/radius_mm": 4.5,
                f"{at}/joints/0/min_deg": -21.0,
                f"{at}/mount/at_mm": [88.0, 60.0, 4.0],
                f"{at}/mount/yaw_deg": 7.0,
                f"{at}/feet/0/sole": {"kind": "edge", "length_mm": 30.0, "heading_deg": 15.0},
            },
        )
        found = limbs(followed(project, after, "FL"))
        was = limbs(project)
        self.assertEqual({m.links[1].length_mm for m in found.values()}, {91.5})
        self.assertEqual({m.links[1].radius_mm for m in found.values()}, {4.5})
        self.assertEqual((found["BL"].joints[0].min_deg, found["FR"].joints[0].max_deg), (-21.0, 21.0))
        self.assertEqual([found[n].feet[0].sole.heading_deg for n in ("BL", "FR", "BR")], [15.0, -15.0, -15.0])
        self.assertEqual((found["FR"].mount.at_mm, found["FR"].mount.yaw_deg), ((88.0, -60.0, 4.0), -7.0))
        for far in ("BL", "BR"):
            self.assertEqual((found[far].mount, found[far].neutral_mm), (was[far].mount, was[far].neutral_mm))

    def test_a_symmetric_machine_stays_its_own_mirror_image(self):
        """Whatever is changed of one leg, at random, the machine walks mirrored as before."""
        project = hexapod()
        for _ in range(4):
            link, joint = self.random.integers(3, size=2)
            after = changed(
                project,
                {
                    f"walker/limbs/1/links/{link}/length_mm": float(self.random.uniform(40, 90)),
                    f"walker/limbs/1/joints/{joint}/max_deg": float(self.random.uniform(101, 130)),
                    "walker/limbs/1/toe_deg": float(self.random.uniform(-20, 20)),
                    "walker/drives/3/servos/0/centre_deg": float(self.random.uniform(-9, 9)),
                },
            )
            made = followed(project, after, "L2")
            image = mirror_image(made)
            swap = {"L1": "R1", "L2": "R2", "L3": "R3"} | {"R1": "L1", "R2": "L2", "R3": "L3"}
            own, seen = limbs(made), limbs(image)
            with self.subTest(seed=self.seed):
                for name, other in swap.items():
                    self.assertEqual(own[name].joints, seen[other].joints)
                    self.assertEqual(own[name].links, seen[other].links)
                centres = {d.joints[0]: d.servos[0].centre_deg for d in made.walker.drives}
                mirrored = {d.joints[0]: d.servos[0].centre_deg for d in image.walker.drives}
                self.assertEqual(centres, {f"{swap[j[:2]]}{j[2:]}": v for j, v in mirrored.items()})

    def test_drives_follow_and_another_kind_of_drive_too(self):
        project = hexapod()
        after = changed(
            project,
            {
                "walker/drives/2/kind": "gear",
                "walker/drives/2/settings": {"ratio": 2.0},
                "walker/drives/2/stiffness_nm_deg": 0.07,
            },
        )
        try:
            found = followed(project, after, "L1")
        except InputRefused as refused:
            self.fail(str(refused))
        knees = [d for d in found.walker.drives if d.joints[0].endswith("/tibia")]
        self.assertEqual({(d.kind, d.stiffness_nm_deg) for d in knees}, {("gear", 0.07)})
        self.assertEqual(len({tuple(d.settings.items()) for d in knees}), 1)
        self.assertEqual(len({d.servos[0].name for d in knees}), 6)

    @in_turns
    def test_joints_tied_on_one_leg_are_tied_on_those_alike_and_untied_again(self):
        project = start("four_upright_2", "Tied", 200.0)
        values = document(project)
        own = {d["joints"][0]: d for d in values["walker"]["drives"]}
        rod = {
            "kind": "parallel_rod",
            "servos": own["FL/pitch"]["servos"] + own["FL/knee"]["servos"],
            "joints": ["FL/pitch", "FL/knee"],
            "settings": {},
        }
        others = [d for d in values["walker"]["drives"] if not d["joints"][0].startswith("FL/")]
        values["walker"]["drives"] = [*others, rod]
        tied = followed(project, parse_project(values), "FL")
        self.assertEqual({d.kind for d in tied.walker.drives}, {"parallel_rod"})
        for drive in tied.walker.drives:
            leg = drive.joints[0].partition("/")[0]
            self.assertEqual([s.name for s in drive.servos], [f"{leg} pitch", f"{leg} knee"])
        values = document(tied)
        values["walker"]["drives"] = [d for d in values["walker"]["drives"] if d["joints"] != rod["joints"]]
        values["walker"]["drives"] += [own["FL/pitch"], own["FL/knee"]]
        again = followed(tied, parse_project(values), "FL")
        self.assertEqual(
            {d.joints: d.servos for d in again.walker.drives}, {d.joints: d.servos for d in project.walker.drives}
        )
        # Tied to another limb's, it is nobody else's.
        pair = {"kind": "pair_equal", "servos": own["FL/pitch"]["servos"], "joints": ["FL/pitch", "FR/pitch"]}
        values = document(project)
        kept = [d for d in values["walker"]["drives"] if d["joints"] not in (["FL/pitch"], ["FR/pitch"])]
        values["walker"]["drives"] = [*kept, pair]
        paired = parse_project(values)
        self.assertEqual(followed(project, paired, "FL").walker.drives, paired.walker.drives)


class Scaled(SeededTest):
    def test_joints_and_margins_go_with_the_lengths(self):
        """Equal shapes walk alike: joints as they were at the same share of the cycle, margins by the factor."""
        for name in ("Fennel", "Sorrel"):
            project = demo(name.lower())
            factor = 2.25
            large = scaled(project, factor, all_weights=True)
            one, other = (evaluate(p, "Forward", 60).reading for p in (project, large))
            # Weights by f³ keep the centre of mass where it was, drawn larger.
            np.testing.assert_allclose(one.course.solved.joints[:60], other.course.solved.joints[:60], atol=2e-4)
            feet = (r.course.feet_ground_mm[:, :60] for r in (one, other))
            near, far = feet
            np.testing.assert_allclose(near * factor, far, atol=0.02)
            cycles = [p.motion("Forward").cycle_s for p in (project, large)]
            self.assertAlmostEqual(cycles[1] / cycles[0], 1.5, delta=0.02)
            self.assertAlmostEqual(round(cycles[1] / 0.02), cycles[1] / 0.02, places=6)

    def test_bought_parts_stay_unless_asked(self):
        project = hexapod()
        half = scaled(project, 0.5)
        weights = {m.name: m.mass_g for m in half.walker.masses}
        self.assertEqual(weights["Battery"], project.walker.masses[1].mass_g)
        self.assertEqual(half.servo_types[0].mass_g, project.servo_types[0].mass_g)
        self.assertAlmostEqual(weights["Frame and controller"], project.walker.masses[0].mass_g / 8, places=2)
        every = scaled(project, 0.5, all_weights=True)
        self.assertAlmostEqual(every.servo_types[0].mass_g, project.servo_types[0].mass_g / 8, places=2)

    def test_there_and_back_again(self):
        project = quadruped()
        again = scaled(scaled(project, 4.0, True), 0.25, True)
        for one, other in zip(project.walker.limbs, again.walker.limbs, strict=True):
            np.testing.assert_allclose(one.mount.at_mm, other.mount.at_mm, atol=1e-3)
        with self.assertRaises(InputRefused):
            scaled(project, 50.0)


class Round(SeededTest):
    @in_turns
    def test_a_cylinder_is_as_far_as_points_all_over_it(self):
        radius, half = 60.0, 25.0
        turn, high = self.random.uniform(0, 2 * np.pi, 40_000), self.random.uniform(-half, half, 40_000)
        out = radius * np.sqrt(self.random.uniform(0, 1, 20_000))
        side = np.stack([radius * np.cos(turn), radius * np.sin(turn), high], axis=-1)
        lids = np.stack(
            [out * np.cos(turn[:20_000]), out * np.sin(turn[:20_000]), np.sign(high[:20_000]) * half], axis=-1
        )
        points = np.concatenate([side, lids])
        start_, end = self.random.normal(0, 90, (2, 3, 12, 1))
        found = segment_to_cylinder(start_, end, radius, half)[:, 0]
        for k in range(12):
            along = start_[:, k, 0] + np.linspace(0, 1, 400)[:, None] * (end - start_)[:, k, 0]
            inside = (np.hypot(along[:, 0], along[:, 1]) < radius) & (np.abs(along[:, 2]) < half)
            nearest = min(np.linalg.norm(points - p, axis=1).min() for p in along[::8])
            with self.subTest(seed=self.seed, k=k):
                if inside.any():
                    self.assertLess(found[k], 0.0)
                else:
                    self.assertAlmostEqual(found[k], nearest, delta=4.0)

    def test_legs_on_the_rim_of_a_round_body_do_not_run_into_it(self):
        own = OwnNumbers("sprawled_3", 6, "round", (200.0, 200.0, 40.0), "round", (40.0, 60.0, 100.0))
        project = start_from(own, "Round")
        box = changed(project, {"walker/sections/0/shape": "box"})
        near = {g.first: g.distance_mm for g in gaps(evaluate(project, "Forward").reading) if g.second == "body"}
        boxed = {g.first: g.distance_mm for g in gaps(evaluate(box, "Forward").reading) if g.second == "body"}
        self.assertNotIn("F16", {f.code for f in evaluate(project, "Forward").findings})
        self.assertLess(min(boxed.values()), min(near.values()))
        with self.assertRaises(InputRefused) as refused:
            changed(project, {"walker/sections/0/size_mm": [200.0, 180.0, 40.0]})
        self.assertIn("as wide as it is long", str(refused.exception))


class OwnMachines(SeededTest):
    @in_turns
    def test_machines_of_random_numbers_walk_without_a_stop(self):
        for family, links in (
            ("sprawled_3", (40.0, 70.0, 110.0)),
            ("sprawled_2", (35.0, 110.0)),
            ("upright_3", (35.0, 100.0, 100.0)),
            ("upright_2", (25.0, 100.0, 100.0)),
        ):
            placed, shape = str(self.random.choice(["sides", "round"])), str(self.random.choice(["box", "round"]))
            legs = int(self.random.choice([4, 6, 8] if placed == "sides" else [4, 5, 6, 7, 8]))
            scale = self.random.uniform(0.7, 1.8)
            spread = float(self.random.uniform(0.9, 1.1))
            body = (legs * 42.0 * scale * spread, 110.0 * scale, 40.0 * scale)
            own = OwnNumbers(family, legs, placed, body, shape, tuple(round(v * scale, 1) for v in links))
            project = start_from(own, "Own")
            with self.subTest(seed=self.seed, own=own):
                self.assertEqual({tuple(k.length_mm for k in m.links) for m in project.walker.limbs},
                                 {tuple(round(v * 2) / 2 for v in own.links_mm)})  # fmt: skip
                self.assertEqual(len(project.walker.legs), legs)
                for motion in project.motions:
                    stops = [f.message for f in evaluate(project, motion.name).findings if f.severity == "stop"]
                    self.assertEqual(stops, [], motion.name)

    @in_turns
    def test_who_has_waited_long_enough_gets_the_best_there_is_by_then(self):
        """The first ways to trot of this one go worse than a later one."""
        asked = []

        def tell(done, of, what):
            asked.append(done)
            return done == 1

        own = OwnNumbers("upright_3", 4, "sides", (150.0, 130.0, 50.0), "box", (20.0, 110.0, 110.0))
        with patch("bustle.core.starting.trot_tempo.FINE_S", 0.005):
            project = start_from(own, "Soon", tell)
        self.assertEqual(asked, [0, 1])
        self.assertIn("Forward", {motion.name for motion in project.motions})

    @in_turns
    def test_on_three_legs_it_rests_on_the_one_it_lifts(self):
        family, links = (
            ("sprawled_3", (40.0, 70.0, 90.0)),
            ("sprawled_2", (40.0, 110.0)),
            ("upright_3", (20.0, 90.0, 90.0)),
        )[int(self.random.integers(3))]
        scale = float(self.random.uniform(0.7, 2.0))
        size = (150.0 * scale, 150.0 * scale, 40.0 * scale)
        own = OwnNumbers(family, 3, "round", size, "round", tuple(v * scale for v in links))
        found = [f for f in evaluate(start_from(own, "Three"), "Forward").findings if f.code == "F19"]
        with self.subTest(own=own, seed=self.seed):
            self.assertEqual([(f.severity, f.title) for f in found], [("stop", "Rests on a lifted foot")])

    @in_turns
    def test_four_legs_on_a_body_of_any_length_trot(self):
        """A short one leans far before the next feet land: then it trots quicker."""
        for family, aside in share(self.random, [("upright_3", 0.2), ("upright_2", 0.12), ("sprawled_3", 0.2)]):
            leg = float(self.random.uniform(120, 300))
            body = tuple(
                round(leg * float(self.random.uniform(*share))) for share in ((0.5, 1.4), (0.4, 0.8), (0.2, 0.2))
            )
            own = OwnNumbers(family, 4, "sides", body, "box", (aside * leg, 0.45 * leg, 0.5 * leg))
            project = start_from(own, "Trots")
            with self.subTest(own=own, seed=self.seed):
                self.assertLessEqual({"Trot", "Start trot", "Stop trot"}, {m.name for m in project.motions})
                self.assertFalse(evaluate(project, "Trot").stops)

    def test_numbers_out_of_range_are_named(self):
        good = {"family": "sprawled_3", "legs": 6, "placed": "sides", "body": "box"}
        bad = OwnNumbers(**good, body_mm=(0.0, 100.0, 40.0), links_mm=(40.0, -2.0))
        with self.assertRaises(InputRefused) as refused:
            start_from(bad, "Bad")
        told = str(refused.exception)
        for words in ("own.body_mm: long must be from 10", "must be 3 lengths: coxa, femur, tibia"):
            self.assertIn(words, told)
        with self.assertRaises(InputRefused):
            start_from(OwnNumbers(**{**good, "legs": 5}, body_mm=(100.0, 100.0, 40.0), links_mm=(9, 9, 9)), "Odd")

    @in_turns
    def test_every_shape_turns_back_where_its_joints_can(self):
        """The drive pad of a fresh walker has a motion for each way its legs can go."""
        for name in ("six_sprawled", "four_upright", "six_radial"):
            motions = {m.name for m in start(name, "Fresh", SHAPES[name].usual_mm).motions}
            self.assertLessEqual({"Forward", "Back", "Turn left", "Turn right"}, motions)


class ChainsAndSections(SeededTest):
    def test_a_limb_goes_where_one_points(self):
        for x, y in ((60.0, 50.0), (-60.0, -50.0), (95.0, 0.0)):
            leg = added(hexapod(), "leg", "sprawled_3", (x, y)).walker.limbs[-1]
            self.assertEqual(leg.mount.at_mm, (x, y, 0.0))
            away = np.array(leg.neutral_mm) - (x, y)
            self.assertGreater(away @ (x, y), 0)

    def test_an_added_section_weighs_as_much_for_its_size(self):
        project = hinged(quadruped(), "yaw")
        frame, back = (
            sum(m.mass_g for m in project.walker.masses if m.on == on and m.fills) for on in ("body", "back")
        )
        self.assertAlmostEqual(back / frame, 0.5, delta=0.01)

    def test_a_leg_goes_on_another_section_with_its_image_and_comes_back(self):
        """Where it sat on the edge it does again, and its foot is as far from it."""
        project = changed(hinged(quadruped(), "pitch"), {"walker/sections/1/size_mm": [70.0, 50.0, 20.0]})
        sizes = {s.name: np.array(s.size_mm) for s in project.walker.sections}
        moved = hung(project, "BL", "back", True)
        places = section_places(moved.walker, {})
        for name in ("BL", "BR"):
            was, now = limbs(project)[name], limbs(moved)[name]
            self.assertEqual(now.section, "back")
            np.testing.assert_allclose(now.mount.at_mm / sizes["back"], was.mount.at_mm / sizes["body"], atol=1e-3)
            reach = np.subtract(was.neutral_mm, was.mount.at_mm[:2])
            at = places["back"].carry(np.array(now.mount.at_mm))
            np.testing.assert_allclose(np.subtract(now.neutral_mm, at[:2]), reach, atol=0.02)
        self.assertEqual([limbs(moved)[n] for n in ("FL", "FR")], [limbs(project)[n] for n in ("FL", "FR")])
        self.assertEqual(document(hung(moved, "BL", "body", True)), document(project))
        alone = hung(project, "BL", "back", False)
        self.assertEqual([limbs(alone)[n].section for n in ("BL", "BR")], ["back", "body"])
        for limb, section in (("XX", "back"), ("BL", "front")):
            self.assertRaises(InputRefused, hung, project, limb, section, True)


class OtherEnd(SeededTest):
    def test_a_leg_copied_to_the_other_end_stands_opposite(self):
        for project, name in ((hexapod(), "L1"), (quadruped(), "FL")):
            leg = limbs(project)[name]
            made = at_the_other_end(project, name).walker.limbs[-1]
            x, y, z = leg.mount.at_mm
            self.assertEqual((made.mount.at_mm, made.links), ((-x, y, z), leg.links))
            self.assertEqual(made.neutral_mm, (-leg.neutral_mm[0], leg.neutral_mm[1]))
        with self.assertRaises(InputRefused):
            at_the_other_end(hexapod(), "L2")


class AtRest(SeededTest):
    def test_it_stands_where_its_feet_are_asked_for_without_sway(self):
        project = start("four_upright", "Rest", 200.0)
        rest = evaluate(standing(project, "Forward"), AT_REST, 2).reading.course
        for n, limb in enumerate(project.walker.limbs):
            np.testing.assert_allclose(rest.feet_ground_mm[n, 0], [*limb.neutral_mm, 0.0], atol=1e-6)
        np.testing.assert_allclose(rest.body.at[0, :2], [0.0, 0.0], atol=1e-9)

    def test_folded_it_is_in_the_pose_it_is_carried_in(self):
        project = changed(hexapod(), {"walker/folded": {"box_mm": [300.0, 300.0, 200.0], "joints": [
            {"limb": "L1", "joint": "femur", "value": 88.0}]}})  # fmt: skip
        joints = np.degrees(evaluate(folded(project), AT_REST, 2).reading.course.solved.joints[0])
        self.assertAlmostEqual(joints[1], 88.0)
        self.assertAlmostEqual(joints[2], -85.0)
        with self.assertRaises(InputRefused):
            folded(hexapod())

    def test_a_measured_sag_comes_out_again(self):
        project = hexapod()
        was = sag_mm(evaluate(project, "Forward").reading, 10)
        for asked in self.random.uniform(0.5, 9.0, 3):
            made = sagging(project, asked / was)
            self.assertAlmostEqual(sag_mm(evaluate(made, "Forward").reading, 10), asked, delta=0.01 * asked)


class Blades(SeededTest):
    @in_turns
    def test_a_blade_leans_as_asked_where_its_leg_can(self):
        blade = [{"sole": {"kind": "edge", "length_mm": 60.0}}]
        lean = float(self.random.uniform(4, 14))
        asked = {f"walker/limbs/{n}/{k}": v for n in (0, 1) for k, v in (("feet", blade), ("lean_deg", lean))}
        found = evaluate(changed(start("two_full", "Blades", 240.0), asked), "Stand")
        self.assertLess(found.figure("sole_tilt_deg"), 0.01)
        turn = found.reading.course.solved.end_turns(0)[0]
        self.assertAlmostEqual(np.degrees(np.arcsin(turn[2, 1])), lean, places=4)
        cannot = evaluate(changed(start("two_planar", "Blades", 240.0), asked), "Stand")
        self.assertAlmostEqual(cannot.figure("sole_tilt_deg"), lean, places=4)

    def test_a_round_mass_turns_like_a_disc(self):
        from bustle.core.machine.masses import Entry, inertia_kg_m2

        entry = Entry("disc", 2.0, -1, 0, 0.0, (0.0, 0.0, 0.0), "body", (200.0, 200.0, 30.0), round=True)
        self.assertAlmostEqual(inertia_kg_m2(entry, np.zeros(3))[2, 2], 2.0 * 0.1**2 / 2)
