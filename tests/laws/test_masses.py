"""Masses of every size and anywhere: of next to nothing, of nothing, and below the floor."""

from __future__ import annotations

import warnings

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.loads.told import not_told
from bustle.core.project.project import document
from bustle.core.starting.starting_walkers import LEG_LENGTH_MM, SHAPES
from tests.long import share
from tests.projects import changed, start
from tests.seeded import SeededTest

NEXT_TO_NOTHING_G = 1e-6


class Masses(SeededTest):
    def light(self, project, links_from, weighs_g):
        """Its links from one on, in every limb, and its servos, weigh so much."""
        values = document(project)
        for limb in values["walker"]["limbs"]:
            for link in limb["links"][links_from:]:
                link["mass_g"] = weighs_g
        for servo in values["servo_types"]:
            servo["mass_g"], servo["rotor"] = weighs_g, None
        return parse_project(values)

    def test_links_and_servos_that_weigh_nothing_carry_no_mass_anywhere(self):
        for shape in share(self.random, list(SHAPES)):
            project = start(shape, "Light", float(self.random.uniform(*LEG_LENGTH_MM)))
            for links_from in range(3):
                none, hair = (self.light(project, links_from, g) for g in (0.0, NEXT_TO_NOTHING_G))
                for motion in project.motions:
                    with self.subTest(shape=shape, links_from=links_from, motion=motion.name, seed=self.seed):
                        one, other = (evaluate(p, motion.name) for p in (none, hair))
                        np.testing.assert_allclose(
                            one.reading.course.com_body_mm, other.reading.course.com_body_mm, atol=1e-4
                        )
                        margins = [(p.reading.of(worst_margin) or (0.0,))[0] for p in (one, other)]
                        self.assertAlmostEqual(*margins, delta=1e-3)
                        self.assertEqual({f.code for f in one.findings}, {f.code for f in other.findings})

    def test_of_a_mass_below_the_floor_no_load_is_told_and_all_else_is(self):
        for shape in share(self.random, list(SHAPES)):
            project = start(shape, "Keel", float(self.random.uniform(*LEG_LENGTH_MM)))
            keel = {"name": "Keel", "mass_g": 1e5, "at_mm": [0.0, 0.0, -2000.0], "on": "body"}
            project = changed(project, {"walker/masses": [*document(project)["walker"]["masses"], keel]})
            for motion in project.motions:
                with self.subTest(shape=shape, motion=motion.name, seed=self.seed), warnings.catch_warnings():
                    warnings.simplefilter("error")
                    plan = evaluate(project, motion.name)
                    self.assertEqual(not_told(plan.reading), "its mass lies below the floor")
                    self.assertTrue(plan.findings)
                    for figure in plan.figures:
                        self.assertTrue(np.isfinite(figure.value), figure.name)
                        self.assertTrue(figure.working)
