"""Chains of rigid parts, row by row: where they lie, what it takes to move them and to hold them up.

For a part of mass m and inertia I about its centre c (world axes), moving with acceleration a of its centre, ω and α:
    F = m·(a − g),   M = c × F + I·α + ω × I·ω   about the ground's origin (Newton and Euler).
Down a chain, from joint to joint at p with axis n, rate q̇ and q̈:
    ω' = ω + n·q̇,   α' = α + n·q̈ + ω × n·q̇,   a_c = a_p + α' × (c − p) + ω' × (ω' × (c − p)),
and for a slide a' = a + α × d + ω × (ω × d) + 2ω × n·q̇ + n·q̈, d what it has slid.
Source: the recursive Newton–Euler method of any text on robot dynamics.

Of L limbs with H hinges at N rows: vectors (L, N, H, 3) m, matrices (L, N, H, 3, 3), all in the ground frame.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array, Flags, Indices
from bustle.core.geometry.compiled import (
    REAL,
    Matrix,
    Vector,
    back_of,
    compiled,
    compiled_for,
    crossed,
    dot,
    flags,
    floats,
    indices,
    matrix,
    minus,
    of,
    plus,
    put,
    times,
    vector,
)  # fmt: skip


@compiled
def _carried(spin: Vector, spinning_up: Vector, off: Vector) -> Vector:
    """What a point `off` from another on the same part speeds up by beside it."""
    return plus(crossed(spin, crossed(spin, off)), crossed(spinning_up, off))


@compiled_for(floats(2), floats(3), floats(4), floats(5), floats(3), floats(3), floats(3), floats(3))
def lie(
    at: Array, turn: Array, points: Array, frames: Array, mounts: Array, axes: Array, centres: Array, slid: Array
) -> tuple[Array, Array, Array, Array, Array, Array]:
    """Of a body at (N, 3) m, turned by (N, 3, 3), with points (L, N, H + 1, 3) mm, frames, mounts (L, 3, 3), and axes
    and centres (L, H, 3) as they are built, slid (L, N, H) m, the limbs in its own axes: origins of hinges, axes, where
    what each moves starts, centres of mass, turns, and ends (L, N, 3)."""
    limbs, rows, hinges = frames.shape[:3]
    shape = limbs, rows, hinges, 3
    origins, along, starts, middles = np.empty(shape), np.empty(shape), np.empty(shape), np.empty(shape)
    turns, ends = np.empty((limbs, rows, hinges, 3, 3)), np.empty((limbs, rows, 3))
    for n in range(limbs):
        for row in range(rows):
            body, own = vector(at[row]), matrix(turn[row])
            put(ends[n, row], plus(of(own, times(vector(points[n, row, hinges]), 0.001)), body))
            before = matrix(mounts[n])
            for h in range(hinges):
                origin = plus(of(own, times(vector(points[n, row, h]), 0.001)), body)
                axis = of(own, of(before, vector(axes[n, h])))
                start = plus(origin, times(axis, slid[n, row, h]))
                before = matrix(frames[n, row, h])
                put(origins[n, row, h], origin)
                put(along[n, row, h], axis)
                put(starts[n, row, h], start)
                put(middles[n, row, h], plus(start, of(own, of(before, vector(centres[n, h])))))
                for k in range(3):
                    column = of(own, (before[0][k], before[1][k], before[2][k]))
                    for i in range(3):
                        turns[n, row, h, i, k] = column[i]
    return origins, along, starts, middles, turns, ends


@compiled
def _of_part(
    kg: float, inertia: Matrix, turn: Matrix, c: Vector, a: Vector, spin: Vector, spinning_up: Vector
) -> tuple[Vector, Vector]:
    """inertia (3, 3) about the part's centre as it is built, turn (3, 3) how it lies; a: a − g of its centre."""
    force, own = times(a, kg), back_of(turn, spin)
    # On the part itself, where its inertia is what it is: I·ω' + ω × I·ω.
    taken = plus(of(inertia, back_of(turn, spinning_up)), crossed(own, of(inertia, own)))
    return force, plus(of(turn, taken), crossed(c, force))


@compiled_for(floats(2), floats(3), floats(2), floats(2), floats(2), REAL, floats(1), floats(2))
def frame_moves(
    at: Array, turn: Array, spin: Array, spinning_up: Array, upwards: Array, kg: float, centre: Array, inertia: Array
) -> tuple[Array, Array]:
    """Force and moment (N, 3) that the frame itself takes; upwards (N, 3): how it speeds up, less gravity."""
    rows = len(at)
    forces, moments = np.empty((rows, 3)), np.empty((rows, 3))
    for row in range(rows):
        w, up = vector(spin[row]), vector(spinning_up[row])
        lies = matrix(turn[row])
        off = of(lies, vector(centre))
        a = plus(vector(upwards[row]), _carried(w, up, off))
        force, moment = _of_part(kg, matrix(inertia), lies, plus(off, vector(at[row])), a, w, up)
        put(forces[row], force)
        put(moments[row], moment)
    return forces, moments


@compiled_for(
    floats(2), floats(2), floats(2), floats(2), floats(4), floats(4), floats(4), floats(5), floats(3), floats(3),
    flags(1), floats(2), floats(4),
)  # fmt: skip
def limbs_move(
    at: Array, spin: Array, spinning_up: Array, upwards: Array, axes: Array, starts: Array, centres: Array,
    turns: Array, rates: Array, speeding: Array, slides: Flags, kg: Array, inertias: Array,
) -> tuple[Array, Array]:  # fmt: skip
    """Forces and moments of what is behind each hinge, its part and all beyond it, of a body at (N, 3) that turns and
    speeds up so, less gravity; rates, speeding (L, N, H): q̇ and q̈, slides (H,); kg (L, H), inertias (L, H, 3, 3)."""
    limbs, rows, hinges, _ = axes.shape
    forces, moments = np.empty(axes.shape), np.empty(axes.shape)
    for n in range(limbs):
        for row in range(rows):
            w, up, a, p = vector(spin[row]), vector(spinning_up[row]), vector(upwards[row]), vector(at[row])
            for h in range(hinges):
                start, axis = vector(starts[n, row, h]), vector(axes[n, row, h])
                a, p = plus(a, _carried(w, up, minus(start, p))), start
                along, on = times(axis, rates[n, row, h]), times(axis, speeding[n, row, h])
                if slides[h]:
                    a = plus(a, plus(times(crossed(w, along), 2.0), on))
                else:
                    up, w = plus(up, plus(crossed(w, along), on)), plus(w, along)
                c = vector(centres[n, row, h])
                speeds_up = plus(a, _carried(w, up, minus(c, start)))
                inertia, turn = matrix(inertias[n, h]), matrix(turns[n, row, h])
                force, moment = _of_part(kg[n, h], inertia, turn, c, speeds_up, w, up)
                put(forces[n, row, h], force)
                put(moments[n, row, h], moment)
            # Each with all beyond it.
            for h in range(hinges - 2, -1, -1):
                for k in range(3):
                    forces[n, row, h, k] += forces[n, row, h + 1, k]
                    moments[n, row, h, k] += moments[n, row, h + 1, k]
    return forces, moments


@compiled_for(floats(2), floats(3), REAL, floats(1), floats(1))
def frame_hangs(at: Array, turn: Array, kg: float, centre: Array, up: Array) -> tuple[Array, Array]:
    """The same of a frame that is only held up, against gravity, up (3,) m/s²."""
    rows, force = len(at), times(vector(up), kg)
    forces, moments = np.empty((rows, 3)), np.empty((rows, 3))
    for row in range(rows):
        put(forces[row], force)
        put(moments[row], crossed(plus(vector(at[row]), of(matrix(turn[row]), vector(centre))), force))
    return forces, moments


@compiled_for(floats(2), floats(4))
def with_roots(whole: Array, behind: Array) -> Array:
    """(N, 3): with what is behind the first hinge of each limb, (L, N, H, 3), added up."""
    found = whole.copy()
    for n in range(behind.shape[0] if behind.shape[2] else 0):
        for row in range(len(found)):
            for i in range(3):
                found[row, i] += behind[n, row, 0, i]
    return found


@compiled_for(floats(4), floats(2), floats(1))
def limbs_hang(centres: Array, kg: Array, up: Array) -> tuple[Array, Array]:
    """The same of limbs that only hang: kg (L, H), up (3,) m/s², against gravity."""
    limbs, rows, hinges, _ = centres.shape
    forces, moments = np.empty(centres.shape), np.empty(centres.shape)
    for n in range(limbs):
        for row in range(rows):
            for h in range(hinges):
                force = times(vector(up), kg[n, h])
                put(forces[n, row, h], force)
                put(moments[n, row, h], crossed(vector(centres[n, row, h]), force))
            # Each with all beyond it.
            for h in range(hinges - 2, -1, -1):
                for k in range(3):
                    forces[n, row, h, k] += forces[n, row, h + 1, k]
                    moments[n, row, h, k] += moments[n, row, h + 1, k]
    return forces, moments


@compiled_for(floats(4), floats(4), flags(1), floats(4), floats(4), floats(3), floats(3), indices(1))
def held_by_hinges(
    origins: Array, axes: Array, slides: Flags, forces: Array, moments: Array, points: Array, pushes: Array, on: Indices
) -> Array:
    """(L, N, H) N·m, or N: what each hinge holds of wrenches about the ground's origin, less what pushes (P, N, 3) at
    points do to the limbs that they are on (P,), −1 of others:  n·(M − p × F)."""
    limbs, rows, hinges, _ = axes.shape
    found = np.empty((limbs, rows, hinges))
    for n in range(limbs):
        for row in range(rows):
            force, moment = (0.0, 0.0, 0.0), (0.0, 0.0, 0.0)
            for p in range(len(on)):
                if on[p] == n:
                    push = vector(pushes[p, row])
                    force, moment = plus(force, push), plus(moment, crossed(vector(points[p, row]), push))
            for h in range(hinges):
                axis, own = vector(axes[n, row, h]), minus(vector(forces[n, row, h]), force)
                if not slides[h]:
                    lever = crossed(vector(origins[n, row, h]), own)
                    own = minus(minus(vector(moments[n, row, h]), moment), lever)
                found[n, row, h] = dot(axis, own)
    return found


@compiled
def _goes(axis: Vector, slides: bool, origin: Vector, point: Vector) -> Vector:
    """Where a point behind a hinge goes, m a radian, or a metre."""
    return axis if slides else crossed(axis, minus(point, origin))


@compiled_for(floats(4), floats(4), flags(1), floats(3), floats(4))
def ends_go(origins: Array, axes: Array, slides: Flags, ends: Array, by_servo: Array) -> Array:
    """(3, L, K, N) m a radian of each of a limb's own servos: where its end goes; by_servo (L, N or 1, K, H), how far
    each hinge turns of each."""
    limbs, rows, hinges, _ = axes.shape
    servos = by_servo.shape[2]
    found = np.zeros((3, limbs, servos, rows))
    for n in range(limbs):
        for row in range(rows):
            levers = by_servo[n, row if by_servo.shape[1] > 1 else 0]
            for h in range(hinges):
                goes = _goes(vector(axes[n, row, h]), slides[h], vector(origins[n, row, h]), vector(ends[n, row]))
                for s in range(servos):
                    for i in range(3):
                        found[i, n, s, row] += levers[s, h] * goes[i]
    return found


@compiled_for(
    indices(2), floats(4), floats(4), flags(1), floats(4), floats(5), floats(4), floats(2), floats(4),
)  # fmt: skip
def most_swung(
    rows: Indices, origins: Array, axes: Array, slides: Flags, centres: Array, turns: Array,
    by_servo: Array, kg: Array, inertias: Array,
) -> Array:  # fmt: skip
    """(L, K) kg·m² about the horn of each of a limb's own servos: the most that it moves at some rows of each limb
    (L, R), −1 no row; 0 where it has none."""
    limbs, _, hinges, _ = axes.shape
    servos = by_servo.shape[2]
    found = np.zeros((limbs, servos))
    for n in range(limbs):
        for row in rows[n]:
            if row < 0:
                continue
            levers = by_servo[n, row if by_servo.shape[1] > 1 else 0]
            for s in range(servos):
                whole = 0.0
                for part in range(hinges):
                    centre, goes, turned = vector(centres[n, row, part]), (0.0, 0.0, 0.0), (0.0, 0.0, 0.0)
                    for h in range(part + 1):
                        axis, origin = vector(axes[n, row, h]), vector(origins[n, row, h])
                        goes = plus(goes, times(_goes(axis, slides[h], origin, centre), levers[s, h]))
                        if not slides[h]:
                            turned = plus(turned, times(axis, levers[s, h]))
                    # As the part itself is built.
                    own = back_of(matrix(turns[n, row, part]), turned)
                    whole += kg[n, part] * dot(goes, goes) + dot(own, of(matrix(inertias[n, part]), own))
                found[n, s] = max(found[n, s], whole)
    return found


@compiled_for(floats(2), floats(4), floats(5), floats(2), floats(4))
def inertia_about(points: Array, centres: Array, turns: Array, kg: Array, inertias: Array) -> Array:
    """(N, 3, 3) kg·m²: of parts (L, N, H) together about a point (N, 3) m at each row, with d = c − p:
    Σ R·I·Rᵀ + m·(d·d·1 − d·dᵀ)."""
    limbs, rows, hinges, _ = centres.shape
    found = np.zeros((rows, 3, 3))
    for row in range(rows):
        for n in range(limbs):
            for h in range(hinges):
                d, turn, own = minus(vector(centres[n, row, h]), vector(points[row])), turns[n, row, h], inertias[n, h]
                away = dot(d, d)
                for i in range(3):
                    along = back_of(matrix(own), (turn[i, 0], turn[i, 1], turn[i, 2]))
                    for k in range(3):
                        found[row, i, k] += dot(along, (turn[k, 0], turn[k, 1], turn[k, 2])) - kg[n, h] * d[i] * d[k]
                    found[row, i, i] += kg[n, h] * away
    return found
