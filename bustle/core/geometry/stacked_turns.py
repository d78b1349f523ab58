"""Stacks of turns, one at each sample, worked out in a go: of products so small a library's call costs more."""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array
from bustle.core.geometry.compiled import back_of, compiled_for, floats, matrix, of, plus, put, turn_between, vector


@compiled_for(floats(3), floats(3))
def products(one: Array, other: Array) -> Array:
    """(S, 3, 3): one·other at every sample."""
    found = np.empty(one.shape)
    for s in range(len(one)):
        turn = matrix(other[s])
        for i in range(3):
            put(found[s, i], back_of(turn, vector(one[s, i])))
    return found


@compiled_for(floats(2), floats(2), floats(3))
def put_at(points: Array, at: Array, turn: Array) -> Array:
    """(K, S, 3): points (K, 3) of a part that is at (S, 3), turned by (S, 3, 3)."""
    found = np.empty((len(points), len(at), 3))
    for s in range(len(at)):
        own, place = matrix(turn[s]), vector(at[s])
        for k in range(len(points)):
            put(found[k, s], plus(of(own, vector(points[k])), place))
    return found


@compiled_for(floats(3), floats(3), floats(2), floats(2))
def about_axes(k: Array, k_squared: Array, sines: Array, cosines: Array) -> Array:
    """(A, S, 3, 3): I + sin q·K + (1 − cos q)·K², of axes (A, 3, 3) as skew matrices, and their squares."""
    axes, samples = sines.shape
    found = np.empty((axes, samples, 3, 3))
    for a in range(axes):
        for s in range(samples):
            sine, rest = sines[a, s], 1.0 - cosines[a, s]
            for i in range(3):
                for j in range(3):
                    found[a, s, i, j] = (1.0 if i == j else 0.0) + sine * k[a, i, j] + rest * k_squared[a, i, j]
    return found


@compiled_for(floats(4), floats(4))
def left_over(aims: Array, turns: Array) -> Array:
    """(L, S, 3) rad: the rotation vectors that would bring turns to what is aimed for, log(aim·turnᵀ)."""
    limbs, samples = turns.shape[:2]
    found = np.empty((limbs, samples, 3))
    for n in range(limbs):
        for s in range(samples):
            put(found[n, s], turn_between(matrix(turns[n, s]), matrix(aims[n, s])))
    return found
