"""What a plan tells of as long as a machine walked, to hold a trial against."""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.document.differences import differences
from bustle.core.edits.patches import only_motions
from bustle.core.evaluate import evaluate
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.planar_twist import displacement, twist_of
from bustle.core.judge.judgements.ground.stamping import jolts
from bustle.core.judge.measures.feet.swing_clearance import clearances
from bustle.core.judge.measures.way_walked import asked_twist, deviation
from bustle.core.machine.masses import GRAVITY
from bustle.core.project.motion import PhaseGait
from bustle.core.trials.trial import LEAST_MM, Logged, Planned, Trial
from bustle.core.walk.reading import Reading
from bustle.core.words.problems import refuse

# So many of what was changed are named.
MOST_NAMED = 6


def logged(
    number: int,
    trial: Trial,
    revision: int,
    project: CheckedProject,
    before: CheckedProject | None = None,
    known: Reading | None = None,
) -> Logged:
    """A trial of a revision's motion; before: the revision of the trial before, None where there was none; known: the
    reading of its motion, where it is.

    Raises InputRefused for a motion or a limb that the revision does not have.
    """
    legs = {limb.name for limb in project.walker.limbs}
    for n, name in enumerate(trial.dragged):
        if name not in legs:
            raise refuse(f"dragged[{n}]", f"{name!r} is no limb of this walker")
    r = known or evaluate(project, trial.motion).reading
    changed = _changed(before, project, trial.motion) if before else []
    return Logged(number, revision, trial, planned(r, trial.time_s), tuple(changed[:MOST_NAMED]), len(changed))


def _changed(before: CheckedProject, after: CheckedProject, motion: str) -> list[str]:
    """The fields by which it walks otherwise: of the machine, and of a gait its own alone; not what it is called, nor
    what is written down of it."""
    alone = (only_motions(p, m) if isinstance(m := p.motion(motion), PhaseGait) else p for p in (before, after))
    return [d.path for d in differences(*alone) if d.path.split()[-1] not in ("name", "note")]


def planned(r: Reading, time_s: float) -> Planned:
    """For as long. Distances are from where it began to where it ends, as a string is laid."""
    asked, gone = _twists(r)
    asked_mm = along_mm = None
    turned = 0.0
    if gone is not None:
        x, y, _ = _after(asked, time_s)
        way = float(np.hypot(x, y))
        there = _after(gone, time_s)
        turned = float(np.degrees(there[2]))
        if way >= LEAST_MM:
            asked_mm, along_mm = way, float((there[0] * x + there[1] * y) / way)
    left = {r.project.walker.limbs[c.limb].name: float(c.left_mm) for c in r.of(clearances)} if r.gait else {}
    weight = r.assembled.total_kg * GRAVITY
    hardest = r.of(jolts) if r.gait else []
    jolt = hardest[0][0] / weight if hardest and weight else None
    steered, lifted = (r.gait.steer_mm_m, r.gait.lift_mm) if r.gait else (0.0, 0.0)
    return Planned(asked_mm, along_mm, turned, left, jolt, steered, lifted)


def _after(twist: Array, time_s: float) -> Array:
    return np.array(displacement(twist[0], twist[1], twist[2], time_s))


def _twists(r: Reading) -> tuple[Array, Array | None]:
    """What it was asked to go by, and what its legs go by, (3,) mm/s, mm/s, rad/s; None where it has an end."""
    if not r.score.periodic:
        return np.zeros(3), None
    found = r.of(deviation)
    if found is not None:
        return r.of(asked_twist), found.gone / r.score.duration_s
    x, y, turn = (np.array(v) for v in r.goes_on)
    own = np.array(twist_of(x, y, turn)) / r.score.duration_s
    return own, own
