"""The heave that makes feet with too few joints slip least.

A leg of yaw and lift carries its foot along an arc; going lower at the ends of the stroke lets it reach further out
there, so that the arc flattens. Left and right arcs are opposite, so no sway can do that for both. The coefficients
of the first harmonics of the body's height are fitted by least squares of the feet's wander in stance.
"""

from __future__ import annotations

import numpy as np

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.levers import motion_index
from bustle.core.edits.patches import patched, replace
from bustle.core.evaluate import evaluate
from bustle.core.geometry.arrays import Array
from bustle.core.judge.measures.feet.foot_slip import planted, wander
from bustle.core.project.motion import SwayTerm
from bustle.core.project.project import gait_of

HARMONICS = (1, 2, 3, 4)
LARGEST_MM = 40.0
SAMPLES = 48


def heaved(project: CheckedProject, motion: str) -> tuple[SwayTerm, ...] | None:
    """The motion's sway terms with the best heave in them, to a tenth of a millimetre; None where heave does
    nothing.
    """
    from scipy.optimize import least_squares

    index = motion_index(project, motion)
    sway = gait_of(project, motion).pose.sway

    def terms(values: Array) -> tuple[SwayTerm, ...]:
        found = {t.harmonic: t.model_dump() for t in sway}
        for n, harmonic in enumerate(HARMONICS):
            entry = found.setdefault(harmonic, {"harmonic": harmonic})
            entry["z_cos_mm"], entry["z_sin_mm"] = float(values[2 * n]), float(values[2 * n + 1])
        kept = [t for t in found.values() if any(v for k, v in t.items() if k != "harmonic")]
        return tuple(SwayTerm(**t) for t in sorted(kept, key=lambda t: t["harmonic"]))

    def slipped(values: Array) -> Array:
        trial = patched(project, [replace(f"/motions/{index}/pose/sway", [t.model_dump() for t in terms(values)])])
        r = evaluate(trial, motion, SAMPLES).reading
        still, wandered = r.of(planted)[..., None], r.of(wander)
        mean = (wandered * still).sum(axis=1, keepdims=True) / np.maximum(still.sum(axis=1, keepdims=True), 1)
        off = (wandered - mean) * still
        # A foot lifted off the floor by too much heave is no remedy either.
        return np.concatenate([off.ravel(), r.course.solved.miss_mm[:, :SAMPLES].ravel()])

    start = np.zeros(2 * len(HARMONICS))
    before = slipped(start)
    if not before.any():
        return None
    answer = least_squares(slipped, start, bounds=(-LARGEST_MM, LARGEST_MM), diff_step=1e-3, x_scale=1.0, max_nfev=12)
    values = np.round(answer.x, 1) + 0.0
    return terms(values) if values.any() and np.linalg.norm(slipped(values)) < np.linalg.norm(before) else None
