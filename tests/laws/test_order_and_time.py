"""The order of limbs changes nothing, nor do where a cycle begins and how many rows tell it; a pause changes only
times; every event is looked at."""

from __future__ import annotations

import unittest

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.falling.tipping import leans
from bustle.core.geometry.planar_twist import bring_back
from bustle.core.judge.measures.feet.mid_stance import mid_stances
from bustle.core.judge.measures.feet.swing_clearance import clearances
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import document
from bustle.core.walk.read import row_count
from tests.long import in_turns, is_long, share
from tests.projects import changed, demo, hexapod, quadruped, start
from tests.seeded import SeededTest
from tests.tables import shipped


def reordered(project):
    """The last limb first: a caster, an arm, a leg of the other side."""
    values = document(project)
    values["walker"]["limbs"].reverse()
    return parse_project(values)


class Order(SeededTest):
    @in_turns
    @is_long
    def test_of_limbs_changes_nothing(self):
        for name, made in share(self.random, list(shipped().items()), 25):
            project = made()
            other = reordered(project)
            for motion in project.motions:
                with self.subTest(walker=name, motion=motion.name):
                    self.agree(evaluate(project, motion.name), evaluate(other, motion.name))

    def agree(self, one, other):
        a, b = one.reading, other.reading
        columns = [b.kit.column_of[j.path] for j in a.kit.joints]
        np.testing.assert_allclose(b.angles[:, columns], a.angles, atol=1e-9)
        for figure in one.figures:
            value = other.figure(figure.name)
            self.assertIsNotNone(value, figure.name)
            self.assertAlmostEqual(value, figure.value, 5, figure.name)
            self.assertTrue(all(isinstance(line, str) for line in figure.working), figure.name)
        # Of legs that are as bad, another may be told first, with its own sign.
        told = [sorted((f.code, f.severity, round(abs(f.value), 5)) for f in p.findings) for p in (one, other)]
        self.assertEqual(*told)

    def test_a_walker_that_begins_with_a_caster_or_an_arm_stands(self):
        for shape in ("four_casters", "two_wheels", "two_moving_mass"):
            project = reordered(start(shape, "First", 200.0))
            for motion in project.motions:
                for figure in evaluate(project, motion.name).figures:
                    self.assertTrue(figure.working, f"{shape} {motion.name} {figure.name}")


def begun(project, motion, rows, of):
    """The same walk, its table begun so many rows of all later."""
    values = document(project)
    walk = next(m for m in values["motions"] if m["name"] == motion)
    share = rows / of
    for timed in (*walk["legs"], *walk.get("moves_of_arms", ())):
        for key in {"phase", "at", "back_at"} & timed.keys():
            timed[key] = (timed[key] - share) % 1.0
    for term in walk["pose"].get("sway", ()):
        c, s = (f(2 * np.pi * term.get("harmonic", 1) * share) for f in (np.cos, np.sin))
        for axis in "xyz":
            cos, sin = (term.get(f"{axis}_{part}_mm", 0.0) for part in ("cos", "sin"))
            term[f"{axis}_cos_mm"], term[f"{axis}_sin_mm"] = cos * c + sin * s, sin * c - cos * s
    return parse_project(values)


class Begun(SeededTest):
    """A controller may begin a walk that repeats at any row."""

    def gaits(self):
        for name, made in share(self.random, list(shipped().items()), 20):
            project = made()
            for motion in project.motions:
                if isinstance(motion, PhaseGait) and not motion.pauses and not motion.stands:
                    rows = row_count(motion.cycle_s, project.controller.frame_period_ms / 1000)
                    if abs(rows * project.controller.frame_period_ms / 1000 - motion.cycle_s) < 1e-9:
                        yield name, project, motion.name, rows

    @in_turns
    @is_long
    def test_at_another_row_it_is_judged_alike(self):
        """But for the row nearest to the middle of a stance, where that lies between two."""
        for name, project, motion, rows in self.gaits():
            first = int(self.random.integers(1, rows))
            one, other = (evaluate(p, motion) for p in (project, begun(project, motion, first, rows)))
            with self.subTest(walker=name, motion=motion, begun=first, seed=self.seed):
                told = [{(f.code, f.severity, f.title): abs(f.value) for f in plan.findings} for plan in (one, other)]
                self.alike(*told)
                figures = [{f.name: f.value for f in plan.figures} for plan in (one, other)]
                if "F17" in {code for code, _, _ in told[0]}:
                    # Of legs out of reach the row in the middle of a stance tells whether they turn at all.
                    for values in figures:
                        values.pop("turning_radius_mm", None)
                self.alike(*figures)

    def alike(self, one, other):
        self.assertEqual(one.keys(), other.keys())
        for key, value in one.items():
            self.assertAlmostEqual(other[key], value, delta=max(0.02 * abs(value), 0.05), msg=str(key))

    def test_a_trot_that_turns_leans_alike_in_a_stretch_that_runs_over_its_end(self):
        project = start("four_upright", "Trot", 220.0)
        index = [m.name for m in project.motions].index("Trot")
        twist = {"vx_mm_s": 60.0, "vy_mm_s": 20.0, "omega_deg_s": 25.0}
        project = changed(project, {f"motions/{index}/twist": twist})
        plain = evaluate(project, "Trot").reading
        over_its_end = 0
        for first in range(0, plain.samples, 3):
            later = evaluate(begun(project, "Trot", first, plain.samples), "Trot").reading
            for one, other in zip(plain.of(leans), later.of(leans), strict=True):
                np.testing.assert_array_equal((other.rows + first) % plain.samples, one.rows)
                for name in ("tips_deg", "late_deg", "stopped_deg", "beside_mm", "grows", "drags", "carried"):
                    self.assertAlmostEqual(getattr(other, name), getattr(one, name), 6, f"{name}, begun at {first}")
                # Beside the body, where it is drawn, its line lies alike.
                for r, lean in ((plain, one), (later, other)):
                    over_its_end += lean.rows[-1] < lean.rows[0]
                    x, y, theta = (v[lean.rows] for v in r.course.body.travel)
                    lean_at = np.stack(bring_back((x, y, theta), *(1000 * lean.one).T))
                    ways = np.stack(bring_back((0.0 * x, 0.0 * y, theta), *lean.way.T))
                    if r is plain:
                        drawn, along = lean_at, ways
                np.testing.assert_allclose(lean_at, drawn, atol=1e-6)
                np.testing.assert_allclose(ways, along, atol=1e-9)
        self.assertGreater(over_its_end, 5)


class Rows(SeededTest):
    """What a machine gives, leans and keeps comes of how it walks, not of how many rows tell it."""

    figures = ("worst_margin_mm", "carried_margin_mm", "sag_mm", "clear_mm", "lean_deg", "held_share", "foot_play_mm")

    @in_turns
    @is_long
    def test_twice_as_many_tell_the_same(self):
        for name, made in share(self.random, list(shipped().items()), 12):
            project = made()
            for motion in project.motions:
                coarse = evaluate(project, motion.name)
                rows = coarse.reading.samples
                fine = evaluate(project, motion.name, 2 * rows if coarse.reading.score.periodic else 2 * rows - 1)
                for figure in self.figures:
                    one, other = coarse.figure(figure), fine.figure(figure)
                    if one is not None and other is not None:
                        with self.subTest(walker=name, motion=motion.name, seed=self.seed):
                            self.assertAlmostEqual(one, other, delta=max(0.07 * abs(other), 0.2), msg=figure)


class Pauses(unittest.TestCase):
    """Two seconds' rest in a cycle."""

    def pair(self, at):
        plain = hexapod()
        return (evaluate(p, "Forward", 2400).reading for p in (plain, self.paused(plain, at)))

    def paused(self, project, at):
        return changed(project, {"motions/0/pauses": [{"at": at, "hold_s": 2.0}]})

    def test_legs_stand_at_their_mid_stance(self):
        for at in (0.1, 0.45, 0.8):
            plain, paused = self.pair(at)
            for one, other in zip(plain.of(mid_stances), paused.of(mid_stances), strict=True):
                np.testing.assert_allclose(other.joints, one.joints, atol=0.01, err_msg=f"{at} {one.limb.name}")

    def test_what_feet_clear_is_the_same(self):
        project = changed(hexapod(), {"floor/obstacle_mm": 5.0, "floor/obstacle_at": 0.3})
        for at in (0.1, 0.45, 0.8):
            plain, paused = (
                {c.limb: c for c in evaluate(p, "Forward", 2400).reading.of(clearances)}
                for p in (project, self.paused(project, at))
            )
            for limb, one in plain.items():
                self.assertAlmostEqual(paused[limb].left_mm, one.left_mm, delta=0.1)
                self.assertAlmostEqual(paused[limb].over_obstacle_mm, one.over_obstacle_mm, delta=0.2)

    def test_figures_that_are_no_times_stay(self):
        plain, paused = (evaluate(p, "Forward", 2400) for p in (hexapod(), self.paused(hexapod(), 0.45)))
        for name in ("worst_margin_mm", "stroke_mm", "foot_play_mm", "clear_mm", "slip_mm", "turning_radius_mm"):
            self.assertAlmostEqual(paused.figure(name) or 0.0, plain.figure(name) or 0.0, delta=0.1, msg=name)


class Events(unittest.TestCase):
    def frames(self):
        """A foot is up for less than a row, at no row at all: only at its events can it be seen to be in the air."""
        project = quadruped()
        pose = document(project)["motions"][0]["pose"] | {"sway": []}
        leg = project.walker.limbs[0]
        x, y = leg.neutral_mm

        def frame(name, move_s, up, hold_s=0.0):
            feet = [{"limb": leg.name, "at_mm": [x, y, up]}]
            return {"name": name, "move_s": move_s, "hold_s": hold_s, "pose": pose, "feet": feet}

        shown = [frame("1", 0.0, 0.0, 0.005), frame("2", 0.005, 30.0), frame("3", 0.005, 0.0, 0.2)]
        values = document(project)
        values["motions"].append({"kind": "keyframes", "name": "Blink", "frames": shown, "repeats": False})
        return parse_project(values)

    def test_the_first_of_a_set_of_frames(self):
        project = self.frames()
        reading = evaluate(project, "Blink", 2).reading
        self.assertTrue(reading.course.contact[0, : reading.samples].all(), "at every row it stands")
        in_the_air = np.flatnonzero(~reading.course.contact[0])
        self.assertAlmostEqual(min(reading.time_at(int(k)) for k in in_the_air), 0.005, places=6)
        margin, at = reading.of(worst_margin)
        self.assertLess(margin, 10.0)
        self.assertIn(at, in_the_air)

    @in_turns
    def test_none_is_dropped_of_any_motion_that_ships(self):
        for name, project in (("fennel", demo("fennel")), ("frames", self.frames())):
            for motion in project.motions:
                reading = evaluate(project, motion.name).reading
                first = 0 if reading.score.periodic else reading.score.tolerance_s
                events = [t for t in reading.score.events() if t >= first]
                self.assertEqual(int(reading.before.sum()), len(events), f"{name} {motion.name}")
