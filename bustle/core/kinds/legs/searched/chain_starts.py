"""From where a search for a chain's joints starts, so that a leg bends the same way in every motion."""

from __future__ import annotations

import numpy as np
from scipy.spatial.distance import cdist

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.serial_chain import forward, jacobian
from bustle.core.kinds.legs.family import REACHED_MM
from bustle.core.kinds.legs.searched.damped_descent import descend, size_of
from bustle.core.kinds.legs.searched.foot_aim import Aim
from bustle.core.kinds.legs.searched.sought import USUAL, Sought, spread_of

# A chain with a joint to spare starts with none further from its rest: from further off, places next to each other are
# come to in other ways.
NEAR_RAD = 0.3
MOST_KNOWN = 256
# How a leg stands whose foot is told how to lie: at such a share of its height at zero pose, found from so many places
# of a grid within so much of its rest.
STANDS, WAYS, WIDE_RAD = 0.9, 8, 1.0
NEARLY_MM = 1e-3
# Chains with a joint to spare bend alike whose joints come to within so much of its length, together, of each other.
ALIKE = 0.15


def start_of(leg: Sought, aim: Aim | None) -> Array:
    """Where it starts, once for each leg there is: it is asked for at every change of where feet go."""
    chain = leg.chain
    parts = (chain.axes, chain.offsets, chain.mount_turn, leg.low, leg.high, chain.slides, chain.coupling)
    asks = b"" if aim is None else b"level" if aim.level else b"pose"
    key = b"|".join((asks, *(np.asarray(part).tobytes() for part in parts if part is not None)))
    found = _known.get(key)
    if found is None:
        if len(_known) >= MOST_KNOWN:
            _known.clear()
        standing = None if aim is None else _standing(leg, aim.level)
        found = _known[key] = _bent(leg) if standing is None else standing
    return found


def rest_of(low: Array, high: Array) -> Array:
    """Zero pose where the limits allow, nudged off straight, where the Jacobian says nothing."""
    span = np.minimum(high - low, 2.0)
    return np.clip(0.1 * span * np.where(np.arange(len(low)) % 2, -1.0, 1.0), low, high)


def _standing(leg: Sought, level: bool) -> Array | None:
    """Standing with its knees bent, its foot as at zero pose: of the ways to stand so the one with its joints furthest
    ahead. A straight leg bends either way, and would bend one way in one motion and the other in the next; from here it
    bends as it does here. With a joint to spare it bends so in many ways: then the one nearest to its rest, where no
    joint turns against another. None where it cannot stand so."""
    chain, low, high = leg.chain, leg.low, leg.high
    rest, none = rest_of(low, high), np.zeros((1, 1, len(low)))
    target = forward(chain, none)[0][0, :, -1] * (1.0, 1.0, STANDS)
    near = spread_of(np.maximum(low, rest - WIDE_RAD), np.minimum(high, rest + WIDE_RAD))
    aim = Aim(chain.mount_turn[:1], level)
    starts = nearest_of(leg, near, target, aim, WAYS)
    rows = np.zeros(len(starts), dtype=int)
    q, gap = descend(leg, starts, target[rows], aim[rows])
    size = size_of(gap, leg.weighs)
    # With too few joints to lie as it is told it lies as nearly as it can.
    stands = np.flatnonzero(size < (REACHED_MM / 10 if leg.weighs is USUAL else size.min() + NEARLY_MM))
    if not len(stands):
        return None
    ahead = np.round(forward(chain, q[None, stands])[0][0, :, :, 0].sum(axis=1), 3)
    if len(low) > (5 if level else 6):
        stands = stands[ahead >= ahead.max() - ALIKE * leg.reach]
        return np.asarray(q[stands[np.argmin(np.linalg.norm(q[stands] - rest, axis=1))]])
    return np.asarray(q[stands[np.argmax(ahead)]])


def _bent(leg: Sought) -> Array:
    """Where a chain with more joints than it needs starts from: of a grid about its rest, what can go every way best,
    the foot below all else. From a straight leg each place would be come to in a way of its own, and rows next to each
    other would leap from one to another; from here they do not."""
    chain, rest = leg.chain, rest_of(leg.low, leg.high)
    near = spread_of(np.maximum(leg.low, rest - NEAR_RAD), np.minimum(leg.high, rest + NEAR_RAD))
    points, frames = forward(chain, near[None])
    columns = jacobian(chain, points, frames)[0, :, :3]
    can = np.sqrt(np.maximum(np.linalg.det(columns @ np.swapaxes(columns, 1, 2)), 0.0))
    height = points[0, :, :, 2]
    stands = height[:, -1] <= height[:, :-1].min(axis=1) - 1e-9
    can = np.where(stands, can, 0.0) if stands.any() else can
    # Of such as go alike well the one with its knees highest.
    best = np.flatnonzero(can >= can.max() * (1 - 1e-6))
    return np.asarray(near[best[np.argmax(height[best].sum(axis=1))]])


def nearest_of(leg: Sought, spread: Array, target: Array, aim: Aim | None, places: int) -> Array:
    """(places·S, J): of the spread, what brings the foot nearest to each target; then the nearest that stands another
    way, and so on."""
    points, frames = forward(leg.chain, spread[None])
    weighs = np.array([1.0, 1.0, leg.weighs.up])
    miss_mm = cdist(target * weighs, points[0, :, -1] * weighs)
    if aim is not None:
        miss_mm = np.hypot(miss_mm, leg.weighs.tilt_mm * aim.angles(frames[0, :, -1]))
    found = [spread[miss_mm.argmin(axis=1)]]
    for _ in range(places - 1):
        # Nothing that stands as the last one found does.
        alike = np.abs(spread[None] - found[-1][:, None]) <= np.ptp(spread, axis=0) / 4 + 1e-9
        miss_mm[alike.all(axis=-1)] = np.inf
        found.append(spread[miss_mm.argmin(axis=1)])
    return np.concatenate(found)


_known: dict[bytes, Array] = {}
