"""Putting the changes of one version of a project onto another."""

from __future__ import annotations

from typing import Any

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.document.differences import ABSENT, by_name, by_number
from bustle.core.project.project import document


def reapply(base: CheckedProject, mine: CheckedProject, theirs: CheckedProject) -> CheckedProject:
    """Their version with my changes since `base` made again on top; where both changed a field, mine stays.

    Raises InputRefused where the result is no valid project.
    """
    return parse_project(_merge(document(base), document(mine), document(theirs)))


def _aligned(*versions: Any) -> list[dict[str, Any]] | None:
    """Lists as groups of entries that belong together: by name, or by number where none came or went."""
    for entries in (by_name, by_number):
        found = [group for group in map(entries, versions) if group is not None]
        if len(found) == len(versions) and (entries is by_name or len({len(group) for group in found}) == 1):
            return found
    return None


def _merge(base: Any, mine: Any, theirs: Any) -> Any:
    if mine in (base, theirs):
        return theirs
    if theirs == base:
        return mine
    if all(isinstance(v, dict) for v in (base, mine, theirs)):
        return _merge_groups(base, mine, theirs)
    lists = _aligned(base, mine, theirs)
    return list(_merge_groups(*lists).values()) if lists else mine


def _merge_groups(base: Any, mine: Any, theirs: Any) -> dict[str, Any]:
    merged = {}
    for key in dict.fromkeys([*theirs, *mine]):
        parts = [v.get(key, ABSENT) for v in (base, mine, theirs)]
        value = _merge(*parts)
        if value is not ABSENT:
            merged[key] = value
    return merged
