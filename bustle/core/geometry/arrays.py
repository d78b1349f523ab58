"""What arrays are called in annotations, and arrays that nobody may change."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import fields, is_dataclass
from operator import attrgetter, methodcaller
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]
Indices = NDArray[np.intp]

T = TypeVar("T")

_PLAIN = frozenset(("int", "float", "str", "bool", "None", "tuple", "Callable", "Limb", "Drive"))


def kept(value: T) -> T:
    """The value itself with every array in it read-only: in lists, tuples, dictionaries and dataclasses too."""
    kind = type(value)
    if kind not in _without:
        (_locks[kind] if kind in _locks else _learnt(kind))(value)
    return value


def _lock_each(values: Iterable[Any]) -> None:
    for part in values:
        kept(part)


def _lock_listed(values: Sequence[Any]) -> None:
    if not _without.issuperset(map(type, values)):
        _lock_each(values)


def _lock_values(values: Mapping[Any, Any]) -> None:
    _lock_each(values.values())


def _nothing(value: Any) -> None:
    """Of what holds no arrays."""


def _learnt(kind: type) -> Callable[[Any], object]:
    """How arrays in a dataclass are locked: in its fields that may hold some, by what they are annotated with."""
    names = (
        [f.name for f in fields(kind) if not set(re.findall(r"\w+", str(f.type))) <= _PLAIN]
        if is_dataclass(kind)
        else []
    )
    if not names:
        _without.add(kind)
        return _nothing
    parts = attrgetter(*names)
    _locks[kind] = (lambda value: kept(parts(value))) if len(names) == 1 else (lambda value: _lock_each(parts(value)))
    return _locks[kind]


# By kind; and the kinds that hold no arrays.
_locks: dict[type, Callable[[Any], object]] = {
    np.ndarray: methodcaller("setflags", write=False),
    dict: _lock_values,
    list: _lock_listed,
    tuple: _lock_listed,
}
_without: set[type] = {float, int, str, bool, type(None)}


def cross(a: Array, b: Array) -> Array:
    """a × b along the last axis, of any shapes that go together: without the checks that small arrays pay most for."""
    ax, ay, az = a[..., 0], a[..., 1], a[..., 2]
    bx, by, bz = b[..., 0], b[..., 1], b[..., 2]
    x = ay * bz - az * by
    found = np.empty((*x.shape, 3))
    found[..., 0], found[..., 1], found[..., 2] = x, az * bx - ax * bz, ax * by - ay * bx
    return found


def skew(v: Array) -> Array:
    """(…, 3, 3) with [v]·w = v × w."""
    found = np.zeros((*v.shape[:-1], 3, 3))
    x, y, z = v[..., 0], v[..., 1], v[..., 2]
    found[..., 0, 1], found[..., 0, 2], found[..., 1, 2] = -z, y, -x
    found[..., 1, 0], found[..., 2, 0], found[..., 2, 1] = z, -y, x
    return found
