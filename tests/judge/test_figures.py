"""Figures and their workings: what is shown can be re-computed by hand from what is shown."""

from __future__ import annotations

import re
import unittest

import numpy as np

from bustle.core.document.file import load_project
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.joint_rates import joint_rates, joint_steps
from bustle.core.kinds.foot_paths import FOOT_PATHS
from bustle.core.starting.starting_walkers import SHAPES
from bustle.core.walk.standing_polygon import standing
from bustle.core.words.wording import also, length, number, seconds
from tests.long import in_turns, is_long, share
from tests.projects import ROOT, changed, demo, hexapod, quadruped, start
from tests.seeded import SeededTest


def numbers(text):
    return [float(n.replace("−", "-")) for n in re.findall(r"[−-]?\d+(?:\.\d+)?", text)]


class Workings(SeededTest):
    def figure(self, plan, name):
        (found,) = plan.figures_among([name])
        return found

    @is_long
    def test_every_figure_has_a_working_and_is_finite(self):
        for shape in share(self.random, list(SHAPES), 6):
            project = start(shape, "Figures", 180.0)
            for motion in project.motions:
                plan = evaluate(project, motion.name)
                for figure in plan.figures:
                    self.assertTrue(np.isfinite(figure.value), f"{shape} {figure.name}")
                    self.assertTrue(figure.working and all(figure.working), figure.name)
                self.assertEqual(len({f.name for f in plan.figures}), len(plan.figures))

    @is_long
    def test_what_a_figure_tells_stands_in_its_working(self):
        """Within half of the last digit that is shown, of the machines that findings are shown on and their twins."""
        for path in share(self.random, sorted((ROOT / "demo" / "faults").glob("*.bustle.json")), 24):
            project = load_project(path.read_bytes())
            for motion in project.motions:
                for figure in evaluate(project, motion.name).figures:
                    told, working = abs(figure.value), " ".join(figure.working)
                    near = 0.51 if told >= 9.95 else max(0.051, 0.51 * 10.0**-figure.digits)
                    off = min((abs(abs(n) - told) for n in numbers(working)), default=np.inf)
                    with self.subTest(path=path.name, motion=motion.name, figure=figure.name, working=working):
                        self.assertLess(off, near)

    def test_products_multiply_out(self):
        """stride, turn, stroke: the factors on the line give the figure."""
        plan = evaluate(demo("fennel"), "Forward")
        for name in ("stride_mm", "stroke_mm"):
            figure = self.figure(plan, name)
            line = figure.working[-1].replace("L1", "").replace("L2", "")
            *factors, result = numbers(line)
            self.assertAlmostEqual(np.prod(factors), figure.value, delta=0.02 * figure.value)
            self.assertAlmostEqual(result, figure.value, delta=0.51)
        turn = self.figure(evaluate(demo("fennel"), "Turn left"), "turn_deg")
        self.assertAlmostEqual(turn.value, 22.0 * 1.2)

    def test_masses_add_up(self):
        figure = self.figure(evaluate(demo("sorrel"), "Forward"), "mass_g")
        *parts, total = (numbers(line)[-1] for line in figure.working)
        self.assertAlmostEqual(sum(parts), total, delta=len(parts))
        self.assertAlmostEqual(total, figure.value, delta=0.5)

    def test_reach_in_hand_subtracts(self):
        figure = self.figure(evaluate(demo("sorrel"), "Forward"), "straight_knee_mm")
        straight, span, left = numbers(figure.working[-1])
        self.assertAlmostEqual(straight - span, left, delta=0.11)
        self.assertEqual(straight, 96.0 + 102.0)

    def test_worst_margin_names_the_feet_that_are_down(self):
        plan = evaluate(demo("sorrel"), "Hose step")
        figure = self.figure(plan, "worst_margin_mm")
        down = re.findall(r"\b(FL|FR|BL|BR)\b", " ".join(figure.working))
        self.assertEqual(len(down), 3)
        finding = next(f for f in plan.findings if f.code == "F18")
        missing = ({"FL", "FR", "BL", "BR"} - set(down)).pop()
        self.assertIn(f"with {missing} in the air", finding.message)

    @in_turns
    def test_landing_speed_follows_the_path(self):
        for path in FOOT_PATHS.values():
            project = changed(hexapod(), {"motions/0/foot_path": path.name})
            plan = evaluate(project, "Forward", 6000)
            e = plan.reading
            feet = e.course.feet_ground_mm[0, :6000]
            contact = e.course.contact[0, :6000]
            landing = (
                int(np.flatnonzero(~contact[:-1] & contact[1:])[0]) if (~contact[:-1] & contact[1:]).any() else 5998
            )
            speed = np.linalg.norm(feet[landing] - feet[landing - 1]) / e.row_s
            self.assertAlmostEqual(speed, self.figure(plan, "landing_speed_mm_s").value, delta=6.0, msg=path.name)

    def test_peak_rate_is_the_largest_step_over_the_row(self):
        plan = evaluate(demo("fennel"), "Hurry")
        step, row_ms, rate = numbers(self.figure(plan, "peak_rate_deg_s").working[-1])
        self.assertAlmostEqual(step / row_ms * 1000, rate, delta=1.0)
        self.assertAlmostEqual(rate, np.degrees(np.abs(plan.reading.of(joint_rates)).max()), delta=0.5)

    def test_rates_take_the_short_way_round_and_wrap(self):
        """A radial leg whose yaw passes ±180° has no spike there."""
        project = hexapod()
        for n in range(6):
            limb = project.walker.limbs[n]
            project = changed(
                project,
                {f"walker/limbs/{n}/mount/yaw_deg": limb.mount.yaw_deg - 180.0},
            )
        e = evaluate(project, "Forward").reading
        self.assertGreater(np.abs(np.degrees(e.angles)).max(), 150.0)
        self.assertLess(np.degrees(np.abs(e.of(joint_steps))).max(), 25.0)


class Instants(unittest.TestCase):
    def test_just_before_an_event_is_named_as_such(self):
        """The worst instant of the hose step is before a touchdown: looking there shows the fall."""
        plan = evaluate(demo("sorrel"), "Hose step")
        time = next(f for f in plan.findings if f.code == "F18").time_s
        event = plan.reading.score.events()
        nearest = event[np.argmin(np.abs(event - time))]
        self.assertTrue(0 < nearest - time < 1e-5)
        sample = int(np.floor(time / plan.reading.row_s + 1e-6))
        self.assertLess(plan.reading.of(standing).margin_mm[sample], 0)

    def test_before_the_first_event_is_the_end_of_the_cycle(self):
        e = evaluate(quadruped(), "Forward").reading
        times = [e.time_at(k) for k in range(len(e.course.time_s))]
        self.assertTrue(all(0 <= t < e.score.duration_s for t in times))
        first_before = int(np.flatnonzero(e.before)[0])
        self.assertEqual(e.course.time_s[first_before], 0.0)
        self.assertGreater(e.time_at(first_before), 0.99 * e.score.duration_s)


class Wording(unittest.TestCase):
    def test_numbers_read_as_builders_write_them(self):
        self.assertEqual(
            [number(v, 2) for v in (0.0, -0.0, -0.001, 1.50, -12.0, 0.126)], ["0", "0", "0", "1.5", "−12", "0.13"]
        )
        self.assertEqual([length(v) for v in (3.14, 9.96, 57.6, -0.04)], ["3.1 mm", "10 mm", "58 mm", "0 mm"])
        self.assertEqual([seconds(v) for v in (0.0125, 1.256)], ["0.013 s", "1.26 s"])

    def test_others_are_listed_or_counted(self):
        self.assertEqual([also(["A"] * 0), also(["A"]), also(["A", "B"])], ["", " Also A.", " Also A and B."])
        self.assertEqual(also(["A", "B", "C", "D"]), " Also A, B and 2 more.")
