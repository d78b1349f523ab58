"""What arrays are called in annotations, and arrays that nobody may change."""

from __future__ import annotations

import re
from dataclasses import fields, is_dataclass
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]
Indices = NDArray[np.intp]

T = TypeVar("T")

# What differs by less than this of the largest there is, is equal: one drag to the next must not change who is told.
ALIKE = 1e-7


def greatest(values: Array) -> int:
    """The first (flat) place among those where the values are greatest, equals to rounding counted as equal."""
    flat = values.ravel()
    top = flat.max()
    room = ALIKE * max(1.0, float(np.abs(flat[np.isfinite(flat)]).max(initial=0.0)))
    return int(np.argmax(flat >= top - room))


def least(values: Array) -> int:
    """The first (flat) place among those where the values are least, likewise."""
    return greatest(-values)


_PLAIN = frozenset(("int", "float", "str", "bool", "None", "tuple", "Callable", "Limb", "Drive"))


def kept(value: T) -> T:
    """The value itself with every array in it read-only: in lists, tuples, dictionaries and dataclasses too."""
    if isinstance(value, np.ndarray):
        value.setflags(write=False)
    else:
        _lock(value)
    return value


def _lock(value: Any) -> None:
    if isinstance(value, np.ndarray):
        value.setflags(write=False)
    elif isinstance(value, dict):
        for part in value.values():
            _lock(part)
    elif value is None or isinstance(value, (float, str, int)):
        return
    elif isinstance(value, (list, tuple)):
        # What is listed is of one kind, mostly; where that kind holds no arrays, none of the rest does.
        if len(value) > 1 and all(type(part) is type(value[0]) for part in value) and not _holders(type(value[0])):
            return
        for part in value:
            _lock(part)
    else:
        for name in _holders(type(value)):
            _lock(getattr(value, name))


def _holders(kind: type) -> tuple[str, ...]:
    """The fields of a dataclass that may hold arrays, by what they are annotated with; something for whatever lists."""
    found = _known.get(kind)
    if found is None:
        if kind in (np.ndarray, dict, list, tuple):
            found = ("",)
        elif is_dataclass(kind):
            found = tuple(f.name for f in fields(kind) if not set(re.findall(r"\w+", str(f.type))) <= _PLAIN)
        else:
            found = ()
        _known[kind] = found
    return found


_known: dict[type, tuple[str, ...]] = {}


def cross(a: Array, b: Array) -> Array:
    """a × b along the last axis, of any shapes that go together: without the checks that small arrays pay most for."""
    ax, ay, az = a[..., 0], a[..., 1], a[..., 2]
    bx, by, bz = b[..., 0], b[..., 1], b[..., 2]
    x = ay * bz - az * by
    found = np.empty((*x.shape, 3))
    found[..., 0], found[..., 1], found[..., 2] = x, az * bx - ax * bz, ax * by - ay * bx
    return found


def turned(m: Array, v: Array) -> Array:
    """m·v, matrices (…, 3, 3) and vectors (…, 3) of any shapes that go together: a stack of small products costs less
    than a library's call for each."""
    x, y, z = v[..., 0], v[..., 1], v[..., 2]
    first = m[..., 0, 0] * x + m[..., 0, 1] * y + m[..., 0, 2] * z
    found = np.empty((*first.shape, 3))
    found[..., 0] = first
    for k in (1, 2):
        found[..., k] = m[..., k, 0] * x + m[..., k, 1] * y + m[..., k, 2] * z
    return found


def skew(v: Array) -> Array:
    """(…, 3, 3) with [v]·w = v × w."""
    found = np.zeros((*v.shape[:-1], 3, 3))
    x, y, z = v[..., 0], v[..., 1], v[..., 2]
    found[..., 0, 1], found[..., 0, 2], found[..., 1, 2] = -z, y, -x
    found[..., 1, 0], found[..., 2, 0], found[..., 2, 1] = z, -y, x
    return found
