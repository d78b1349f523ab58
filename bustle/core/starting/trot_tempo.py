"""A trot whose feet stay down for as long, and which is as quick, as it takes to go well.

How quick a trot must be to be on four feet again before it has leaned far depends on how tall and narrow its machine
is, and on how its legs give. What F19 tells of it leaves the latter out; a dry run does not.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property

from bustle.core.document.checked import CheckedProject
from bustle.core.dry_run.dry_run import CARPET, VARIANTS, DryRun, Running
from bustle.core.dry_run.let_go import FINE_S
from bustle.core.evaluate import evaluate
from bustle.core.search.progress import Tell, silent
from bustle.core.starting.building_blocks import Timed
from bustle.core.starting.timed_walks import QUICKER, with_start_and_stop, with_timed
from bustle.core.words.problems import InputRefused

# Tempo and duty, as shares of what is usual and none for that. Feet that stay down for longer come before what is
# quicker: on four feet a trot comes to rest from what it leaned. Of four trots of machines about as wide as long that
# went 0.57 to 0.84 of their way in an engine, all went 0.96 to 1.11 of it at the same pace with a duty of 0.7.
WAYS = ((1.0, None), (1.0, 0.65), (1.0, 0.7), (0.85, 0.7), *((tempo, None) for tempo in (*QUICKER, 0.5)))
# Beside its plan, on any machine of a dry run in fine steps. Of trots of 38 upright machines by random numbers that
# went well there, three of the nineteen that leaned by more went less than 0.85 of their way in a physics engine, and
# none of those that leaned less. What gives under its feet it may lean on further.
LEANS_DEG = 3.5
WITHOUT = (float("inf"),)


def with_trot(standing: CheckedProject, timed: Timed, leg_length_mm: float, tell: Tell = silent) -> CheckedProject:
    """With the walk in the first of some ways in which it goes well on every machine of a dry run, leans little and is
    warned of nothing new; else as near to that as there is, in this order, of those that there was time for. Without it
    where in every way it falls on one of them, or leans far and goes badly on one. The project, where nothing is sound.
    """
    (name,) = timed.ways
    tried: list[_Tried] = []
    warned: set[str] | None = None
    for n, (tempo, longer) in enumerate(WAYS):
        if tell(n, len(WAYS), f"{name}, dry runs") and n:
            tried = tried[:1]
            break
        kind = replace(timed, cycle_s=timed.cycle_s * tempo, duty=longer or timed.duty)
        made = with_timed(standing, kind, leg_length_mm)
        if name not in {motion.name for motion in made.motions}:
            continue
        told = {finding.code for finding in evaluate(made, name).findings}
        warned = told if warned is None else warned
        try:
            runs = Running(with_start_and_stop(made), name, VARIANTS, step_s=FINE_S, until_one_falls=True)
        except InputRefused:
            return made
        tried.append(_Tried(made, told <= warned, runs))
        if tried[-1].goes_well:
            return made
    # None does: the nearest to it, now that it takes the rest of all of them.
    best = min(tried, key=lambda one: one.ranked, default=None)
    return standing if best is None or best.ranked == WITHOUT else best.made


@dataclass(frozen=True)
class _Tried:
    """A way, whether it is warned of nothing new, and its dry runs as far as they were needed."""

    made: CheckedProject
    quiet: bool
    runs: Running

    @cached_property
    def goes_well(self) -> bool:
        """As soon as one leans further than it may the rest is not looked at."""
        while self.quiet and not self.runs.done and self.runs.leans_deg(CARPET) <= LEANS_DEG:
            self.runs.go_on()
        return self.runs.done and not any(self.ranked[:3])

    @cached_property
    def ranked(self) -> tuple[float, ...]:
        return _ranked(self.runs.told(), self.quiet)


def _ranked(runs: tuple[DryRun, ...], quiet: bool) -> tuple[float, ...]:
    badly = sum(bool(run.goes_badly) for run in runs)
    leans = max(run.leans_deg for run in runs if run.machine != CARPET)
    # Nobody knows before which of the machines it is.
    if any(run.fell_s is not None for run in runs) or (badly and leans > LEANS_DEG):
        return WITHOUT
    # What is quicker asks more of servos.
    return badly, leans > LEANS_DEG, not quiet, leans
