"""Where the mass comes to rest when the machine is halted from its pace, and how far that is inside its feet.

Halted, the mass goes on to x + v·√(h/g), the capture point of the linear inverted pendulum; x where a plumb line from
it meets the floor. As servos give, x lies by that aside; half of what a foot may be moved by play is taken off besides.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.rates import rates
from bustle.core.geometry.support_polygon import margins
from bustle.core.judge.measures.feet.foot_play import foot_plays
from bustle.core.loads.giving.carried_margin import carried_over
from bustle.core.loads.moving import gone_on
from bustle.core.walk.plumb import over_floor, upright
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing


def rests_mm(r: Reading) -> Array:
    """(S + 2E, 2) in the ground frame, at every instant."""
    return r.of(over_floor) + r.of(_goes_on)


def halted_margin(r: Reading) -> Array:
    """(S + 2E,) mm: from there to the nearest edge of what it stands on. NaN without any contact."""
    return margins(r.of(standing), r.of(rests_mm))


def halted_as_it_gives(r: Reading) -> Array:
    """(S + 2E,) mm: the same less play and sag."""
    left: Array = margins(r.of(standing), r.of(carried_over) + r.of(_goes_on)) - r.of(half_play_mm)
    return left


def half_play_mm(r: Reading) -> float:
    """Of the foot that has the most."""
    return max((play.play_mm for play in r.of(foot_plays)), default=0.0) / 2


def _goes_on(r: Reading) -> Array:
    """(S + 2E, 2) mm: v·√(h/g), at an event as fast as at the row beside it."""
    n, high = r.samples, r.course.com_ground_mm[:, 2:]
    if n < 3:
        return np.zeros((len(high), 2))
    speed = r.as_beside(rates(gone_on(r, r.of(over_floor)[:n]), r.row_s)[0])
    found: Array = speed * np.sqrt(np.maximum(high, 0.0) / 1000 / r.of(upright)[2])
    return found
