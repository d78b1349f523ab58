"""Whether boards and supplies are told at all; and edits that put the electrics as another project has them."""

from __future__ import annotations

from typing import cast

from bustle.core.document.checked import CheckedProject
from bustle.core.edits.patches import replace
from bustle.core.judge.ways import Edit, Mending
from bustle.core.project.project import Project, document
from bustle.core.walk.reading import Reading


def boards_told(r: Reading) -> str | None:
    return None if r.project.electrics.boards else "no board is declared"


def banks_told(r: Reading) -> str | None:
    return None if r.project.electrics.banks else "no supply is declared"


def checked(m: Mending) -> CheckedProject:
    """The project that is mended; whatever asks for ways has a checked one."""
    return cast(CheckedProject, m.project)


def as_in(title: str, after: Project) -> Edit:
    """The electrics as another project has them."""
    return Edit(title, (replace("/electrics", document(after)["electrics"]),))
