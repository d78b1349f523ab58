"""Every named gait: its contacts by its definition, and its feet fixed on the ground under any twist."""

from __future__ import annotations

import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.kinds.gaits import GAITS, spots_of
from bustle.core.kinds.gaits.wave import wave
from tests.projects import changed, standing_on
from tests.seeded import SeededTest

# What the gaits' definitions come to: legs in the air at once, fewest and most, at the gait's own duty.
IN_THE_AIR = {
    "tripod": (3, 3), "ripple": (2, 2), "tetrapod": (2, 2), "wave": (1, 1), "trot": (2, 2), "pace": (2, 2),
    "bound": (2, 2), "walk": (1, 2), "amble": (2, 3), "radial_creep": (0, 1), "weight_shift": (0, 1),
    "two_walk": (0, 1), "tipping": (1, 1), "shuffle": (0, 1),
}  # fmt: skip


class Patterns(SeededTest):
    def test_contacts_are_what_phase_and_duty_say(self):
        """Leg phase p = frac(t/T − φ); stance while p < duty."""
        for gait in GAITS.values():
            e = evaluate(standing_on(gait), "Forward", 500).reading
            t = e.course.time_s[:500] / e.score.duration_s
            with self.subTest(gait=gait.name):
                self.assertEqual(e.gait.gait, gait.name)
                for row, leg in enumerate(e.gait.legs):
                    p = np.round((t - leg.phase) % 1.0, 9) % 1.0
                    np.testing.assert_array_equal(e.course.contact[row, :500], p < leg.duty - 1e-9)

    def test_as_many_feet_are_up_as_the_definition_says(self):
        for gait in GAITS.values():
            e = evaluate(standing_on(gait), "Forward", 997).reading
            # Off the events themselves, where feet change over.
            up = gait.legs - e.course.contact[:, 1:997].sum(axis=0)
            low, high = IN_THE_AIR.get(gait.name, (0, 1) if gait.name.startswith("creep") else (1, 1))
            with self.subTest(gait=gait.name):
                self.assertLessEqual(int(np.percentile(up, 99.5)), high)
                self.assertGreaterEqual(int(np.percentile(up, 0.5)), low)

    def test_pairs_are_the_pairs_of_the_textbooks(self):
        def together(name):
            groups: dict[float, set] = {}
            for place, phase in GAITS[name].touchdowns.items():
                groups.setdefault(phase, set()).add(place)
            return list(groups.values())

        self.assertIn({("L", 0), ("R", 1)}, together("trot"))
        self.assertIn({("L", 0), ("L", 1)}, together("pace"))
        self.assertIn({("L", 0), ("R", 0)}, together("bound"))
        self.assertEqual(sorted(len(g) for g in together("tetrapod")), [2, 2, 2])
        # Wave gait: a row touches down β after the one in front of it, the sides half a cycle apart.
        for rows in range(2, 7):
            gait = wave(rows, rows)
            for row in range(rows - 1):
                ahead, behind = gait.touchdowns["L", row], gait.touchdowns["L", row + 1]
                self.assertAlmostEqual((behind - ahead - gait.duty) % 1.0 % 0.999999, 0.0, places=5)
                self.assertAlmostEqual((gait.touchdowns["R", row] - ahead) % 1.0, 0.5, places=6)

    def test_a_gait_fits_the_machine_its_places_name(self):
        for gait in GAITS.values():
            project = standing_on(gait)
            self.assertTrue(gait.fits(spots_of([m.mount.at_mm[:2] for m in project.walker.legs])), gait.name)


class OnTheGround(SeededTest):
    def test_feet_stay_put_in_stance_for_every_gait_and_twist(self):
        for gait in GAITS.values():
            base = standing_on(gait)
            for _ in range(2):
                twist = {
                    "vx_mm_s": float(self.random.uniform(-25, 25)),
                    "vy_mm_s": float(self.random.uniform(-20, 20)),
                    "omega_deg_s": float(self.random.uniform(-8, 8)),
                }
                project = changed(base, {"motions/0/twist": twist})
                e = evaluate(project, "Forward", 240).reading
                course = e.course
                with self.subTest(gait=gait.name, twist=twist, seed=self.seed):
                    self.assertLess(e.course.solved.miss_mm.max(), 1e-6)
                    for track, most in ((course.target_ground_mm, 1e-9), (course.feet_ground_mm, 1e-6)):
                        for leg in range(gait.legs):
                            down = course.contact[leg, :240]
                            stays = down[:-1] & down[1:]
                            moved = np.linalg.norm(np.diff(track[leg, :240], axis=0), axis=1)
                            if stays.any():
                                self.assertLess(moved[stays].max(), most)
