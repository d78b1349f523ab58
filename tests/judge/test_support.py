"""Support polygons and margins against a geometry library, and the centre of mass against plain sums."""

from __future__ import annotations

import unittest

import numpy as np
import shapely

from bustle.core.evaluate import evaluate
from bustle.core.geometry.support_polygon import support
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.walk.standing_polygon import standing
from tests.projects import changed, demo, hexapod, quadruped
from tests.seeded import SeededTest


def oracle(points, centre):
    """(hull, margin) by shapely."""
    hull = shapely.MultiPoint(points).convex_hull
    here = shapely.Point(centre)
    if hull.geom_type == "Polygon" and hull.contains(here):
        return hull, hull.exterior.distance(here)
    return hull, -hull.distance(here)


class Polygons(SeededTest):
    def test_hull_and_margin_agree_with_a_geometry_library(self):
        for legs in (1, 2, 3, 4, 6, 12):
            feet = self.random.uniform(-200, 200, (legs, 300, 2))
            if legs >= 4:
                feet[2, :100] = (feet[0, :100] + feet[1, :100]) / 2  # three in a line
                feet[3, 50:80] = feet[0, 50:80]  # two at one place
            contact = self.random.random((legs, 300)) < 0.7
            centre = self.random.uniform(-250, 250, (300, 2))
            got = support(feet, contact, centre)
            for s in range(300):
                with self.subTest(legs=legs, sample=s, seed=self.seed):
                    down = feet[contact[:, s], s]
                    self.assertEqual(got.supported[s], len(down) > 0)
                    if not len(down):
                        self.assertTrue(np.isnan(got.margin_mm[s]))
                        continue
                    hull, margin = oracle(down, centre[s])
                    self.assertAlmostEqual(got.margin_mm[s], margin, delta=2e-6)
                    mine = shapely.MultiPoint(got.corners[s, : got.count[s]]).convex_hull
                    self.assertLess(mine.hausdorff_distance(hull), 2e-6)

    def test_corners_go_counter_clockwise(self):
        feet = self.random.uniform(-200, 200, (6, 200, 2))
        got = support(feet, np.ones((6, 200), bool), np.zeros((200, 2)))
        for s in range(200):
            ring = shapely.LinearRing(got.corners[s, : got.count[s]])
            self.assertTrue(ring.is_ccw and ring.is_simple)

    def test_plan_margin_is_that_of_its_own_polygon(self):
        """Through the front door: solved feet, solved masses, both sides of every event."""
        for name, motion in (("fennel", "Sideways left"), ("sorrel", "Forward"), ("sorrel", "Hose step")):
            e = evaluate(demo(name), motion).reading
            for s in range(len(e.course.time_s)):
                down = e.course.feet_ground_mm[e.course.contact[:, s], s, :2]
                self.assertAlmostEqual(
                    e.of(standing).margin_mm[s], oracle(down, e.course.com_ground_mm[s, :2])[1], delta=2e-6
                )
            self.assertEqual(e.of(worst_margin)[0], np.nanmin(e.of(standing).margin_mm))

    def test_worst_margin_sees_both_sides_of_an_event_between_samples(self):
        """With three samples the lift-off that matters falls between two of them."""
        fine = evaluate(demo("sorrel"), "Hose step", 2000).figure("worst_margin_mm")
        coarse = evaluate(demo("sorrel"), "Hose step", 3).figure("worst_margin_mm")
        self.assertAlmostEqual(fine, coarse, delta=0.2)


class CentreOfMass(unittest.TestCase):
    def test_is_the_weighted_mean_of_everything_listed(self):
        project = changed(
            quadruped(),
            {
                "walker/masses": [
                    {"name": "Box", "mass_g": 300.0, "at_mm": [10.0, -4.0, 7.0]},
                    {"name": "Lamp", "mass_g": 50.0, "at_mm": [5.0, 0.0, 0.0], "on": "FL/shank"},
                ]
            },
        )
        e = evaluate(project, "Forward").reading
        weighed, moment = 300.0, 300.0 * np.array([10.0, -4.0, 7.0])
        sheet = project.servo_types[0].mass_g
        for n, limb in enumerate(project.walker.limbs):
            points, frames = e.course.solved.points[n][5], e.course.solved.frames[n][5]
            for k, link in enumerate(limb.links):
                weighed += link.mass_g
                moment = moment + link.mass_g * (points[k] + points[k + 1]) / 2
            for k in range(3):
                weighed += sheet
                moment = moment + sheet * points[k]
            if limb.name == "FL":
                weighed += 50.0
                moment = moment + 50.0 * (points[2] + frames[2] @ np.array([5.0, 0.0, 0.0]))
        np.testing.assert_allclose(e.course.com_body_mm[5], moment / weighed, atol=1e-9)
        self.assertAlmostEqual(evaluate(project, "Forward").figure("mass_g"), weighed)

    def test_moves_with_the_legs(self):
        e = evaluate(hexapod(), "Forward").reading
        self.assertGreater(np.ptp(e.course.com_body_mm[:, 0]), 0.5)

    def test_as_built_moves_the_foot_and_leaves_the_table(self):
        """The table is solved on the design; what was measured decides where the foot goes."""
        plain = quadruped()
        built = changed(plain, {"walker/as_built": {"limbs": [{"limb": "FL", "link_length_mm": {"shank": 103.0}}]}})
        tilted = changed(plain, {"walker/as_built": {"limbs": [{"limb": "FL", "joint_zero_deg": {"knee": 2.0}}]}})
        reference = evaluate(plain, "Forward").reading
        for other in (built, tilted):
            e = evaluate(other, "Forward").reading
            np.testing.assert_array_equal(e.angles, reference.angles)
            moved = np.linalg.norm(e.course.feet_body_mm - reference.course.feet_body_mm, axis=-1)
            self.assertGreater(moved[0].min(), 2.0)
            self.assertEqual(moved[1:].max(), 0.0)
