"""Where in its gait a walk is at each row: a pause takes time and no phase, so rows are not spread evenly over it."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.walk.reading import Reading
from bustle.core.walk.score import Scored


def gait_phases(r: Reading) -> Array:
    """(S,): the share of the gait's cycle that is over at each sample."""
    if r.gait is None or not isinstance(r.score, Scored) or r.score.clock is None:
        return np.arange(r.samples) / r.samples
    return r.score.clock(r.course.time_s[: r.samples]) / r.gait.cycle_s


def samples_at(r: Reading, phases: Sequence[float]) -> list[int]:
    """The samples nearest to shares of the gait's cycle, which may run over its end."""
    shares = np.asarray(phases)
    if r.gait is not None and isinstance(r.score, Scored) and r.score.unclock is not None:
        shares = r.score.unclock(shares * r.gait.cycle_s) / r.score.duration_s
    return [round(share * r.samples) % r.samples for share in shares.tolist()]
