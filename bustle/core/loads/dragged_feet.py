"""What the floor does to feet that a walk led by its legs drags over it.

Such feet slide by what their legs cannot follow; the floor holds against the way each slides with all it holds:
    h = −µ·z·v/|v|, within the ellipse of µ along and across the machine.
Slower than SLOW it is told in proportion, as a foot that stands still may push less, and any way.
Source: Coulomb's dry friction.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.loads.friction import against
from bustle.core.walk.reading import Reading

SLOW_MM_S = 2.0


def dragged(r: Reading) -> tuple[Array, Array] | None:
    """(L, N, 2): what the floor does to each foot that slides, ground frame, as a share of what the foot carries; and
    (L, N), 0 … 1, how far that is all it does. None of a motion that its legs do not lead."""
    implied = r.course.implied
    if implied is None:
        return None
    creep = implied.creep / r.row_s
    if creep.shape[1] < r.samples:
        creep = np.concatenate([creep, creep[:, -1:]], axis=1)
    speed = np.linalg.norm(creep, axis=-1)
    slides = np.minimum(speed / SLOW_MM_S, 1.0)
    ahead, aside = np.moveaxis(creep * (slides / np.maximum(speed, 1e-9))[..., None], -1, 0)
    # Creep is seen from the travel frame.
    c, s = np.cos(r.course.body.travel[2][: r.samples]), np.sin(r.course.body.travel[2][: r.samples])
    return against(r, np.stack([c * ahead - s * aside, s * ahead + c * aside], axis=-1)), slides
