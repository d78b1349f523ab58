"""Verdicts against a physics engine, on machines that were drawn before it saw any of them."""

from __future__ import annotations

import unittest
from collections.abc import Sequence

from bustle.core.evaluate import evaluate
from tests.engine.outcomes import Outcome
from tests.engine.played import Played, planned_mm
from tests.engine.random_walkers import MACHINES, Walker, random_walkers
from tests.long import ALL, is_long, share
from tests.seeded import SeededTest

# Nine in ten is the aim. Of machines that nothing was tuned on 78 % agreed at the first run: less is a step back.
HELD, BAD_AT_LEAST = 0.77, 15


def play(walker: Walker) -> Outcome:
    """Nominal: its own give, play and floor."""
    servo = walker.project.servo_types[0]
    plan = planned_mm(walker.project, walker.in_order)
    played = Played(
        walker.project, walker.in_order, servo.full_torque_at_deg, walker.project.floor.friction, servo.play_deg
    )
    return played.outcome(evaluate(walker.project, walker.walk).reading, plan)


def line(walker: Walker, outcome: Outcome) -> str:
    agrees = bool(walker.codes) == bool(outcome.bad)
    told = " ".join(walker.codes) or "sound"
    seen = outcome.bad or f"walked {outcome.covered:.0%}"
    done = ", ".join(walker.spoiled) or "as drawn"
    word = "   " if agrees else "NOT"
    which = f"{walker.number:3d} {walker.shape} {walker.walk} {walker.length_mm:.0f} mm ({done})"
    return f"{word} {which}: told {told}; {seen}"


def agreement(found: Sequence[tuple[Walker, Outcome]]) -> float:
    return sum(bool(walker.codes) == bool(outcome.bad) for walker, outcome in found) / len(found)


class Verdicts(SeededTest):
    @is_long
    def test_stops_are_borne_out_and_what_is_sound_walks(self):
        """As many of all of them as at the first run; of the few of every run none that nothing was done to falls."""
        walkers = share(self.random, list(random_walkers()), 2)
        found = [(walker, play(walker)) for walker in walkers]
        for walker, outcome in found:
            with self.subTest(machine=line(walker, outcome)):
                # A rocker lives by what nothing is told of.
                rocks = evaluate(walker.project, walker.walk).reading.kit.rolls
                self.assertTrue(outcome.up or walker.codes or walker.spoiled or rocks)
        for one in found:
            if ALL or bool(one[0].codes) != bool(one[1].bad):
                print(line(*one))
        if ALL:
            self.assertEqual(len(found), MACHINES)
            self.assertGreaterEqual(sum(bool(outcome.bad) for _, outcome in found), BAD_AT_LEAST)
            print(f"{agreement(found):.0%} of {len(found)} agree")
            self.assertGreaterEqual(agreement(found), HELD)


if __name__ == "__main__":
    unittest.main()
