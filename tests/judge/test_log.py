"""The log of trials: what was told of as long, and what trials tell, each beside a log that does not."""

from __future__ import annotations

import unittest

import numpy as np

from bustle.core.edits.patches import only_motions
from bustle.core.evaluate import evaluate
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.trials.on_the_floor import logged, planned
from bustle.core.trials.seen import seen
from bustle.core.trials.trial import Trial
from bustle.core.words.problems import InputRefused
from tests.long import in_turns
from tests.projects import changed, hexapod, start
from tests.seeded import SeededTest

WALK = "Forward"


def trial(**said):
    return Trial(**{"motion": WALK, "floor": "Tiles", "time_s": 10.0, **said})


class Told(SeededTest):
    @in_turns
    def test_is_where_the_plan_has_it_after_so_many_cycles(self):
        """Cycle upon cycle laid end to end, straight and turning."""
        for shape in self.random.choice([s for s in SHAPES if s.startswith(("four", "six"))], 3, replace=False):
            project = start(str(shape), "Told", float(self.random.uniform(100, 300)))
            omega = float(self.random.uniform(-6, 6))
            project = changed(project, {"motions/0/twist/omega_deg_s": omega})
            r = evaluate(project, project.motions[0].name).reading
            cycles, place, heading = int(self.random.integers(2, 6)), 0j, 0.0
            x, y, turn = r.goes_on
            for _ in range(cycles):
                place, heading = place + complex(x, y) * np.exp(1j * heading), heading + turn
            told = planned(r, cycles * r.score.duration_s)
            with self.subTest(shape=shape, omega=omega, seed=self.seed):
                # Where the legs lead, that is the way they walk; elsewhere the one asked.
                way = told.along_mm if r.course.implied else told.asked_mm
                self.assertAlmostEqual(way / abs(place), 1.0, delta=0.05 if r.course.implied else 1e-6)

    @in_turns
    def test_of_what_has_an_end_no_way_is_told(self):
        project = start("two_full", "Told", 220.0)
        for name in ("Start", "Stop", "Stand"):
            told = planned(evaluate(project, name).reading, 5.0)
            self.assertEqual((told.asked_mm, told.along_mm), (None, None), name)

    def test_what_the_revision_does_not_have_is_refused(self):
        for said, words in (({"motion": "Gallop"}, "no motion is called"), ({"dragged": ("Q",)}, "'Q' is no limb")):
            with self.assertRaisesRegex(InputRefused, words):
                logged(1, trial(**said), 1, hexapod())

    def test_a_drift_on_a_curve_is_that_of_a_metre_of_it(self):
        for _ in range(20):
            radius = float(self.random.uniform(2500, 20000)) * self.random.choice([-1, 1])
            turn = float(self.random.uniform(400, 1500)) / abs(radius)
            along, beside = abs(radius) * np.sin(turn), radius * (1 - np.cos(turn))
            found = logged(1, trial(along_mm=float(along), beside_mm=float(beside)), 1, hexapod())
            whole = radius - np.sign(radius) * np.sqrt(radius**2 - 1e6)
            with self.subTest(radius=radius, along=along, seed=self.seed):
                self.assertAlmostEqual(found.drift_mm_m / whole, 1.0, delta=0.1)


class Seen(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.project = hexapod()
        cls.way = planned(evaluate(cls.project, WALK).reading, 10.0).along_mm

    def log(self, *trials, project=None):
        """One after another, of the project or of one each."""
        each = [t if isinstance(t, tuple) else (t, project or self.project) for t in trials]
        before = [None, *(p for _, p in each[:-1])]
        return [logged(n, t, n, p, b) for n, ((t, p), b) in enumerate(zip(each, before, strict=True), 1)]

    def told(self, log, project=None):
        return {each.code or each.title: each for each in seen(log, project or self.project)}

    def along(self, *shares, **said):
        return [trial(along_mm=share * self.way, **said) for share in shares]

    def test_a_log_of_walks_that_go_as_told_says_nothing(self):
        self.assertEqual(seen(self.log(*self.along(1.0, 0.97, 1.03, 0.99), trial()), self.project), [])
        self.assertEqual(seen([], self.project), [])

    def test_grip_that_fades_on_one_floor_with_the_same_soles(self):
        fading = self.along(0.98, 0.96, 0.9, 0.85, 0.82)
        self.assertEqual(self.told(self.log(*fading))["F50"].trials, (1, 2, 3, 4, 5))
        self.assertIn("97 % of its way at first and 84 % lately", self.told(self.log(*fading))["F50"].message)
        renewed = [*fading[:3], *self.along(0.97, soles="new"), *self.along(0.96, 0.97, 0.95)]
        self.assertNotIn("F50", self.told(self.log(*renewed)))
        elsewhere = [*self.along(0.98, 0.97), *self.along(0.86, 0.84, floor="Carpet")]
        self.assertNotIn("F50", self.told(self.log(*elsewhere)))
        # One floor, however it is spelt.
        self.assertIn("F50", self.told(self.log(*fading[:2], *self.along(0.84, 0.82, floor="tiles"))))

    def test_a_walk_that_goes_on_soft_floors_alone(self):
        soft, hard = self.along(0.95, 0.97, floor="Rug", gives=True), [trial(falls=1), *self.along(0.5)]
        found = self.told(self.log(*soft, *hard))["F31"]
        self.assertIn("2 of 2 trials on floors that give, and in 0 of 2 on hard", found.message)
        self.assertNotIn("F31", self.told(self.log(*soft, *self.along(0.95, 0.96))))
        self.assertNotIn("F31", self.told(self.log(*self.along(0.4, 0.5, gives=True), *hard)))

    def test_it_goes_less_far_or_further_than_told(self):
        self.assertIn("less far", self.told(self.log(*self.along(0.6, 0.7)))["F54"].title)
        self.assertIn("further", self.told(self.log(*self.along(1.3, 1.4)))["F54"].title)
        # Told by floor: on one it is well, on the other not.
        two = self.log(*self.along(0.6, floor="Rug"), *self.along(0.98))
        self.assertEqual(self.told(two)["F54"].trials, (1,))

    def test_a_drift_is_steered_against_once(self):
        drifting = [trial(along_mm=1000.0, beside_mm=mm) for mm in (80.0, 90.0, 100.0)]
        found = self.told(self.log(*drifting))["F11"]
        self.assertEqual(found.change, "Steer 90 mm to the right each metre")
        self.assertEqual(found.project.motion(WALK).steer_mm_m, -90.0)
        self.assertNotIn("F11", self.told(self.log(*drifting), found.project))
        straight = (trial(along_mm=1000.0, beside_mm=5.0), found.project)
        self.assertNotIn("F11", self.told(self.log(*drifting, straight), found.project))
        # Now to the one side, now to the other, is no drift.
        swerving = [trial(along_mm=1000.0, beside_mm=mm) for mm in (200.0, -20.0, 150.0)]
        self.assertNotIn("F11", self.told(self.log(*swerving)))
        over = (trial(along_mm=1000.0, beside_mm=-90.0), found.project)
        self.assertEqual(self.told(self.log(over), found.project)["F11"].change, "Steer no more")
        short = trial(along_mm=100.0, beside_mm=40.0)
        self.assertNotIn("F11", self.told(self.log(short)))

    def test_feet_that_drag_are_named_and_lifted_where_little_was_left(self):
        low = changed(self.project, {"motions/0/lift_mm": 4.0})
        dragged = self.told(self.log(trial(dragged=("L2",)), project=low), low)["F02"]
        self.assertIn("L2 caught or dragged", dragged.message)
        higher = dragged.project.motion(WALK).lift_mm
        self.assertGreater(higher, 4.0 + 2.0)
        self.assertNotIn("F02", self.told(self.log(trial(dragged=("L2",)), project=low), dragged.project))
        # Where much was told to be left, the lift is not what lacks.
        high = changed(self.project, {"motions/0/lift_mm": 40.0})
        self.assertIsNone(self.told(self.log(trial(dragged=("L2",)), project=high), high)["F02"].project)
        long_ago = [trial(dragged=("L2",)), trial(), trial(), trial()]
        self.assertNotIn("F02", self.told(self.log(*long_ago)))

    def test_falls_of_late(self):
        self.assertIn("caught or fell 3 times", self.told(self.log(trial(falls=2), trial(falls=1)))["It falls"].message)
        self.assertNotIn("It falls", self.told(self.log(trial(falls=1), trial(), trial(), trial())))

    def test_of_several_things_changed_at_once_it_is_not_known_which_did_it(self):
        one = changed(self.project, {"motions/0/lift_mm": 31.0})
        two = changed(one, {"motions/0/cycle_s": 1.5, "floor/friction": 0.6})
        self.assertNotIn("Several things changed at once", self.told(self.log(trial(), (trial(), one))))
        found = self.told(self.log(trial(), (trial(), one), (trial(), two)))["Several things changed at once"]
        self.assertIn("2 fields", found.message)
        self.assertIn("cycle_s", found.message)
        # What another walk does is nothing to this one.
        others = {f"motions/{n}/lift_mm": 30.0 + n for n, m in enumerate(one.motions) if n and m.kind == "phase_gait"}
        self.assertGreater(len(others), 1)
        self.assertEqual(self.log((trial(), one), (trial(), changed(one, others)))[-1].changes, 0)
        renamed = changed(one, {"name": "Another", "note": "and said so"})
        self.assertNotIn("Several things changed at once", self.told(self.log((trial(), one), (trial(), renamed))))

    def test_trials_of_a_motion_that_is_gone_are_told_without_a_change(self):
        log = self.log(trial(along_mm=1000.0, beside_mm=90.0))
        gone = only_motions(self.project, self.project.motion("Stand"))
        self.assertIsNone(self.told(log, gone)["F11"].project)


if __name__ == "__main__":
    unittest.main()
