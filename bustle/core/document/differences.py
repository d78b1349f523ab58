"""Two versions of a project: which fields differ.

Lists of named things are compared by name, so that a leg that moved in the list is not a changed leg.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from bustle.core.document.checked import CheckedProject
from bustle.core.project.project import document

KEYS = ("name", "limb", "joints")
ABSENT = object()


@dataclass(frozen=True)
class Difference:
    """`path` as a builder would say it: "motions Forward lift_mm". None where the field is not there."""

    path: str
    before: Any
    after: Any


def key_of(value: Any) -> str | None:
    """The name a list entry goes by."""
    if isinstance(value, dict):
        for key in KEYS:
            if key in value:
                return ", ".join(value[key]) if isinstance(value[key], list) else str(value[key])
    return None


def _keyed(value: Any) -> Any:
    """Lists of named things become groups by name, all the way down."""
    if isinstance(value, dict):
        return {k: _keyed(v) for k, v in value.items()}
    if isinstance(value, list) and value and all(key_of(v) is not None for v in value):
        names = [key_of(v) for v in value]
        if len(set(names)) == len(names):
            return {name: _keyed(v) for name, v in zip(names, value, strict=True)}
    return value


def differences(before: CheckedProject, after: CheckedProject) -> list[Difference]:
    """Every field that differs, in the order of the file."""
    return list(_walk("", _keyed(document(before)), _keyed(document(after))))


def _walk(path: str, a: Any, b: Any) -> Iterator[Difference]:
    if a == b:
        return
    if isinstance(a, dict) and isinstance(b, dict):
        for key in dict.fromkeys([*a, *b]):
            yield from _walk(f"{path} {key}".strip(), a.get(key, ABSENT), b.get(key, ABSENT))
        return
    yield Difference(path, *(None if v is ABSENT else _brief(v) for v in (a, b)))


def _brief(value: Any) -> Any:
    if isinstance(value, dict):
        return str(value.get("name") or value.get("limb") or "…")
    return value
