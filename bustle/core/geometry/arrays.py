"""What arrays are called in annotations, and arrays that nobody may change."""

from __future__ import annotations

from dataclasses import fields, is_dataclass
from typing import Any, TypeVar

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Flags = NDArray[np.bool_]
Places = NDArray[np.intp]

T = TypeVar("T")


def kept(value: T) -> T:
    """The value itself with every array in it read-only: in lists, tuples, dictionaries and dataclasses too."""
    _lock(value)
    return value


def _lock(value: Any) -> None:
    if isinstance(value, np.ndarray):
        value.setflags(write=False)
    elif isinstance(value, dict):
        for part in value.values():
            _lock(part)
    elif isinstance(value, (list, tuple)):
        for part in value:
            _lock(part)
    elif is_dataclass(value) and not isinstance(value, type):
        for field in fields(value):
            _lock(getattr(value, field.name))
