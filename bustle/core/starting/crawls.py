"""Walks led by their legs, of machines whose feet cannot but slide: each as long as nothing stops it.

Where they go is by friction alone, which a dry run follows foot by foot: none is kept that goes badly there.
Legs of two joints set round a body have no joint for most ways; their feet slide by what they cannot follow, and the
body goes where that lets it (see `walk/implied_travel`).
"""

from __future__ import annotations

from collections.abc import Sequence

from bustle.core.document.checked import CheckedProject
from bustle.core.dry_run.dry_run import NOMINAL, VARIANTS, dry_run
from bustle.core.evaluate import evaluate
from bustle.core.judge.measures.way_walked import share_walked
from bustle.core.project.motion import PhaseGait
from bustle.core.project.project import gait_of
from bustle.core.search.stride import DIRECTIONS, strided
from bustle.core.starting.starting_walkers import steadied
from bustle.core.starting.timed_walks import with_motions, with_start_and_stop
from bustle.core.words.problems import InputRefused

WAYS = ("Forward", "Back", "Turn left", "Turn right")
# A walk gets on that goes by more than so much of what its legs are led by.
GETS_ON = 0.2
# Of the longest leg.
STROKES = (0.14, 0.1, 0.07, 0.05, 0.035)


def crawls(project: CheckedProject, timing: PhaseGait, length: float, ways: Sequence[str] = WAYS) -> list[PhaseGait]:
    """The walks of that timing, or on four legs in that order of them that keeps the most margin; none where it gets
    nowhere."""
    found = []
    for way in ways:
        walk = _longest(project, timing.model_copy(update={"travel": "implied", "name": way}), length)
        if walk:
            found.append(walk)
        elif not found:
            break
    return found


def _longest(project: CheckedProject, led: PhaseGait, length: float) -> PhaseGait | None:
    stands = [m for m in project.motions if isinstance(m, PhaseGait) and m.stands]
    for share in STROKES:
        walk = strided(project, led, DIRECTIONS[led.name], share * length)
        steady = steadied(with_motions(project, [walk, *stands]), walk.name)
        # By itself, and as it sets out and stops.
        whole = with_start_and_stop(steady)
        sound = all(evaluate(whole, m.name).sound for m in whole.motions if m not in stands)
        if sound and _gets_on(steady, walk.name) and not _goes_badly(whole, walk.name):
            return gait_of(steady, walk.name)
    return None


def _gets_on(project: CheckedProject, motion: str) -> bool:
    """Legs without a joint for a way may be led that way and go nowhere."""
    return evaluate(project, motion).reading.of(share_walked) > GETS_ON


def _goes_badly(project: CheckedProject, motion: str) -> bool:
    """On its own sheet's machine, or, where it lives by its timing, falling on any."""
    timed = gait_of(project, motion).balance == "dynamic"
    try:
        runs = dry_run(project, motion, machines=VARIANTS if timed else {NOMINAL: VARIANTS[NOMINAL]})
    except InputRefused:
        return False
    return bool(runs[0].goes_badly) or any(run.fell_s is not None for run in runs)
