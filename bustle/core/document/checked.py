"""A project whose parts are known to fit together.

`Project` is sound field by field; `CheckedProject` as a whole. The front door and whatever searches take only the
second, so that nothing inside asks again.
"""

from __future__ import annotations

from itertools import islice
from typing import Any

from pydantic import ValidationError, model_validator
from pydantic_core import PydanticCustomError

from bustle.core.document.walker_fits_together import inconsistencies
from bustle.core.project.project import FORMAT, VERSION, Project
from bustle.core.words.problems import MOST_PROBLEMS, InputRefused, problems_of, refuse


class CheckedProject(Project):
    """A walker, its motions and the parts they use: one file, one revision."""

    @model_validator(mode="after")
    def _fits_together(self) -> CheckedProject:
        problems = list(islice(inconsistencies(self), MOST_PROBLEMS))
        if problems:
            raise PydanticCustomError("inconsistent", "the parts do not fit", {"problems": problems})
        return self


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
