"""Where the mass comes to rest when the machine is halted from its pace, and how far that is inside its feet.

Halted, the mass goes on to x + v·√(h/g), the capture point of the linear inverted pendulum; x where a plumb line from
it meets the floor. As servos give, x lies by that aside; half of what a foot may be moved by play is taken off besides.
Outside its feet it rocks on to one that is lifted, by atan(z/D), z how high that is and D how far beside the others: as
one lifts or lands that is next to nothing, and it counts as one that stands.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.rates import rates
from bustle.core.geometry.support_polygon import margins, support
from bustle.core.judge.measures.feet.foot_play import foot_plays
from bustle.core.loads.giving.carried_margin import carried_over
from bustle.core.loads.moving import gone_on
from bustle.core.machine.soles import is_tip
from bustle.core.walk.plumb import over_floor, upright
from bustle.core.walk.reading import Reading
from bustle.core.walk.standing_polygon import standing

# The slope of 1°: a machine that rocks by less is not seen to.
NOTHING = float(np.tan(np.radians(1.0)))


def rests_mm(r: Reading) -> Array:
    """(S + 2E, 2) in the ground frame, at every instant."""
    return r.of(over_floor) + r.of(_goes_on)


def halted_at_least(r: Reading) -> Array:
    """(S + 2E,) mm: from there to the nearest edge of the feet that are down. NaN without any contact."""
    return margins(r.of(standing), r.of(rests_mm))


def halted_margin(r: Reading) -> Array:
    """(S + 2E,) mm: the same of what it stands on, halted."""
    return _counted(r, r.of(halted_at_least).copy(), r.of(rests_mm))


def halted_as_it_gives(r: Reading) -> Array:
    """(S + 2E,) mm: the same less play and sag."""
    points = r.of(carried_over) + r.of(_goes_on)
    left: Array = _counted(r, margins(r.of(standing), points), points) - r.of(half_play_mm)
    return left


def _counted(r: Reading, found: Array, points: Array) -> Array:
    """The margins of points, those at which a foot counts as standing among them."""
    near = r.of(_nearly_down)
    if near is not None:
        at, down = near
        found[at] = support(r.course.stand_mm[:, at], down, points[at]).margin_mm
    return found


def _nearly_down(r: Reading) -> tuple[Indices, Flags] | None:
    """Instants (K,) at which some tip is lifted so little that to rock on to it is nothing, and what counts as standing
    then (P, K); None where there is none, or something else than tips carries."""
    limbs, course = r.project.walker.limbs, r.course
    feet = [i for i, m in enumerate(limbs) if m.feet]
    if len(course.stand) != len(feet) or not all(is_tip(limbs[i].feet[0]) for i in feet):
        return None
    # No foot lies further beside the others than this.
    neutral = [limbs[i].neutral_mm for i in feet]
    out = max((float(np.hypot(at[0], at[1])) for at in neutral if at), default=0.0)
    far = 2 * out + float(r.score.stroke_mm.max())
    down, ground = course.stand, course.feet_ground_mm[feet]
    tip, at = np.nonzero(~down & (ground[..., 2] < NOTHING * far))
    places = ground[tip, at]
    low = places[:, 2] < -NOTHING * margins(r.of(standing), places[:, :2], at)
    if not low.any():
        return None
    counts, some = down.copy(), np.zeros(down.shape[1], dtype=bool)
    counts[tip[low], at[low]] = some[at[low]] = True
    instants = np.flatnonzero(some)
    return instants, counts[:, instants]


def half_play_mm(r: Reading) -> float:
    """Of the foot that has the most."""
    return max((play.play_mm for play in r.of(foot_plays)), default=0.0) / 2


def _goes_on(r: Reading) -> Array:
    """(S + 2E, 2) mm: v·√(h/g), at an event as fast as at the row beside it."""
    n = r.samples
    if n < 3:
        return np.zeros((len(r.course.time_s), 2))
    speed = r.as_beside(rates(gone_on(r, r.of(over_floor)[:n]), r.row_s)[0])
    return speed * r.of(goes_on_for_s)[:, None]


def goes_on_for_s(r: Reading) -> Array:
    """(S + 2E,) s: √(h/g), of as much of g as presses it on to the floor; no time with its mass below that."""
    found: Array = np.sqrt(np.maximum(r.course.com_ground_mm[:, 2], 0.0) / 1000 / r.of(upright)[2])
    return found
