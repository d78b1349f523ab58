"""What a joint has to hold in stance."""

from __future__ import annotations

import numpy as np

from bustle.core.judge.measures.feet.mid_stance import mid_stances
from bustle.core.walk.plumb import upright
from bustle.core.walk.reading import Reading


def stance_torque_nm(r: Reading) -> float:
    """The largest joint torque at mid-stance if the feet that are down share the weight: τ = Jᵀ·F."""
    down = max(1, int(r.course.contact[:, : r.samples].sum(axis=0).min()))
    force = r.assembled.total_kg * r.of(upright) / down
    return max((float(np.abs(force @ leg.slope).max()) / 1000 for leg in r.of(mid_stances)), default=0.0)
