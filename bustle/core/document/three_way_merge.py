"""Putting the changes of one version of a project onto another."""

from __future__ import annotations

from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.document.differences import ABSENT, key_of
from bustle.core.project.project import document


def reapply(base: CheckedProject, mine: CheckedProject, theirs: CheckedProject) -> CheckedProject:
    """Their version with my changes since `base` made again on top; where both changed a field, mine stays.

    Raises InputRefused where the result is no valid project.
    """
    return parse_project(_merge(document(base), document(mine), document(theirs)))


def _named(value: Any) -> dict[str, Any] | None:
    if isinstance(value, list):
        names = [key_of(v) for v in value]
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
        parts = [v.get(key, ABSENT) for v in (base, mine, theirs)]
        value = _merge(*parts)
        if value is not ABSENT:
            merged[key] = value
    return merged
