"""Two versions of a project: which fields differ, and putting one's changes onto the other.

Lists of named things are compared by name, so that a leg that moved in the list is not a changed leg.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from bustle.core.document.file import parse_project
from bustle.core.project.project import Project, document

KEYS = ("name", "limb", "joints")
_ABSENT = object()


@dataclass(frozen=True)
class Difference:
    """`path` as a builder would say it: "motions Forward lift_mm". None where the field is not there."""

    path: str
    before: Any
    after: Any


def _key(value: Any) -> str | None:
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
    if isinstance(value, list) and value and all(_key(v) is not None for v in value):
        names = [_key(v) for v in value]
        if len(set(names)) == len(names):
            return {name: _keyed(v) for name, v in zip(names, value, strict=True)}
    return value


def differences(before: Project, after: Project) -> list[Difference]:
    """Every field that differs, in the order of the file."""
    return list(_walk("", _keyed(document(before)), _keyed(document(after))))


def _walk(path: str, a: Any, b: Any) -> Iterator[Difference]:
    if a == b:
        return
    if isinstance(a, dict) and isinstance(b, dict):
        for key in dict.fromkeys([*a, *b]):
            yield from _walk(f"{path} {key}".strip(), a.get(key, _ABSENT), b.get(key, _ABSENT))
        return
    yield Difference(path, *(None if v is _ABSENT else _brief(v) for v in (a, b)))


def _brief(value: Any) -> Any:
    if isinstance(value, dict):
        return str(value.get("name") or value.get("limb") or "…")
    return value


def reapply(base: Project, mine: Project, theirs: Project) -> Project:
    """Their version with my changes since `base` made again on top; where both changed a field, mine stays.

    Raises InputRefused where the result is no valid project.
    """
    return parse_project(_merge(document(base), document(mine), document(theirs)))


def _named(value: Any) -> dict[str, Any] | None:
    if isinstance(value, list):
        names = [_key(v) for v in value]
        if all(n is not None for n in names) and len(set(names)) == len(names):
            return {str(n): v for n, v in zip(names, value, strict=True)}
    return None


def _merge(base: Any, mine: Any, theirs: Any) -> Any:
    if mine in (base, theirs):
        return theirs
    if theirs == base:
        return mine
    if all(isinstance(v, dict) for v in (base, mine, theirs)):
        return _merge_groups(base, mine, theirs)
    lists = [_named(v) for v in (base, mine, theirs)]
    if all(v is not None for v in lists):
        return list(_merge_groups(*lists).values())
    return mine


def _merge_groups(base: Any, mine: Any, theirs: Any) -> dict[str, Any]:
    merged = {}
    for key in dict.fromkeys([*theirs, *mine]):
        parts = [v.get(key, _ABSENT) for v in (base, mine, theirs)]
        value = _merge(*parts)
        if value is not _ABSENT:
            merged[key] = value
    return merged
