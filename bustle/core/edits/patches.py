"""Edits as JSON Patch (RFC 6902), and a project after one.

Searches try hundreds of edits that each replace a number or two. Such an edit is done on the values themselves: what
holds the number is validated anew, everything above it is copied, and of what single fields cannot see only what the
edit can have touched is checked. Any other edit, and any that is refused, goes through the document as a whole.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

import jsonpatch
from pydantic import BaseModel, ValidationError

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.document.motions_fit_the_walker import problems_of_motion
from bustle.core.document.walker_fits_together import inconsistencies
from bustle.core.project.motion import Motion, PhaseGait
from bustle.core.project.project import Project, document

Patch = list[dict[str, Any]]


class _NotHere(Exception):
    """An edit that is not for the quick way."""


def replace(path: str, value: Any) -> dict[str, Any]:
    return {"op": "replace", "path": path, "value": value}


def patched(project: CheckedProject, patch: Sequence[dict[str, Any]]) -> CheckedProject:
    """The project after the edit. Raises InputRefused where the result is no valid project."""
    try:
        return _on_the_values(project, patch)
    except (_NotHere, ValidationError):
        return parse_project(jsonpatch.apply_patch(document(project), list(patch)))


def only_motions(project: CheckedProject, *motions: Motion) -> CheckedProject:
    """The project without its other motions and what names them. Raises InputRefused where these do not fit it."""
    alone = project.model_copy(
        update={
            "motions": motions,
            "start_up": project.start_up.model_copy(update={"pose": None, "fail_safe": None}),
            "controls": (),
            "walked": (),
        }
    )
    if any(next(problems_of_motion(alone, n), None) for n in range(len(motions))):
        return parse_project(document(alone))
    return alone


def _on_the_values(project: CheckedProject, patch: Sequence[dict[str, Any]]) -> CheckedProject:
    after, touched = project, set[int | None]()
    for operation in patch:
        way = [int(part) if part.isdigit() else part for part in operation["path"].split("/")[1:]]
        if operation["op"] == "test":
            if _at(after, way) != operation["value"]:
                raise _NotHere
        elif operation["op"] == "replace" and len(way) > 1:
            after = _replaced(after, way, operation["value"])
            touched.add(way[1] if way[0] == "motions" and isinstance(way[1], int) and len(way) > 2 else None)
        else:
            raise _NotHere
    if next(_problems(after, touched), None):
        raise _NotHere
    return after


def _at(value: Any, way: Sequence[int | str]) -> Any:
    for part in way:
        try:
            value = value[part] if isinstance(part, int) else getattr(value, part)
        except (AttributeError, IndexError, TypeError) as nothing:
            raise _NotHere from nothing
    return value


def _replaced(holder: Any, way: Sequence[int | str], value: Any) -> Any:
    """The holder with a value put in, the model that holds it validated anew."""
    part, *rest = way
    if isinstance(holder, BaseModel) and isinstance(part, str):
        if part not in type(holder).model_fields:
            raise _NotHere
        inner = getattr(holder, part)
        # Down to the last model on the way: what it holds is validated by its own fields.
        if rest and _models_ahead(inner, rest):
            return holder.model_copy(update={part: _replaced(inner, rest, value)})
        fields = {name: getattr(holder, name) for name in type(holder).model_fields}
        fields[part] = _put(inner, rest, value) if rest else value
        return type(holder).model_validate(fields)
    if isinstance(holder, tuple) and isinstance(part, int) and part < len(holder) and rest:
        return (*holder[:part], _replaced(holder[part], rest, value), *holder[part + 1 :])
    raise _NotHere


def _models_ahead(value: Any, way: Sequence[int | str]) -> bool:
    """Whether another model lies on the way from here, before its last part."""
    if isinstance(value, BaseModel):
        return True
    part, *rest = way
    return (
        bool(rest)
        and isinstance(value, tuple)
        and isinstance(part, int)
        and part < len(value)
        and _models_ahead(value[part], rest)
    )


def _put(value: Any, way: Sequence[int | str], new: Any) -> Any:
    """A list or group of plain values with one of them replaced."""
    part, *rest = way
    if isinstance(value, tuple) and isinstance(part, int) and part < len(value):
        return (*value[:part], _put(value[part], rest, new) if rest else new, *value[part + 1 :])
    if isinstance(value, dict) and part in value:
        return {**value, part: _put(value[part], rest, new) if rest else new}
    raise _NotHere


def _problems(project: Project, touched: set[int | None]) -> Iterator[tuple[str, str]]:
    """What does not fit after an edit of these motions; None among them: of anything else."""
    if None in touched:
        yield from inconsistencies(project)
        return
    for n, motion in enumerate(project.motions):
        # What is made of others has to fit them.
        if n in touched or not isinstance(motion, PhaseGait):
            yield from problems_of_motion(project, n)
