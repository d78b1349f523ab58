"""Legs longer on one side than drawn: which way the walk turns, and what steering and drawing them right make of it."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import parse_project
from bustle.core.edits.patches import patched
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.way_walked import deviation
from bustle.core.project.project import document
from bustle.core.search.remedies import remedies
from bustle.core.trials.on_the_floor import logged
from bustle.core.trials.seen import seen
from bustle.core.trials.trial import Trial
from tests.engine.played import Played
from tests.long import in_turns
from tests.projects import changed, start
from tests.seeded import SeededTest

WALK, CYCLES = "Forward", 6
SHAPES = ("six_sprawled", "six_upright", "six_radial", "four_sprawled", "four_upright")


def longer_on_the_left(project, share):
    """As measured; and the machine that was built, as somebody would draw it."""
    measured, built = document(project), document(project)
    for limb, own in zip(project.walker.limbs, built["walker"]["limbs"], strict=True):
        if not limb.steps or limb.neutral_mm[1] < 0:
            continue
        for link in own["links"]:
            link["length_mm"] *= 1 + share
        lengths = {link["name"]: link["length_mm"] for link in own["links"] if link["length_mm"]}
        measured["walker"]["as_built"]["limbs"].append({"limb": limb.name, "link_length_mm": lengths})
    return parse_project(measured), parse_project(built)


def played(project, machine):
    """By its own sheets: give, play and floor."""
    servo = project.servo_types[0]
    own = (servo.full_torque_at_deg or 5.0, project.floor.holds, servo.play_deg or 0.0)
    return Played(project, [(WALK, CYCLES)], *own, machine=machine)


class Drifts(SeededTest):
    @in_turns
    def test_turns_the_way_told_and_goes_straight_once_drawn_as_measured(self):
        """What feet give before they slide takes up a part of how far, play of the joints gives some of that back."""
        shape, share = str(self.random.choice(SHAPES)), float(self.random.uniform(0.05, 0.07))
        keen = changed(start(shape, "Uneven", float(self.random.uniform(120, 260))), {"limits/drift_mm_m": 15.0})
        project, machine = longer_on_the_left(keen, share)
        plan = evaluate(project, WALK)
        told_deg = float(np.degrees(plan.reading.of(deviation).gone[2])) * CYCLES
        went = played(project, machine).turned_deg
        with self.subTest(shape=shape, share=share, seed=self.seed):
            self.assertGreater(went / told_deg, 0.4)
            self.assertLess(went / told_deg, 1.5)
            finding = next(f for f in plan.findings if f.code == "F11")
            drawn, steered = (
                played(patched(project, remedy.patch), machine).turned_deg
                for remedy in remedies(project, WALK, finding)
            )
            self.assertLess(abs(drawn), 0.25 * abs(went))
            # Steering turns it by as much as it was told to drift.
            self.assertAlmostEqual((went - steered) / told_deg, 1.0, delta=0.3)


class Logged(SeededTest):
    @in_turns
    def test_a_drift_that_is_logged_is_steered_against(self):
        """Nobody measured the longer legs; the walk is seen to end beside its way, and ends nearer to it steered."""
        shape, share = str(self.random.choice(SHAPES)), float(self.random.uniform(0.05, 0.07))
        keen = changed(start(shape, "Uneven", float(self.random.uniform(120, 260))), {"limits/drift_mm_m": 5.0})
        _, machine = longer_on_the_left(keen, share)
        r = evaluate(keen, WALK).reading
        cycles = int(np.ceil(600.0 / r.goes_on[0]))

        def trial(project):
            seen = Played(project, [(WALK, cycles)], machine=machine)
            time_s = cycles * r.score.duration_s
            return Trial(motion=WALK, floor="Mat", time_s=time_s, along_mm=seen.way_mm, beside_mm=seen.beside_mm)

        went = trial(keen)
        (told,) = [each for each in seen([logged(1, went, 1, keen)], keen) if each.code == "F11"]
        steered = trial(told.project)
        with self.subTest(shape=shape, share=share, seed=self.seed, went=went, steered=steered):
            self.assertLess(abs(steered.beside_mm), 0.5 * abs(went.beside_mm))
            # Until it is tried again the log asks for no more; and then for less, or for nothing.
            log = [logged(1, went, 1, keen)]
            self.assertFalse([each for each in seen(log, told.project) if each.code == "F11"])
            again = logged(2, steered, 2, told.project, keen)
            self.assertEqual((again.changes, again.changed), (1, ("motions Forward steer_mm_m",)))
            self.assertLess(abs(again.drift_mm_m), 0.5 * abs(log[0].drift_mm_m))
