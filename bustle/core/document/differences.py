"""Two versions of a project: which fields differ.

Lists of named things are compared by name, so that a leg that moved in the list is not a changed leg; things without
names of their own by their number.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from bustle.core.document.checked import CheckedProject
from bustle.core.project.project import document

KEYS = ("name", "limb", "joints", "place", "section")
ABSENT = object()


@dataclass(frozen=True)
class Difference:
    """`path` as a builder would say it: "motions Forward lift_mm". None where the field is not there."""

    path: str
    before: Any
    after: Any


def key_of(value: Any) -> str | None:
    """The name a list entry goes by; a limb's joint by both."""
    if isinstance(value, dict):
        for key in KEYS:
            if key in value:
                name = ", ".join(value[key]) if isinstance(value[key], list) else str(value[key])
                return f"{name} {value['joint']}" if "joint" in value else name
    return None


def by_name(value: Any) -> dict[str, Any] | None:
    """A list's entries by the names that tell them apart; None where they do not."""
    names = [key_of(v) for v in value] if isinstance(value, list) else [None]
    if None in names or len(set(names)) < len(names):
        return None
    return dict(zip(map(str, names), value, strict=True))


def by_number(value: Any) -> dict[str, Any] | None:
    """The entries of a list of things, counted from 1; None of any other list, as three numbers that are one place."""
    if not isinstance(value, list) or not all(isinstance(v, dict) for v in value):
        return None
    return {str(n): v for n, v in enumerate(value, 1)}


def _keyed(value: Any) -> Any:
    """Lists of things become groups, all the way down."""
    if isinstance(value, list) and value:
        named = by_name(value)
        value = named or by_number(value) or value
    return {k: _keyed(v) for k, v in value.items()} if isinstance(value, dict) else value


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
