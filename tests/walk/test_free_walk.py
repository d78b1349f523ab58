"""Walking by the next-leg rule: margins kept, strokes kept, nothing known in advance."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.geometry.planar_twist import bring_back
from bustle.core.judge.measures.feet.foot_slip import slip_mm
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.project.project import Project, document
from bustle.core.search.stick_to_walk import Stick, StickAt, driven_by_rule
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import InputRefused
from tests.long import in_turns
from tests.projects import changed, hexapod, quadruped, start
from tests.seeded import SeededTest

TAKES_S = 12.0


def with_walk(project: Project, ways: list[dict], takes_s: float = TAKES_S, like: str = "Forward") -> Project:
    values = document(project)
    walk = {"kind": "free_walk", "name": "Free", "like": like, "ways": ways, "takes_s": takes_s}
    values["motions"].append(walk)
    return parse_project(values)


def walk_of(project: Project, ways: list[dict], takes_s: float = TAKES_S) -> Reading:
    return evaluate(with_walk(project, ways, takes_s), "Free").reading


class FreeWalks(SeededTest):
    def ways(self, project: Project) -> list[dict]:
        """Three ways within what the forward walk does, and a stop."""
        top = project.motion("Forward").twist.vx_mm_s
        found = []
        for n in range(3):
            vx, vy = (float(v) for v in self.random.uniform(-0.6, 0.6, 2) * top)
            omega = float(self.random.uniform(-10, 10))
            found.append({"from_s": 0.2 + 2.5 * n, "twist": {"vx_mm_s": vx, "vy_mm_s": vy, "omega_deg_s": omega}})
        return [*found, {"from_s": 7.7, "twist": {}}]

    def walks(self):
        for project in (hexapod(), quadruped()):
            yield project, walk_of(project, self.ways(project), 18.0)

    @in_turns
    def test_the_margin_is_kept_at_every_instant(self):
        for project, e in self.walks():
            margin, _ = e.of(worst_margin)
            self.assertGreaterEqual(margin, project.limits.margin_mm)
            self.assertLess(e.course.contact[:, : e.samples].sum(axis=0).min(), len(project.walker.legs))

    def test_on_a_slope_it_lifts_by_where_a_plumb_line_falls(self):
        rises = float(self.random.uniform(-180, 180))
        project = changed(hexapod(), {"floor/slope_deg": 12.0, "floor/uphill_deg": rises})
        e = walk_of(project, [{"from_s": 0.2, "twist": {"vx_mm_s": 30.0, "omega_deg_s": 12.0}}], 12.0)
        margin, _ = e.of(worst_margin)
        self.assertGreaterEqual(margin, project.limits.margin_mm, f"seed {self.seed}")
        self.assertGreater(np.ptp(e.course.body.travel[2]), np.radians(45))

    @in_turns
    def test_other_machines_walk_by_it_without_a_stop(self):
        for shape in ("six_radial", "six_upright", "six_two", "four_sprawled"):
            project = start(shape, "By the rule", 200.0)
            top = project.motion("Forward").twist.vx_mm_s
            ways = [{"from_s": 0.2, "twist": {"vx_mm_s": 0.7 * top}}, {"from_s": 5.0, "twist": {"omega_deg_s": 5.0}}]
            plan = evaluate(with_walk(project, ways, 8.0), "Free")
            self.assertEqual(plan.stops, frozenset(), shape)
            self.assertGreater(plan.figure("way_mm"), 0.2 * 0.7 * top * 4.8, shape)

    @in_turns
    def test_no_two_beside_each_other_are_in_the_air(self):
        for project, e in self.walks():
            names = [limb.name for limb in project.walker.limbs]
            air = ~e.course.contact[:, : e.samples]
            for one, other in (("L1", "L2"), ("L2", "L3"), ("R1", "R2"), ("R2", "R3"), ("FL", "BL"), ("FR", "BR")):
                if one in names and other in names:
                    self.assertFalse((air[names.index(one)] & air[names.index(other)]).any())

    @in_turns
    def test_feet_stand_still_and_none_outruns_its_stroke(self):
        for project, e in self.walks():
            self.assertLess(e.of(slip_mm).max(), 1e-6)
            fastest = max(
                np.hypot(*(np.array([w.twist.vx_mm_s, w.twist.vy_mm_s])))
                + np.radians(abs(w.twist.omega_deg_s)) * np.hypot(*limb.neutral_mm)
                for w in e.motion.ways
                for limb in project.walker.legs
            )
            gait = project.motion("Forward")
            # Half a stroke behind neutral; ahead also what the body was going to do in a swing, should it wait instead.
            longest = fastest * (1 - gait.legs[0].duty / 2) * gait.cycle_s
            travel = tuple(v[: e.samples] for v in e.course.body.travel)
            for i, limb in enumerate(project.walker.limbs):
                down = e.course.contact[i, : e.samples]
                seen = bring_back(travel, *e.course.feet_ground_mm[i, : e.samples, :2].T)
                away = np.hypot(*(np.array(seen) - np.array(limb.neutral_mm)[:, None]))[down]
                self.assertLess(away.max(), longest + 3.0)

    @in_turns
    def test_what_comes_later_changes_nothing_before(self):
        project = hexapod()
        ways = self.ways(project)
        e = walk_of(project, ways)
        turned = [*ways[:2], {"from_s": ways[2]["from_s"], "twist": {"omega_deg_s": -8.0}}]
        other = walk_of(project, turned)
        same = int(ways[2]["from_s"] / e.row_s)
        np.testing.assert_array_equal(e.angles[:same], other.angles[:same])
        self.assertGreater(np.abs(e.angles[same:] - other.angles[same:]).max(), 0.01)

    @in_turns
    def test_told_to_stand_it_brings_every_foot_home(self):
        for project, e in self.walks():
            end = tuple(v[e.samples - 1 : e.samples] for v in e.course.body.travel)
            for i, limb in enumerate(project.walker.limbs):
                x, y = bring_back(end, *e.course.feet_ground_mm[i, e.samples - 1 : e.samples, :2].T)
                self.assertLess(np.hypot(x[0] - limb.neutral_mm[0], y[0] - limb.neutral_mm[1]), 1.5)
            self.assertTrue(e.course.contact[:, e.samples - 1].all())

    @in_turns
    def test_the_body_takes_up_a_way_without_a_jerk(self):
        for _, e in self.walks():
            x, y, _ = (v[: e.samples] for v in e.course.body.travel)
            speed = np.stack([np.diff(x), np.diff(y)]) / e.row_s
            # Half a cycle to full pace at the least: the speed changes little from row to row.
            self.assertLess(np.abs(np.diff(speed)).max(), 0.35 * np.abs(speed).max() + 1.0)

    @in_turns
    def test_it_goes_where_it_is_told_to(self):
        e = walk_of(hexapod(), [{"from_s": 0.0, "twist": {"vy_mm_s": 20.0}}])
        x, y, theta = (float(v[e.samples - 1]) for v in e.course.body.travel)
        self.assertGreater(y, 0.4 * 20.0 * TAKES_S)
        self.assertLess(abs(x) + abs(theta), 1e-6)
        share = evaluate(with_walk(hexapod(), [{"from_s": 0.0, "twist": {"vy_mm_s": 20.0}}]), "Free").figure(
            "way_share"
        )
        self.assertAlmostEqual(share, 100 * y / (20.0 * TAKES_S), delta=0.2)

    def test_the_stick_is_followed_through_the_set(self):
        project = hexapod()
        walk = driven_by_rule(project, [StickAt(0.1, Stick(0.5, 0, 0)), StickAt(3.0, Stick(0, 0, 0))], 6.0, "Drive")
        forward = project.motion("Forward").twist.vx_mm_s
        self.assertEqual([round(w.twist.vx_mm_s / forward, 6) for w in walk.ways], [0.5, 0.0])
        with self.assertRaises(InputRefused) as refused:
            driven_by_rule(start("six_two", "Ahead", 160.0), [StickAt(0.0, Stick(0, 0, 1))], 6.0, "Drive")
        self.assertIn("goes round to the left", str(refused.exception))

    def test_what_cannot_walk_by_the_rule_is_refused_by_name(self):
        way = [{"from_s": 0.0, "twist": {}}]
        for project, ways, like, said in (
            (hexapod(), way, "Nowhere", "no motion is called 'Nowhere'"),
            (hexapod(), way, "Stand", "has legs that never lift"),
            (hexapod(), [*way, *way], "Forward", "one after another in time"),
            (start("two_full", "Two", 200.0), way, "Stand", "four legs"),
        ):
            with self.assertRaises(InputRefused) as refused:
                with_walk(project, ways, like=like)
            self.assertIn(said, str(refused.exception))
