"""A project whose parts are known to fit together.

`Project` is sound field by field; `CheckedProject` as a whole. The front door and whatever searches take only the
second, so that nothing inside asks again.

A draft comes in whole with every move of a handle, with one number in it changed: parts that were read a moment ago are
not read again, and are the same objects as then.
"""

from __future__ import annotations

import marshal
from functools import lru_cache
from itertools import islice
from typing import Any

from pydantic import ModelWrapValidatorHandler, TypeAdapter, ValidationError, model_validator
from pydantic_core import PydanticCustomError

from bustle.core.document.walker_fits_together import inconsistencies
from bustle.core.project.motion import Motion
from bustle.core.project.project import FORMAT, MOST_MOTIONS, VERSION, Project
from bustle.core.words.problems import MOST_PROBLEMS, InputRefused, problems_of, refuse


class CheckedProject(Project):
    """A walker, its motions and the parts they use: one file, one revision."""

    @model_validator(mode="wrap")
    @classmethod
    def _part_by_part(cls, values: Any, whole: ModelWrapValidatorHandler[CheckedProject]) -> CheckedProject:
        known = _by_parts(values) if isinstance(values, dict) else None
        return whole(values) if known is None else known

    @model_validator(mode="after")
    def _fits_together(self) -> CheckedProject:
        problems = list(islice(inconsistencies(self), MOST_PROBLEMS))
        if problems:
            raise PydanticCustomError("inconsistent", "the parts do not fit", {"problems": problems})
        return self


# Parts kept, and the most bytes of one that is.
PARTS, LARGEST = 128, 65_536

_READERS: dict[str, TypeAdapter[Any]] = {
    name: TypeAdapter(field.rebuild_annotation()) for name, field in Project.model_fields.items()
}
_MOTION: TypeAdapter[Motion] = TypeAdapter(Motion)


def parse_project(values: Any) -> CheckedProject:
    """Plain JSON values → project. Raises InputRefused naming every field at fault."""
    if not isinstance(values, dict):
        raise refuse("", "A project is a group of fields in braces.")
    if values.get("format") != FORMAT:
        raise refuse("format", f'must be "{FORMAT}"; this is no Bustle project file')
    version = values.get("version")
    if type(version) is not int or not 1 <= version <= VERSION:
        raise refuse("version", f"this Bustle reads versions 1 to {VERSION}, and the file says {str(version)[:20]}")
    try:
        return CheckedProject.model_validate(values)
    except ValidationError as error:
        raise InputRefused(problems_of(error)) from error


def _by_parts(values: dict[str, Any]) -> CheckedProject | None:
    """Read part by part, whether they fit or not; None where one is amiss, which only the whole can tell of in full."""
    if values.keys() != _READERS.keys() or values["version"] != VERSION:
        return None
    motions = values["motions"]
    if not isinstance(motions, list) or len(motions) > MOST_MOTIONS:
        return None
    try:
        parts = {name: _known(name, value) for name, value in values.items() if name != "motions"}
        parts["motions"] = tuple(_known("motion", motion) for motion in motions)
    except ValueError:
        return None
    return CheckedProject.model_construct(set(values), **parts)


def _known(name: str, value: Any) -> Any:
    """Raises ValueError where the part is not sound, or nests too deep to be one."""
    packed = marshal.dumps(value)
    return _read(name, packed) if len(packed) <= LARGEST else _read.__wrapped__(name, packed)


@lru_cache(PARTS)
def _read(name: str, packed: bytes) -> Any:
    reader = _MOTION if name == "motion" else _READERS[name]
    return reader.validate_python(marshal.loads(packed))
