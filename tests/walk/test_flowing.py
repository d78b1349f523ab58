"""Walks that flow into each other: another twist is taken up at a walk, and nothing but the way changes."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.geometry.planar_twist import carry, displacement
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import document
from bustle.core.walk.motions.from_rest_to_rest import ALIKE
from tests.motions import joins, programme, transition, twist_of, with_motions
from tests.projects import changed, hexapod, quadruped
from tests.seeded import SeededTest

NAMES = ("Ahead", "Aside", "Round")


class Flowing(SeededTest):
    def walks(self, base):
        """Three walks of one timing, each with a twist and a sway of its own."""
        values = document(base)
        first = values["motions"][0]
        for name in NAMES:
            walk = document(base)["motions"][0]
            walk["name"] = name
            walk["twist"] = {
                "vx_mm_s": float(self.random.uniform(10, 30)),
                "vy_mm_s": float(self.random.uniform(-12, 12)),
                "omega_deg_s": float(self.random.uniform(-9, 9)),
            }
            walk["pose"]["sway"] = [{"harmonic": 1, "y_sin_mm": float(self.random.uniform(2, 6))}]
            values["motions"].append(walk)
        values["motions"].append({**first, "name": "Other timing", "cycle_s": first["cycle_s"] * 1.25})
        return parse_project(values)

    def test_it_joins_what_it_joins_and_never_stops(self):
        for base in (hexapod(), quadruped()):
            for _ in range(3):
                project = self.walks(base)
                p, q = (round(float(v), 3) for v in self.random.uniform(0, 0.999, 2))
                project = with_motions(project, transition("Change", "Ahead", p, "Round", q, flows=True))
                with self.subTest(seed=self.seed, phases=(p, q)):
                    joins(project, "Change", "Ahead", p, "Round", q)
                    e = evaluate(project, "Change", 2000).reading
                    self.assertGreater(self.pace(e).min(), 5.0)
                    self.assertLess(e.score.duration_s, 3.01 * project.motion("Ahead").cycle_s)

    def pace(self, e):
        """mm/s of the travel frame, row to row."""
        x, y, _ = (v[: e.samples] for v in e.course.body.travel)
        return np.hypot(np.diff(x), np.diff(y)) / e.row_s

    def test_a_course_at_a_walk_ends_where_its_twists_lead(self):
        for base in (hexapod(), quadruped()):
            project = self.walks(base)
            parts, pose = [], (np.array(0.0), np.array(0.0), np.array(0.0))
            for n in range(5):
                name, cycles = NAMES[n % 3], round(float(self.random.uniform(0.4, 3.0)), 3)
                parts.append((name, cycles, "cycles"))
                x, y, theta = displacement(*twist_of(project, name), cycles * project.motion(name).cycle_s)
                pose = (*carry(pose, x, y), pose[2] + theta)
            project = with_motions(
                project, programme("At a walk", *parts, flows=True), programme("By standing", *parts)
            )
            e, halting = (evaluate(project, name, 6000).reading for name in ("At a walk", "By standing"))
            with self.subTest(seed=self.seed, parts=parts):
                for run in (e, halting):
                    travel = [float(v[run.samples - 1]) for v in run.course.body.travel]
                    np.testing.assert_allclose(travel, [float(v) for v in pose], atol=1e-6)
                self.assertLess(e.score.duration_s, halting.score.duration_s - 3 * project.motion("Ahead").cycle_s)
                # It gathers pace once and loses it once; the pace has no step.
                pace = self.pace(e)
                going = np.flatnonzero(pace > 5.0)
                self.assertEqual(len(going), going[-1] - going[0] + 1)
                self.assertLess(np.abs(np.diff(pace)).max(), 1.0)
                self.feet_stay(e)

    def feet_stay(self, e):
        """No foot moves over the ground while it stands, and at the end every one is at neutral."""
        last = e.samples - 1
        for leg, limb in enumerate(e.project.walker.limbs):
            down = e.course.contact[leg, : e.samples]
            moved = np.linalg.norm(np.diff(e.course.target_ground_mm[leg, : e.samples], axis=0), axis=1)
            self.assertLess(moved[down[:-1] & down[1:]].max(), 1e-9)
            x, y = carry(tuple(v[last] for v in e.course.body.travel), *limb.neutral_mm)
            np.testing.assert_allclose(e.course.target_ground_mm[leg, last], [x, y, 0.0], atol=1e-6)

    def test_walks_of_another_timing_are_met_standing(self):
        parts = (("Ahead", 2.0, "cycles"), ("Other timing", 2.0, "cycles"), ("Stand", 1.0, "seconds"))
        project = with_motions(
            self.walks(hexapod()),
            programme("Flows", *parts, flows=True),
            programme("Halts", *parts),
            transition("Over", "Ahead", 0.2, "Other timing", 0.4, flows=True),
            transition("Halting", "Ahead", 0.2, "Other timing", 0.4),
        )
        for one, other in (("Flows", "Halts"), ("Over", "Halting")):
            flows, halts = (evaluate(project, name).reading for name in (one, other))
            np.testing.assert_array_equal(flows.angles, halts.angles)
            # It is said why, where it was to flow.
            said = [" ".join(p.name for p in e.score.pieces) for e in (flows, halts)]
            self.assertIn("cycle not alike", said[0])
            self.assertNotIn("not alike", said[1])

    def test_every_part_of_a_gait_is_its_way_or_has_to_be_alike(self):
        """A part that gaits are given later is not forgotten here."""
        own = {"kind", "name", "gait", "twist", "balance", "travel", "steer_mm_m"}
        self.assertEqual(set(ALIKE) | own, set(PhaseGait.model_fields))

    def test_pauses_are_kept_on_the_way(self):
        project = self.walks(hexapod())
        n = len(project.motions)
        held = {
            f"motions/{k}/pauses": [{"at": 0.4, "hold_s": 0.5}] for k in range(n) if project.motions[k].name in NAMES
        }
        course = programme("Course", ("Ahead", 2.0, "cycles"), ("Round", 2.0, "cycles"), flows=True)
        plain, paused = (with_motions(p, course) for p in (project, changed(project, held)))
        quick, slow = (evaluate(p, "Course", 3000).reading for p in (plain, paused))
        self.assertGreater(slow.score.duration_s - quick.score.duration_s, 4 * 0.5)
        for a, b in zip(quick.course.body.travel, slow.course.body.travel, strict=True):
            self.assertAlmostEqual(float(a[quick.samples - 1]), float(b[slow.samples - 1]), delta=1e-6)
