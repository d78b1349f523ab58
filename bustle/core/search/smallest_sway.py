"""The smallest body sway that keeps the centre of mass over the feet.

With the feet planted, moving the body by s(t) moves the centre of mass by nearly s(t), and the distance to each
edge of a polygon changes linearly with it. So "every distance at least m" is a set of linear inequalities in the
Fourier coefficients of the sway, and the smallest sway that satisfies them is a linear programme. The legs'
own mass makes it not quite linear; repeating with the shortfall added makes up for that.
"""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.levers import motion_index
from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import Plan, evaluate
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.support_polygon import edges_inward
from bustle.core.judge.measures.worst_margin import worst_margin
from bustle.core.kinds.legs import FAMILIES
from bustle.core.project.motion import PhaseGait, SwayTerm
from bustle.core.walk.plumb import over_floor
from bustle.core.walk.standing_polygon import standing

LARGEST_MM = 80.0

LEVEL = ("x_cos_mm", "x_sin_mm", "y_cos_mm", "y_sin_mm")


def smallest_sway(
    plan: Plan, margin_mm: float, harmonics: int = 1, sideways: bool = True
) -> tuple[SwayTerm, ...] | None:
    """Sway terms that replace the motion's own and give at least that margin, or None where there are none.

    Minimises the sum of their sizes, so that nothing moves that gains nothing. Without `sideways` only fore and aft:
    legs in one plane cannot lean. The answer is rounded up to half millimetres and checked by evaluation by whoever
    applies it.
    """
    # Half a second of imports that only those who look for a sway need pay.
    from scipy.optimize import linprog

    rows, gaps = _inequalities(plan, harmonics)
    if rows is None:
        return None
    count = rows.shape[1]
    # Variables: the coefficients, then the size of each; all the sizes together are what is minimised.
    objective = np.concatenate([np.zeros(count), np.ones(count)])
    size = np.eye(count)
    matrix = np.block([[-rows, np.zeros(rows.shape)], [size, -size], [-size, -size]])
    limit = np.concatenate([gaps - margin_mm, np.zeros(2 * count)])
    free = np.tile([1.0, 1.0, float(sideways), float(sideways)], harmonics) * LARGEST_MM
    bounds = [*zip(-free, free, strict=True), *[(0.0, LARGEST_MM)] * count]
    answer = linprog(objective, A_ub=matrix, b_ub=limit, bounds=bounds, method="highs")
    if not answer.success:
        return None
    coefficients = np.sign(answer.x[:count]) * np.ceil(np.abs(answer.x[:count]) * 2 - 1e-6) / 2 + 0.0
    return with_level(_gait(plan).pose.sway, coefficients.reshape(harmonics, 4))


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


def swayed(
    project: CheckedProject, motion: str, margin_mm: float, harmonics: int = 1, samples: int | None = None
) -> tuple[SwayTerm, ...] | None:
    """`smallest_sway`, repeated until evaluation at that many samples confirms the margin; None if it cannot be had."""
    asked, trial = margin_mm, project
    sideways = any(not FAMILIES[limb.family].planar for limb in project.walker.legs)
    for _ in range(6):
        terms = smallest_sway(evaluate(trial, motion, samples), asked, harmonics, sideways)
        if terms is None:
            return None
        path = f"/motions/{motion_index(project, motion)}/pose/sway"
        trial = patched(project, [replace(path, [t.model_dump() for t in terms])])
        worst = evaluate(trial, motion, samples).reading.of(worst_margin)
        if worst is None:
            return None
        if worst[0] >= margin_mm:
            return terms
        asked += margin_mm - worst[0] + 0.05
    return None
