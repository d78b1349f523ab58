"""Vectors as three long rows, (3, …), and matrices as nine, (3, 3, …): many small products as few long ones.

What is made of many hinges at many samples takes a third of the time so: every sum and product runs along memory. As
vectors stand last elsewhere, `first` and `last` change the one into the other without copying.
"""

from __future__ import annotations

import numpy as np

from bustle.core.geometry.arrays import Array


def first(values: Array, behind: int = 1) -> Array:
    """(L, N, H, 3) → (3, L, H, N), and with behind = 2 (L, N, H, 3, 3) → (3, 3, L, H, N); a view."""
    limbs, samples, hinges = range(3)
    return values.transpose(*range(3, 3 + behind), limbs, hinges, samples)


def last(values: Array) -> Array:
    """And back; a view."""
    *behind, limbs, hinges, samples = range(values.ndim)
    return values.transpose(limbs, samples, hinges, *behind)


def along_samples(values: Array) -> Array:
    """(N, 3) → (3, 1, 1, N), (N, 3, 3) → (3, 3, 1, 1, N)."""
    return np.ascontiguousarray(np.moveaxis(values, 0, -1))[..., None, None, :]


def cross(a: Array, b: Array) -> Array:
    """a × b."""
    found = np.empty(np.broadcast_shapes(a.shape, b.shape))
    less = np.empty(found.shape[1:])
    for i, j, k in ((0, 1, 2), (1, 2, 0), (2, 0, 1)):
        np.multiply(a[j], b[k], out=found[i])
        np.multiply(a[k], b[j], out=less)
        found[i] -= less
    return found


def dot(a: Array, b: Array) -> Array:
    """a · b."""
    found: Array = a[0] * b[0]
    found += a[1] * b[1]
    found += a[2] * b[2]
    return found


def turned(m: Array, v: Array) -> Array:
    """m·v, of matrices (3, 3, …) and vectors (3, …)."""
    shape = np.broadcast_shapes(m.shape[2:], v.shape[1:])
    found, more = np.empty((3, *shape)), np.empty(shape)
    for i in range(3):
        np.multiply(m[i, 0], v[0], out=found[i])
        for j in (1, 2):
            np.multiply(m[i, j], v[j], out=more)
            found[i] += more
    return found


def turned_each(m: Array, columns: Array) -> Array:
    """m·c of matrices, column by column."""
    found = np.empty(np.broadcast_shapes(m.shape, columns.shape))
    for k in range(3):
        found[:, k] = turned(m, columns[:, k])
    return found
