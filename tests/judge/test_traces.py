"""Traces of a machine's own sensors beside its plan: laid over it, and what they tell, each beside a sound one."""

from __future__ import annotations

import unittest
from dataclasses import replace

import numpy as np

from bustle.core.evaluate import evaluate
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.trials.traces import earlier_of, heard, trace_tells
from bustle.core.trials.traces.stand_in import stand_in
from bustle.core.words.problems import InputRefused
from tests.long import in_turns
from tests.projects import hexapod, start
from tests.seeded import SeededTest


def codes(trace, r, earlier=None, **more):
    return [s.code for s in trace_tells(heard(trace, r, **more), r.motion.name, 7, earlier)]


class Traces(SeededTest):
    @classmethod
    def setUpClass(cls):
        cls.six = evaluate(hexapod(), "Forward").reading
        cls.leans = evaluate(start("two_servo", "Leans", 140.0), "Forward").reading

    def even(self, r=None, **said):
        return stand_in(r or self.six, int(self.random.integers(1 << 30)), **said)

    @in_turns
    def test_are_laid_over_their_plan_wherever_they_begin_and_however_the_clock_runs(self):
        for shape in self.random.choice([s for s in SHAPES if s not in ("two_rocker", "four_casters")], 3, False):
            r = evaluate(start(str(shape), "Laid", float(SHAPES[shape].usual_mm)), "Forward").reading
            clock, begins = float(self.random.uniform(0.93, 1.07)), float(self.random.random())
            late = {next(m.name for m in r.project.walker.legs): 0.07 * r.score.duration_s}
            trace = self.even(r, clock=clock, begins=begins, late_s=late)
            more = None
            if self.random.random() < 0.5:
                # A sensor that lies below its resistor reads less under load; near half a cycle each that must be said.
                trace = replace(trace, feet={limb: 1023.0 - v for limb, v in trace.feet.items()})
                more = False if r.course.contact[:, : r.samples].mean() < 0.7 else None
            found = heard(trace, r, more=more)
            with self.subTest(seed=self.seed, shape=shape, clock=clock, begins=begins):
                self.assertAlmostEqual(found.laid.period_s / r.score.duration_s, clock, delta=0.002)
                off = (found.laid.phase[0] - begins + 0.5) % 1.0 - 0.5
                self.assertLess(abs(off), 0.08)
                for foot in found.feet:
                    told = late.get(foot.limb, 0.0)
                    if sum(f.lands_ms is not None for f in found.feet) == 2 and not told:
                        told = -next(iter(late.values()))
                    if foot.lands_ms is not None:
                        self.assertAlmostEqual(foot.lands_ms, 1000 * told, delta=25 * r.score.duration_s)

    def test_one_that_goes_as_told_tells_nothing(self):
        for r in (self.six, self.leans):
            self.assertEqual(codes(self.even(r, begins=0.3), r), [], self.seed)

    def test_another_clock_and_a_late_foot_are_told(self):
        self.assertEqual(codes(self.even(clock=1.05), self.six), ["F44"])
        told = trace_tells(heard(self.even(late_s={"L2": 0.1}), self.six), "Forward", 7)
        self.assertEqual([(s.code, s.title) for s in told], [("F48", "L2 lands late")])

    def test_footfalls_that_drown_the_lean_are_told_with_the_filter_that_leaves_it(self):
        r = self.leans
        quiet = self.even(r, shake_deg=0.3)
        # A ring of 9 Hz through all of it, as strong as told.
        ring = 6.0 * np.sin(2 * np.pi * 9.0 * quiet.time_s)
        loud = replace(quiet, leans_deg={**quiet.leans_deg, "roll": quiet.leans_deg["roll"] + ring})
        self.assertEqual(codes(quiet, r), [])
        self.assertEqual(codes(loud, r), ["F26"])
        (shaken, *_) = heard(loud, r).shaken
        self.assertAlmostEqual(shaken.shake_deg, 6.0, delta=0.3)
        self.assertAlmostEqual(shaken.share, (6.0 / shaken.lean_deg) ** 2, delta=0.1 * shaken.share)
        # As a filter in time, pole by pole, it leaves what it says.
        by, step = shaken.filter, float(np.diff(loud.time_s[:2])[0])
        seen = loud.leans_deg["roll"] - loud.leans_deg["roll"].mean()
        for _ in range(by.poles):
            keep, out, last = np.exp(-2 * np.pi * by.corner_hz * step), np.empty_like(seen), 0.0
            for n, value in enumerate(seen):
                last = out[n] = keep * last + (1 - keep) * value
            seen = out
        left = heard(replace(loud, leans_deg={"roll": seen}), r).shaken[0]
        self.assertLess(left.share, 0.35)
        # A ring hardly quicker than the stride no filter takes away in time.
        near = 9.0 * np.sin(2 * np.pi * 2.2 * quiet.time_s / r.score.duration_s)
        slow = replace(quiet, leans_deg={"roll": quiet.leans_deg["roll"] + near})
        self.assertIsNone(heard(slow, r).shaken[0].filter)
        self.assertIn("F26", codes(slow, r))

    @in_turns
    def test_feet_that_tell_nothing_leave_it_to_the_leans_where_it_begins(self):
        trace = self.even(self.leans, begins=0.4)
        dead = replace(trace, feet={limb: np.full(len(trace.time_s), 7.0) for limb in trace.feet})
        found = heard(dead, self.leans)
        self.assertTrue(found.laid.placed)
        self.assertLess(abs((found.laid.phase[0] - 0.4 + 0.5) % 1.0 - 0.5), 0.05)
        # Where nothing leans either, nothing does.
        flat = self.even()
        self.assertFalse(
            heard(replace(flat, feet={limb: np.zeros(len(flat.time_s)) for limb in flat.feet}), self.six).laid.placed
        )

    @in_turns
    def test_a_lean_that_does_not_come_and_one_that_never_comes_again_are_told(self):
        quiet = self.even(self.leans, shake_deg=0.0)
        half = replace(quiet, leans_deg={"roll": 0.5 * quiet.leans_deg["roll"]})
        (told,) = trace_tells(heard(half, self.leans), "Forward", 7)
        self.assertEqual(told.title, "Its roll is not as told")
        beats = 8.0 * np.sin(2 * np.pi * 1.47 * quiet.time_s / self.leans.score.duration_s)
        loose = replace(quiet, leans_deg={"roll": quiet.leans_deg["roll"] + beats})
        self.assertIn("No two cycles alike", [s.title for s in trace_tells(heard(loose, self.leans), "Forward", 7)])

    def test_thresholds_that_overlap_or_have_moved_are_told(self):
        before = self.even()
        first = heard(before, self.six)
        earlier = earlier_of(first, 6)
        self.assertEqual(set(earlier.thresholds), set(before.feet))
        for foot in first.feet:
            self.assertTrue(foot.fits(earlier.thresholds[foot.limb]))
        self.assertEqual(codes(self.even(), self.six, earlier), [])
        drifted = self.even()
        drifted = replace(drifted, feet={**drifted.feet, "R1": 0.3 * drifted.feet["R1"]})
        (moved,) = trace_tells(heard(drifted, self.six), "Forward", 7, earlier)
        self.assertEqual((moved.code, moved.title), ("F27", "R1: its threshold has moved"))
        noise = self.random.normal(0.0, 300.0, len(before.time_s))
        (over,) = trace_tells(heard(replace(before, feet={**before.feet, "L3": before.feet["L3"] + noise}), self.six),
                              "Forward", 7, earlier)  # fmt: skip
        self.assertEqual((over.code, over.title), ("F27", "L3: loaded reads like unloaded"))

    @in_turns
    def test_the_divider_is_the_one_that_spreads_them_most(self):
        full = 1023.0
        loaded, unloaded = float(self.random.uniform(300, 900)), float(self.random.uniform(6000, 20000))
        trace = self.even()
        share = np.clip((trace.feet["L1"] - 60.0) / 550.0, 0.0, 1.0)
        ohm = np.exp(np.log(unloaded) + share * np.log(loaded / unloaded))

        def read(resistor):
            return replace(trace, feet={"L1": full * resistor / (resistor + ohm)})

        now = 120.0
        felt = heard(read(now), self.six, full).feet[0]
        self.assertIsNotNone(felt.divider, self.seed)
        gaps = {}
        for k in (0.5, 1.0, felt.divider / 1.6, felt.divider, felt.divider * 1.6):
            told = heard(read(now * k), self.six, full).feet[0]
            gaps[k] = float(np.median(told.loaded) - np.median(told.unloaded))
        self.assertEqual(max(gaps, key=gaps.get), felt.divider, (self.seed, gaps))
        self.assertIsNone(heard(read(now * felt.divider), self.six, full).feet[0].divider)

    def test_what_shows_too_little_is_refused(self):
        whole = self.even()
        for cut, words in ((slice(0, 200), "cycles"), (slice(0, None, 20), "lines a cycle")):
            short = replace(
                whole, time_s=whole.time_s[cut], leans_deg={k: v[cut] for k, v in whole.leans_deg.items()},
                feet={k: v[cut] for k, v in whole.feet.items()},
            )  # fmt: skip
            with self.assertRaisesRegex(InputRefused, words):
                heard(short, self.six)
        with self.assertRaisesRegex(InputRefused, "Nothing moves"):
            heard(replace(whole, leans_deg={"roll": np.zeros(len(whole.time_s))}, feet={}), self.six)
        ends = evaluate(start("two_servo", "Ends", 140.0), "Start").reading
        for asked in (lambda: heard(whole, ends), lambda: stand_in(ends, 1)):
            with self.assertRaisesRegex(InputRefused, "has an end"):
                asked()


if __name__ == "__main__":
    unittest.main()
