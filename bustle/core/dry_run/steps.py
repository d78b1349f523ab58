"""Step by step through a motion's rows, each machine by itself, compiled (see `let_go` for what is solved)."""

from __future__ import annotations

import numpy as np

from bustle.core.dry_run.beside_its_plan import BODY
from bustle.core.dry_run.rows import Held, Lies, Rows
from bustle.core.dry_run.touch import touching
from bustle.core.geometry.arrays import Array, Flags
from bustle.core.geometry.compiled import (
    compiled,
    factored,
    goes,
    minus,
    plus,
    product,
    put,
    rotation,
    solved,
    through,
    times,
    turn_put,
    vector,
)

# How often which feet are down and which slide is looked at within a step.
LOOKS = 6
# So near, as a share, a sliding foot's push is to what the floor holds of what it carries.
NEAR = 0.05
# It grows by so much at most from look to look.
GROWS = 1.25


@compiled
def walk(
    rows: Rows, through_rows: int, steps: int, held: Held, lies: Lies, falls: float, lean: Array, down: Flags
) -> float:
    """Through so many rows in so many steps each, until it has fallen: after how long, s, or infinite. falls: the
    cosine of how far beside its plan. Written down: lean (N,), the least cosine since the row before, down (N, P)."""
    for row in range(through_rows):
        for k in range(steps):
            _step(rows, row, (k + 1) / steps, rows.row_s / steps, held, lies)
            lean[row] = min(lean[row], lies.turn[2, 2])
            if not lies.turn[2, 2] > falls:
                return row * rows.row_s + k * rows.row_s / steps
        for p in range(down.shape[1]):
            down[row, p] = lies.down[p]
        _goes_on_from_here(rows, row, lies)
    return np.inf


@compiled
def _step(rows: Rows, row: int, share: float, dt: float, held: Held, lies: Lies) -> None:
    touch = touching(rows, row, share, lies.shift, lies.turn, lies.servos)
    at, moves, count, size = touch.at, touch.moves, touch.at.shape[0], lies.rate.shape[0]
    left, right = _servos(rows, row, share, dt, held, lies)
    for q in range(rows.point_of.shape[0]):
        # What rolls is held where it has rolled to.
        now = touch.local[q]
        if np.isfinite(lies.local[q, 0]):
            x, y, _ = through(touch.lies[q], minus(vector(now), vector(lies.local[q])))
            lies.held[rows.point_of[q], 0] += x
            lies.held[rows.point_of[q], 1] += y
        put(lies.local[q], vector(now))
    down, slips = np.empty(count, dtype=np.bool_), np.empty((count, 3))
    for p in range(count):
        down[p] = at[p, 2] + dt * goes(moves[p], lies.rate)[2] < 0
        if not (down[p] and lies.down[p]):
            put(lies.held[p], vector(at[p]))
        x, y, _ = minus(vector(at[p]), vector(lies.held[p]))
        slip = plus((x, y, at[p, 2]), times(vector(touch.planned[p]), held.settles_s))
        put(slips[p], through(rows.holds[row, p], slip))
    slides, pushed, force = np.zeros(count, dtype=np.bool_), np.zeros((count, 3)), np.zeros((count, 3))
    damped, whole, new = dt + held.settles_s, np.empty((size, size)), np.empty(size)
    for _ in range(LOOKS):
        for a in range(size):
            new[a] = right[a]
            for b in range(a + 1):
                whole[a, b] = left[a, b]
        for p in range(count):
            if down[p]:
                _hold(whole, new, moves[p], rows.holds[row, p], held.firm[p], damped, slips[p], pushed[p], slides[p])
        factored(whole)
        solved(whole, new)
        if not _look(rows.holds[row], moves, new, held, damped, slips, lies.carries, force, pushed, down, slides):
            break
    for p in range(count):
        lies.carries[p] = max(force[p, 2], 0.0) if down[p] else 0.0
        lies.down[p] = down[p]
        if slides[p] and down[p]:
            # What slides is held from where it has slid to.
            x, y, _ = plus(vector(at[p]), times(goes(moves[p], new), dt))
            lies.held[p, 0], lies.held[p, 1] = x + pushed[p, 0] / held.firm[p], y + pushed[p, 1] / held.firm[p]
    turn_put(lies.turn, product(rotation((dt * new[3], dt * new[4], dt * new[5])), lies.turn))
    for i in range(3):
        lies.shift[i] += dt * new[i]
    for s in range(size - BODY):
        lies.servos[s] += dt * new[BODY + s]
    for k in range(size):
        lies.rate[k] = new[k]


@compiled
def _servos(rows: Rows, row: int, share: float, dt: float, held: Held, lies: Lies) -> tuple[Array, Array]:
    """What is to be solved before any point is held: (D, D), its lower half, and (D,)."""
    size = lies.rate.shape[0]
    left, right = np.empty((size, size)), np.empty(size)
    for a in range(size):
        right[a] = -rows.takes[row, a] - rows.on_takes[row, a] * share
        for b in range(size):
            left[a, b] = rows.mass[row, a, b] / dt
            right[a] += left[a, b] * lies.rate[b]
    for s in range(size - BODY):
        on, k = rows.on_servos[row, s], BODY + s
        gap = rows.gaps[row, s] - on * share - lies.servos[s]
        far = abs(gap)
        torque = held.stiff[s] * max(far - held.slack[s], 0.0)
        right[k] += np.sign(gap) * min(torque, held.stall[s]) - held.drag[s] / rows.row_s * on
        left[k, k] += held.drag[s]
        if far > held.slack[s] and torque < held.stall[s]:
            left[k, k] += dt * held.stiff[s]
    return left, right


@compiled
def _hold(
    whole: Array,
    pushes: Array,
    moves: Array,
    holds: Array,
    firm: float,
    damped: float,
    slip: Array,
    pushed: Array,
    slides: bool,
) -> None:
    """A point that is down, added to what is solved: upwards it is held, along the floor held or pushed."""
    size = whole.shape[0]
    for i in range(3):
        if i < 2 and slides:
            for a in range(size):
                pushes[a] += moves[i, a] * pushed[i]
            continue
        for a in range(size):
            pushes[a] -= moves[i, a] * firm * slip[i]
        for j in range(3):
            if holds[i, j] != 0.0:
                for a in range(size):
                    by = firm * damped * holds[i, j] * moves[i, a]
                    if by != 0.0:
                        for b in range(a + 1):
                            whole[a, b] += by * moves[j, b]


@compiled
def _look(
    holds: Array,
    moves: Array,
    new: Array,
    held: Held,
    damped: float,
    slips: Array,
    carries: Array,
    force: Array,
    pushed: Array,
    down: Flags,
    slides: Flags,
) -> bool:
    """What each point is pushed by at that rate, and which lift and which slide: whether any is new."""
    count = down.shape[0]
    most, along, over, any_starts = np.zeros(count), np.zeros(count), np.zeros(count, dtype=np.bool_), False
    for p in range(count):
        if not down[p]:
            put(force[p], (0.0, 0.0, 0.0))
            continue
        slip = plus(vector(slips[p]), times(through(holds[p], goes(moves[p], new)), damped))
        put(force[p], times(slip, -held.firm[p]))
        if slides[p]:
            force[p, 0], force[p, 1] = pushed[p, 0], pushed[p, 1]
        along[p] = np.hypot(force[p, 0], force[p, 1])
        # As if it stuck, a foot carries more or less than it does once it slides: as before is nearer.
        carried = max(force[p, 2], 0.0) if slides[p] or carries[p] <= 0 else carries[p]
        most[p] = held.grip * carried
        # What it carries changes with what slides: a push that slides follows, slowly, lest it wedges itself in.
        off = abs(along[p] - most[p]) > NEAR * most[p] if slides[p] else along[p] > most[p] * 1.001
        over[p] = off and along[p] > 1e-9
        any_starts = any_starts or (over[p] and not slides[p])
    looks_on = False
    for p in range(count):
        # What lifts off is known only once what slides does: held fast, it would tip the machine.
        if down[p] and force[p, 2] < 0 and not any_starts:
            down[p], looks_on = False, True
        if over[p]:
            share = min(most[p] / max(along[p], 1e-9), GROWS if slides[p] else 1.0)
            pushed[p, 0], pushed[p, 1] = force[p, 0] * share, force[p, 1] * share
            slides[p], looks_on = True, True
    return looks_on


@compiled
def _goes_on_from_here(rows: Rows, row: int, lies: Lies) -> None:
    """What it is beside its plan over the ground since a row began is added to where it is, and its plan laid where it
    is: nothing that follows knows where on the floor that is."""
    centre = plus(vector(rows.centre[row]), vector(rows.on_centre[row]))
    came = plus(centre, (lies.shift[0], lies.shift[1], 0.0))
    x, y, _ = minus(came, vector(rows.centre[row]))
    c, s = np.cos(lies.frame[0]), np.sin(lies.frame[0])
    lies.at[0] += c * x - s * y
    lies.at[1] += s * x + c * y
    yaw = np.arctan2(lies.turn[1, 0] - lies.turn[0, 1], lies.turn[0, 0] + lies.turn[1, 1])
    lies.frame[0] += yaw
    back = rotation((0.0, 0.0, -yaw))
    for p in range(lies.held.shape[0]):
        put(lies.held[p], plus(through(back, minus(vector(lies.held[p]), came)), centre))
    turn_put(lies.turn, product(back, lies.turn))
    put(lies.rate[:3], through(back, vector(lies.rate[:3])))
    put(lies.rate[3:], through(back, vector(lies.rate[3:])))
    lies.shift[0], lies.shift[1] = 0.0, 0.0
