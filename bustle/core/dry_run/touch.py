"""Where feet touch the floor at an instant within a row, and how what touches there moves.

A machine beside its plan is shifted by d and turned by R about its centre of mass, and its servos are off by s, which
turns the hinges of its limbs by δ = (∂h/∂s)·s. From the body out, n_h and o_h a hinge's axis and place in the plan,
    Q_h = Q_{h−1}·rot(n_h, δ_h),   o'_{h+1} = o'_h + Q_h·(o_{h+1} − o_h),
a point p behind them is at  p' = c + d + R·(o'_H + Q_H·(p − o_H) − c),  c the plan's centre, and goes by
R·(Q_{h−1}·n_h × (p' − o'_h)) a radian of hinge h. A curved sole touches where its curve is lowest, which wanders over
it as it rolls.

Compiled, for one machine, as what comes of one step is where the next begins.
"""

from __future__ import annotations

from math import sqrt
from typing import NamedTuple

import numpy as np

from bustle.core.dry_run.beside_its_plan import BODY
from bustle.core.dry_run.rows import Rows
from bustle.core.geometry.arrays import Array
from bustle.core.geometry.compiled import (
    Vector,
    compiled,
    crossed,
    minus,
    on_by,
    plus,
    product,
    put,
    rotation,
    through,
    times,
    turn_by,
    turn_put,
    vector,
)


class Touch(NamedTuple):
    """Where a machine may touch the floor: at (P, 3) m; moves (P, 3, D), how what touches there moves, and planned
    (P, 3) m/s, how fast by plan where it rolls. Of Q soles that roll: local (Q, 3) m, where on the sole it touches, and
    lies (Q, 3, 3), how that lies."""

    at: Array
    moves: Array
    planned: Array
    local: Array
    lies: Array


@compiled
def touching(rows: Rows, row: int, share: float, shift: Array, turn: Array, servos: Array) -> Touch:
    """share: 0 … 1, how far into the row; shift (3,) m, turn (3, 3), servos (S,) rad: how it lies beside its plan."""
    count, most, size = rows.points.shape[1], rows.by_servo.shape[2], BODY + servos.shape[0]
    centre = on_by(rows.centre[row], rows.on_centre[row], share)
    moved = plus(centre, vector(shift))
    by_servo, places, along, ends, spun = _out(rows, row, share, servos)
    at, moves, planned = np.empty((count, 3)), np.zeros((count, 3, size)), np.zeros((count, 3))
    local, lies = np.zeros((rows.point_of.shape[0], 3)), np.zeros((rows.point_of.shape[0], 3, 3))
    for p in range(count):
        limb, own = rows.hangs_on[p], moves[p]
        end = on_by(rows.points[row, p], rows.on_points[row, p], share)
        end = plus(vector(ends[limb]), through(spun[limb], end))
        for h in range(most):
            way = vector(along[limb, h])
            if not rows.slides[limb, h]:
                way = crossed(way, minus(end, vector(places[limb, h])))
            _add(own, through(turn, way), by_servo[limb, h])
        put(at[p], through(turn, minus(end, centre)))
    for q in range(rows.point_of.shape[0]):
        p = rows.point_of[q]
        limb, rolls = rows.hangs_on[p], rows.on_soles[row, q]
        beyond = product(turn, spun[limb])
        turn_put(lies[q], product(beyond, turn_by(rows.soles[row, q], rolls, share)))
        touches = lowest(lies[q], rows.curves[q])
        put(local[q], touches)
        curve = through(lies[q], touches)
        for h in range(most):
            if not rows.slides[limb, h]:
                _add(moves[p], crossed(through(turn, vector(along[limb, h])), curve), by_servo[limb, h])
        on, body = vector(rows.on_points[row, p]), vector(rows.on_centre[row])
        way = plus(body, through(turn, minus(on, body)))
        way = plus(way, through(beyond, through(rolls, touches)))
        put(planned[p], times(way, 1 / rows.row_s))
        put(at[p], plus(vector(at[p]), curve))
    for p in range(count):
        x, y, z = vector(at[p])
        own = moves[p]
        own[0, 0], own[1, 1], own[2, 2] = 1.0, 1.0, 1.0
        # φ × arm
        own[0, 4], own[0, 5] = z, -y
        own[1, 3], own[1, 5] = -z, x
        own[2, 3], own[2, 4] = y, -x
        put(at[p], plus(moved, (x, y, z)))
    return Touch(at, moves, planned, local, lies)


@compiled
def _out(rows: Rows, row: int, share: float, servos: Array) -> tuple[Array, Array, Array, Array, Array]:
    """From the body out, of L limbs' H hinges: how each turns, or slides, by servo (L, H, S); where each is and along
    what it turns (L, H, 3); of what is behind the last how it is turned, spun (L, 3, 3), and where its ground's origin
    lies, ends (L, 3)."""
    limbs, most, many = rows.by_servo.shape[1], rows.by_servo.shape[2], servos.shape[0]
    by_servo, places, along = np.empty((limbs, most, many)), np.empty((limbs, most, 3)), np.empty((limbs, most, 3))
    ends, spun = np.empty((limbs, 3)), np.empty((limbs, 3, 3))
    for limb in range(limbs):
        own, at, before = rotation((0.0, 0.0, 0.0)), (0.0, 0.0, 0.0), (0.0, 0.0, 0.0)
        for h in range(most):
            origin = on_by(rows.origins[row, limb, h], rows.on_origins[row, limb, h], share)
            axis = on_by(rows.axes[row, limb, h], rows.on_axes[row, limb, h], share)
            off = 0.0
            for s in range(many):
                by = rows.by_servo[row, limb, h, s] + rows.on_by_servo[row, limb, h, s] * share
                by_servo[limb, h, s] = by
                off += by * servos[s]
            here, before = minus(origin, before), origin
            if rows.slides[limb, h]:
                here = plus(here, times(axis, off))
            at = plus(at, through(own, here))
            put(places[limb, h], at)
            put(along[limb, h], through(own, axis))
            if not rows.slides[limb, h]:
                own = product(own, rotation(times(axis, off)))
        turn_put(spun[limb], own)
        put(ends[limb], minus(at, through(own, before)))
    return by_servo, places, along, ends, spun


@compiled
def _add(moves: Array, way: Vector, by_servo: Array) -> None:
    """What goes so a radian of a hinge, by servo."""
    for s in range(by_servo.shape[0]):
        moves[0, BODY + s] += way[0] * by_servo[s]
        moves[1, BODY + s] += way[1] * by_servo[s]
        moves[2, BODY + s] += way[2] * by_servo[s]


@compiled
def lowest(lies: Array, curve: Array) -> Vector:
    """m, in the sole's own frame: from its lowest point at rest to where it is lowest as it lies, as `machine.soles`
    has it. curve: its radii fore and aft and to the side, m, and the sines of how far they go, or 2 without end."""
    fore, side = curve[0], curve[1]
    ahead = min(max(-lies[2, 0], -curve[2]), curve[2])
    left = min(max(-lies[2, 1], -curve[3]), curve[3])
    slant = ahead * ahead + left * left
    under = -lies[2, 2] if curve[2] > 1.0 and curve[3] > 1.0 else -sqrt(max(1.0 - slant, 0.0))
    mean = (fore * ahead * ahead + side * left * left) / slant if slant > 1e-18 else fore
    return fore * ahead, side * left, mean * (1.0 + under)
