"""Legs that come to a machine that stands already, and legs of another kind in place of its own."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.edits.limb_edits import repeated
from bustle.core.edits.new_limbs import refitted
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from bustle.core.starting.fresh_set import renewed
from bustle.core.starting.leg_that_stands import leg_that_stands
from tests.long import in_turns
from tests.projects import start
from tests.seeded import SeededTest

BESIDE = ("six_sprawled", "four_upright", "two_full", "four_sprawled", "six_upright")


class NewLegs(SeededTest):
    KINDS = tuple(name for name in FAMILIES if name not in ("fixed", "biped_2"))

    @in_turns
    def test_a_leg_of_any_kind_is_put_where_there_is_room_and_stands_there(self):
        """Whatever it stands beside: a leg of its own kind, low or tall, few or many."""
        for shape in self.random.choice(BESIDE, 2):
            project = start(str(shape), "More", float(self.random.choice([100.0, 220.0, 400.0])))
            for family in self.random.choice(self.KINDS, 4, replace=False):
                made = leg_that_stands(project, str(family))
                leg = made.walker.limbs[-1]
                with self.subTest(shape=shape, family=family, seed=self.seed):
                    found = evaluate(made, "Stand").findings_among(("F15", "F17"))
                    stops = [f for f in found if f.severity == "stop"]
                    self.assertFalse([f.message for f in stops if leg.name in f.message])
                    others = [m.mount.at_mm[:2] for m in project.walker.legs]
                    near = min(np.hypot(*np.subtract(leg.mount.at_mm[:2], at)) for at in others)
                    self.assertGreater(near, 0.1 * project.walker.sections[0].size_mm[0])

    @in_turns
    def test_legs_changed_for_another_kind_get_walks(self):
        """Sprawled legs stand low and far out, upright ones tall and close in."""
        project = start("six_sprawled", "Changed", float(self.random.uniform(120, 300)))
        for family in ("upright_3", str(self.random.choice(["upright_2", "biped_6", "parallelogram_3"]))):
            with self.subTest(family=family, seed=self.seed):
                made = renewed(refitted(project, "L1", family, True))
                self.assertIn("Forward", {motion.name for motion in made.motions})
                for motion in made.motions:
                    stops = [f.message for f in evaluate(made, motion.name).findings if f.severity == "stop"]
                    self.assertEqual(stops, [], motion.name)

    @in_turns
    def test_legs_of_one_joint_put_the_body_where_they_do(self):
        """They have no height to choose: a plan that has their feet in the floor is stopped, and mended in one step."""
        length = float(self.random.uniform(120, 300))
        project = refitted(start("six_sprawled", "Stilts", length), "L1", "one_joint", True)
        for name in ("Stand", "Forward"):
            with self.subTest(name, seed=self.seed):
                stop = next(f for f in evaluate(project, name).findings if f.code == "F17")
                self.assertEqual((stop.severity, stop.title), ("stop", "Stands elsewhere than planned"))
                (mend, *_) = remedies(project, name, stop)
                mended = evaluate(patched(project, mend.patch), name)
                self.assertEqual(mended.findings_among(("F17",)), ())
                stance = mended.reading.course.contact[:, : mended.reading.samples]
                feet = mended.reading.course.feet_ground_mm[:, : mended.reading.samples, 2]
                self.assertLess(np.abs(np.where(stance, feet, np.inf).min(axis=1)).max(), 0.1)
        whole = renewed(project)
        self.assertTrue(evaluate(whole, "Forward").sound)

    @in_turns
    def test_legs_that_stand_in_the_frame_are_mounted_further_out_and_walk(self):
        """Legs that hang straight down where those that were there reached out, on a frame whose corners stand out."""
        family = str(self.random.choice(["upright_3", "parallelogram_2", "biped_planar_3", "biped_6", "one_joint"]))
        ring = refitted(start("six_radial", "Corners", float(self.random.uniform(90, 300))), "L1", family, True)
        within = next(f for f in evaluate(ring, "Stand").findings if (f.code, f.severity) == ("F16", "stop"))
        (out,) = (remedy for remedy in remedies(ring, "Stand", within) if "further out" in remedy.title)
        made = patched(ring, out.patch)
        with self.subTest(family=family, remedy=out.title, seed=self.seed):
            self.assertEqual(evaluate(made, "Stand").findings_among(("F16",)), ())
            sides = [{(x, abs(y), z) for x, y, z in at} for at in self.mounts(made)]
            self.assertEqual(*sides)
            self.assertGreater(self.widest(made), self.widest(ring))
            self.assertTrue(evaluate(renewed(made), "Forward").sound)

    def mounts(self, project: CheckedProject) -> list[list[tuple[float, float, float]]]:
        """Where legs are mounted, those on the left and those on the right."""
        at = [leg.mount.at_mm for leg in project.walker.legs]
        return [[m for m in at if m[1] > 0], [m for m in at if m[1] < 0]]

    def widest(self, project: CheckedProject) -> float:
        return max(abs(leg.mount.at_mm[1]) for leg in project.walker.legs)

    def test_what_would_fall_on_to_hanging_casters_is_stopped(self):
        """Feet in front of its mass alone, and casters a fifth of its height above the floor."""
        values = document(start("four_casters", "Hung", float(self.random.uniform(120, 300))))
        stand = next(m for m in values["motions"] if m["name"] == "Stand")
        ride = stand["pose"]["ride_height_mm"]
        for hangs_mm, severity in ((0.0, None), (0.02 * ride, "warn"), (0.4 * ride, "stop")):
            hung = document(parse_project(values))
            for limb in hung["walker"]["limbs"]:
                if not limb["joints"]:
                    limb["mount"]["at_mm"][2] += hangs_mm
                elif limb["mount"]["at_mm"][0] < 0:
                    # Only the legs before its mass are left.
                    limb["neutral_mm"][0] = 0.0 - limb["neutral_mm"][0]
            with self.subTest(hangs_mm=hangs_mm, seed=self.seed):
                found = evaluate(parse_project(hung), "Stand").findings_among(("F56",))
                self.assertEqual([f.severity for f in found], [severity] if severity else [])

    @in_turns
    def test_legs_set_round_stand_with_their_joints_as_the_first_one_s(self):
        """Toes that can be turned point out of the ring."""
        shape = str(self.random.choice(["two_full", "two_parallelogram", "four_upright", "six_sprawled"]))
        project = start(shape, "Round", float(self.random.uniform(100, 300)))
        count = int(self.random.integers(3, 9))
        ring = repeated(project, project.walker.legs[0].name, count)
        r = evaluate(ring, "Stand").reading
        angles = r.angles[0].reshape(count, -1)
        with self.subTest(shape=shape, count=count, seed=self.seed):
            self.assertLess(np.abs(angles - angles[0]).max(), 1e-4)
