"""The smallest body sway that keeps the centre of mass over the feet.

With the feet planted, moving the body by s(t) moves the centre of mass by nearly s(t), and the distance to each
edge of a polygon changes linearly with it. So "every distance at least m" is a set of linear inequalities in the
Fourier coefficients of the sway, and the smallest sway that satisfies them is a linear programme. The legs'
own mass makes it not quite linear; repeating with the shortfall added makes up for that.

A walk sets out and stops in shorter steps than it goes in, and does so on a stick that is half pushed: where its feet
stand then lies between where they stand on its way and where they do in the same walk on the spot. So the margin is
kept on the spot too, as far as it can be had.

A quick sway pushes on the floor further out than it carries the mass, (1 + (h/g)·ω²) times as far; half the margin is
kept there too.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.levers import motion_index
from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import Plan, evaluate
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.support_polygon import edges_inward
from bustle.core.judge.measures.margins.room_at_its_pace import room_at_its_pace
from bustle.core.judge.measures.margins.worst_margin import worst_margin
from bustle.core.kinds.legs.in_one_plane import in_one_plane
from bustle.core.machine.masses import GRAVITY
from bustle.core.project.motion import PhaseGait, SwayTerm, Twist
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing

LARGEST_MM = 80.0
# The share of the margin that is kept where it pushes as it goes.
PACED = 0.5

# Harmonics of the sway, and the share of the margin that is kept on the spot as well; none: wherever that leaves it.
RUNGS = ((1, 1.0), (1, 0.5), (2, 1.0), (2, 0.5), (1, None), (2, None))

LEVEL = ("x_cos_mm", "x_sin_mm", "y_cos_mm", "y_sin_mm")


def smallest_sway(
    plans: Sequence[tuple[Plan, float]], harmonics: int = 1, sideways: bool = True
) -> tuple[SwayTerm, ...] | None:
    """Sway terms that replace the motion's own and give each of its plans at least the margin beside it, in mm, or None
    where there are none.

    Minimises the sum of their sizes, so that nothing moves that gains nothing. Without `sideways` only fore and aft:
    legs in one plane cannot lean. The answer is rounded up to half millimetres and checked by evaluation by whoever
    applies it.
    """
    # Half a second of imports that only those who look for a sway need pay.
    from scipy.optimize import linprog

    every, lacks = [], []
    for plan, margin_mm in plans:
        rows, gaps = _inequalities(plan, harmonics)
        if rows is None:
            return None
        every += [rows, rows * _pushes_by(plan, harmonics)]
        lacks += [gaps - margin_mm, gaps - PACED * margin_mm]
    rows = np.concatenate(every)
    count = rows.shape[1]
    # Variables: the coefficients, then the size of each; all the sizes together are what is minimised.
    objective = np.concatenate([np.zeros(count), np.ones(count)])
    size = np.eye(count)
    matrix = np.block([[-rows, np.zeros(rows.shape)], [size, -size], [-size, -size]])
    limit = np.concatenate([*lacks, np.zeros(2 * count)])
    free = np.tile([1.0, 1.0, float(sideways), float(sideways)], harmonics) * LARGEST_MM
    bounds = [*zip(-free, free, strict=True), *[(0.0, LARGEST_MM)] * count]
    answer = linprog(objective, A_ub=matrix, b_ub=limit, bounds=bounds, method="highs")
    if not answer.success:
        return None
    coefficients = np.sign(answer.x[:count]) * np.ceil(np.abs(answer.x[:count]) * 2 - 1e-6) / 2 + 0.0
    return with_level(_gait(plans[0][0]).pose.sway, coefficients.reshape(harmonics, 4))


def _gait(plan: Plan) -> PhaseGait:
    gait = plan.reading.gait
    assert gait, "only gaits sway"
    return gait


def with_level(sway: tuple[SwayTerm, ...], level: Array) -> tuple[SwayTerm, ...]:
    """Sway terms whose level part is `level` (n, 4) mm, one row per harmonic; the heave stays as it is."""
    terms = {n + 1: dict(zip(LEVEL, map(float, row), strict=True)) for n, row in enumerate(level)}
    for term in sway:
        heave = {"z_cos_mm": term.z_cos_mm, "z_sin_mm": term.z_sin_mm}
        if any(heave.values()):
            terms[term.harmonic] = {**terms.get(term.harmonic, {}), **heave}
    return tuple(SwayTerm(harmonic=n, **values) for n, values in sorted(terms.items()) if any(values.values()))


def _inequalities(plan: Plan, harmonics: int) -> tuple[Array | None, Array]:
    """rows·coefficients + gaps ≥ margin, one row per edge and instant; gaps are the distances without sway."""
    e = plan.reading
    course = e.course
    inward, normals, edge = edges_inward(course.stand_mm, course.stand, e.of(over_floor))
    if not e.of(standing).supported.all() or not (edge.sum(axis=1) >= 3).all():
        return None, np.empty(0)
    at, pair = np.nonzero(edge)
    theta = course.body.travel[2][at]
    normal = normals[at, pair]
    # The sway is in the travel frame: turn each edge's normal into it.
    nx = np.cos(theta) * normal[:, 0] + np.sin(theta) * normal[:, 1]
    ny = -np.sin(theta) * normal[:, 0] + np.cos(theta) * normal[:, 1]
    columns = []
    for n in range(1, harmonics + 1):
        angle = 2 * np.pi * n * course.time_s[at] / e.score.duration_s
        c, s = np.cos(angle), np.sin(angle)
        columns += [nx * c, nx * s, ny * c, ny * s]
    rows = np.stack(columns, axis=1)
    present = np.zeros(4 * harmonics)
    for term in _gait(plan).pose.sway:
        if term.harmonic <= harmonics:
            k = 4 * (term.harmonic - 1)
            present[k : k + 4] = (term.x_cos_mm, term.x_sin_mm, term.y_cos_mm, term.y_sin_mm)
    return rows, inward[at, pair] - rows @ present


def _pushes_by(plan: Plan, harmonics: int) -> Array:
    """How many times as far as it is swayed by each coefficient a machine pushes: 1 + (h/g)·(n·ω)²."""
    r = plan.reading
    high_s2 = float(r.course.com_ground_mm[: r.samples, 2].mean()) / 1000 / GRAVITY
    turns = 2 * np.pi * np.arange(1, harmonics + 1) / r.score.duration_s
    return np.repeat(1 + high_s2 * turns**2, 4)


def swayed(
    project: CheckedProject, motion: str, margin_mm: float, samples: int | None = None
) -> tuple[SwayTerm, ...] | None:
    """`smallest_sway` with that margin on its way, and as much of it on the spot as can be had; None if it cannot be
    had on its way."""
    for harmonics, share in RUNGS:
        terms = _confirmed(project, motion, margin_mm, share, harmonics, samples)
        if terms is not None:
            return terms
    return None


def keeps(project: CheckedProject, motion: str, margin_mm: float, samples: int | None = None) -> bool:
    """Whether a static gait has that margin as it is, on its way and on the spot."""
    return all(_has(trial, motion, margin_mm, samples) for trial in (project, on_the_spot(project, motion)))


def sets_out(project: CheckedProject, motion: str, margin_mm: float, samples: int | None = None) -> bool:
    """Whether it has that margin on the spot, of one that is known to have it on its way."""
    return _has(on_the_spot(project, motion), motion, margin_mm, samples)


def _has(project: CheckedProject, motion: str, margin_mm: float, samples: int | None) -> bool:
    lacks = _lacks(evaluate(project, motion, samples).reading, margin_mm)
    return lacks is not None and lacks <= 0


def _lacks(r: Reading, margin_mm: float) -> float | None:
    """How much of that margin is missing, or of the share that it keeps at its pace; None where no foot is down."""
    worst, going = r.of(worst_margin), r.of(room_at_its_pace)
    if worst is None:
        return None
    lacks = margin_mm - worst[0]
    return lacks if going is None else max(lacks, PACED * margin_mm - float(going.min()))


def on_the_spot(project: CheckedProject, motion: str) -> CheckedProject:
    path = f"/motions/{motion_index(project, motion)}/twist"
    return patched(project, [replace(path, Twist().model_dump())])


def _confirmed(
    project: CheckedProject, motion: str, margin_mm: float, share: float | None, harmonics: int, samples: int | None
) -> tuple[SwayTerm, ...] | None:
    """Repeated until evaluation at that many samples confirms the margins; None if they cannot be had."""
    sideways = any(not in_one_plane(limb) for limb in project.walker.legs)
    wanted = [margin_mm] if share is None else [margin_mm, share * margin_mm]
    asked = list(wanted)
    trials = [project, on_the_spot(project, motion)][: len(wanted)]
    for _ in range(6):
        plans = [evaluate(trial, motion, samples) for trial in trials]
        terms = smallest_sway([*zip(plans, asked, strict=True)], harmonics, sideways)
        if terms is None:
            return None
        sway = replace(f"/motions/{motion_index(project, motion)}/pose/sway", [t.model_dump() for t in terms])
        trials = [patched(trial, [sway]) for trial in trials]
        short = []
        for trial, least in zip(trials, wanted, strict=True):
            lacks = _lacks(evaluate(trial, motion, samples).reading, least)
            if lacks is None:
                return None
            short.append(lacks)
        if max(short) <= 0:
            return terms
        asked = [more + max(lack + 0.05, 0.0) for more, lack in zip(asked, short, strict=True)]
    return None
