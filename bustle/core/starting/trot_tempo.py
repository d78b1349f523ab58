"""A trot as quick as goes well.

How quick a trot must be to be on four feet again before it has leaned far depends on how tall and narrow its machine
is, and on how its legs give. What F19 tells of it leaves the latter out; a dry run does not.
"""

from __future__ import annotations

from dataclasses import replace

from bustle.core.document.checked import CheckedProject
from bustle.core.dry_run.dry_run import NOMINAL, DryRun, dry_run
from bustle.core.evaluate import evaluate
from bustle.core.search.progress import Tell, silent
from bustle.core.starting.building_blocks import Timed
from bustle.core.starting.timed_walks import QUICKER, with_start_and_stop, with_timed
from bustle.core.words.problems import InputRefused

TEMPOS = (1.0, *QUICKER, 0.5)
# Beside its plan, on any machine of a dry run. Trots of a dozen machines by random numbers at four to six tempos in a
# physics engine: where dry runs had them lean by more, and go well, many covered less than 0.8 of their way; of those
# that lean less few did.
LEANS_DEG = 4.0
FALLS = (float("inf"),)


def with_trot(standing: CheckedProject, timed: Timed, leg_length_mm: float, tell: Tell = silent) -> CheckedProject:
    """With the walk at the slowest of some tempos at which it goes well on every machine of a dry run, leans little and
    is warned of nothing new; else as near to that as there is, in this order. Without it where it falls on the machine
    as its sheets say at any. The project, where nothing is sound."""
    (name,) = timed.ways
    least: tuple[float, ...] = FALLS
    best, warned = standing, None
    for n, tempo in enumerate(TEMPOS):
        tell(n, len(TEMPOS), name)
        made = with_timed(standing, replace(timed, cycle_s=timed.cycle_s * tempo), leg_length_mm)
        if name not in {motion.name for motion in made.motions}:
            continue
        told = {finding.code for finding in evaluate(made, name).findings}
        warned = told if warned is None else warned
        try:
            runs = dry_run(with_start_and_stop(made), name)
        except InputRefused:
            return made
        leans = max(run.leans_deg for run in runs)
        # What is quicker asks more of servos.
        found = _badly(runs), leans > LEANS_DEG, not told <= warned, leans
        if found < least:
            best, least = made, found
        if not any(least[:3]):
            break
    return best


def _badly(runs: tuple[DryRun, ...]) -> float:
    """On how many machines it goes badly, a fall counted twice; infinite where it falls as its sheets say."""
    if any(run.fell_s is not None for run in runs if run.machine == NOMINAL):
        return float("inf")
    return float(sum((run.fell_s is not None) + bool(run.goes_badly) for run in runs))
