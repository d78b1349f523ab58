"""What is too long for every run: `./test long` does all of it, `./test` a seeded part.

A test that goes over many things is marked with `is_long`, and takes what it tries from `share` or counts it with
`times`: a twentieth, or as many as it says at least. Of whole tests marked with `in_turns` each run does a twentieth.
"""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from typing import TypeVar

import numpy as np

ALL = os.environ.get("BUSTLE_LONG") == "1"
TWENTIETH = 20

T = TypeVar("T")


def is_long(test: Callable[..., None]) -> Callable[..., None]:
    """Marks a test for `./test long`."""
    test.long = True  # type: ignore[attr-defined]
    return test


def in_turns(test: Callable[..., None]) -> Callable[..., None]:
    """Marks a whole test for `./test long`, of which every run does its share."""
    test.in_turns = True  # type: ignore[attr-defined]
    return test


def share(random: np.random.Generator, items: Sequence[T], least: int = 1) -> list[T]:
    """All of the items, or a seeded twentieth of them in their order."""
    if ALL:
        return list(items)
    count = max(least, -(-len(items) // TWENTIETH))
    return [items[n] for n in sorted(random.choice(len(items), min(count, len(items)), replace=False))]


def times(count: int) -> int:
    """So many, or a twentieth."""
    return count if ALL else max(1, count // TWENTIETH)
