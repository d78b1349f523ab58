"""What was worked out of frozen values, kept for as long as the very same values come back."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterable
from operator import call, is_
from threading import Lock
from typing import Generic, TypeVar
from weakref import ref

from bustle.core.project.field_types import Value

T = TypeVar("T")


class KeptByIdentity(Generic[T]):
    """By which objects they are, not by what they say: no look at their content. The last `most`; safe among threads.

    The objects are not held: what nobody else keeps is gone, and what was kept of it is never found again.
    """

    def __init__(self, most: int) -> None:
        self._most, self._lock = most, Lock()
        self._kept: OrderedDict[tuple[int, ...], tuple[list[ref[Value]], T]] = OrderedDict()

    def of(self, values: Iterable[Value], work: Callable[[], T]) -> T:
        """What work() came to for these values, or comes to."""
        values = tuple(values)
        key = tuple(map(id, values))
        with self._lock:
            refs, known = self._kept.get(key, (None, None))
            # Another may have got the place in memory of one that is gone.
            if refs is not None and all(map(is_, map(call, refs), values)):
                self._kept.move_to_end(key)
                return known  # type: ignore[return-value]
        found = work()
        with self._lock:
            self._kept[key] = ([ref(value) for value in values], found)
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return found
