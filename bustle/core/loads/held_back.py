"""What drags on the floor or holds the machine back: against the way that the place where it hangs is led,
    F = −P·v/|v|,   v = ẋ + θ̇ × p,
x and θ how the walk travels. Sway does not turn it: a cable trails behind the way it goes by and large, and what pulls
one way all the time pulls round the most. Slower than SLOW it is told in proportion, as what stands still may pull
less, and any way.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from bustle.core.geometry.arrays import Array, cross
from bustle.core.geometry.rates import gradient
from bustle.core.loads.dragged_feet import SLOW_MM_S
from bustle.core.loads.moving import placed
from bustle.core.walk.reading import Reading


@dataclass(frozen=True)
class HeldBack:
    """force, moment: (N, 3) N and N·m about the ground's origin, of all drags together on the machine."""

    force: Array
    moment: Array


def held_back(r: Reading) -> HeldBack | None:
    """None of a machine on which nothing drags, and of a single row, which goes nowhere."""
    drags = r.project.walker.drags
    if not drags or r.samples < 2:
        return None
    body, places = r.of(placed), r.assembled.sections
    x, y, heading = (gradient(v[: r.samples], r.row_s) for v in r.course.body.travel)
    force, moment = np.zeros((2, r.samples, 3))
    for drag in drags:
        put = places[drag.on].carry(np.array(drag.at_mm))
        own = r.course.solved.carried(drag.on, put[None])[0, : r.samples] / 1000
        off = (body.turn @ own[..., None])[..., 0]
        way = np.stack([x / 1000 - heading * off[:, 1], y / 1000 + heading * off[:, 0], np.zeros(r.samples)], axis=1)
        pull = -drag.pull_n * way / np.maximum(np.linalg.norm(way, axis=1), SLOW_MM_S / 1000)[:, None]
        force += pull
        moment += cross(body.at + off, pull)
    return HeldBack(force, moment)


def undragged(r: Reading) -> Reading:
    """The same motion, as it goes where nothing drags."""
    if not r.project.walker.drags:
        return r
    walker = r.project.walker.model_copy(update={"drags": ()})
    return replace(r, project=r.project.model_copy(update={"walker": walker}), _known={})
