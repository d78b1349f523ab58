"""What weighs nothing is as good as what weighs next to nothing, wherever on a machine it is."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.project.project import document
from bustle.core.starting.starting_walkers import LEG_LENGTH_MM, SHAPES
from tests.long import share
from tests.projects import start
from tests.seeded import SeededTest

NEXT_TO_NOTHING_G = 1e-6


class Weightless(SeededTest):
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
