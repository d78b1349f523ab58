"""The parts library's addresses."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from flask import Response
from pydantic import BaseModel, Field

from bustle.core.project.field_types import Name
from bustle.core.project.parts import ServoType
from bustle.store import Missing
from bustle.store.parts import KeptType, Parts, Taken
from bustle.web.answer import answer
from bustle.web.blueprint import blueprint
from bustle.web.problem import problem
from bustle.web.said.shapes import Body, ProblemDetail
from bustle.web.store_of import store

api = blueprint("library")


class KeptSheet(BaseModel):
    """A servo type of the library; hash: of what it says."""

    sheet: ServoType
    hash: str
    kept_at: datetime


class Library(BaseModel):
    servo_types: list[KeptSheet]


class KeepSheet(Body):
    """A servo type for the library; instead_of: the hash of the one of its name that it replaces."""

    sheet: ServoType
    instead_of: Annotated[str, Field(pattern="^[0-9a-f]{64}$")] | None = None


class SheetTaken(ProblemDetail):
    """Another sheet is kept under that name."""

    kept: KeptSheet


class PartPath(BaseModel):
    name: Name


def _shown(kept: KeptType) -> KeptSheet:
    return KeptSheet(sheet=kept.sheet, hash=kept.hash, kept_at=kept.kept_at)


def _parts() -> Parts:
    return Parts(store().engine)


@api.get("/library/servo-types", responses={200: Library})
def kept_types() -> Response:
    """The servo types of the library, by name."""
    return answer(Library(servo_types=[_shown(kept) for kept in _parts().servo_types()]))


@api.post("/library/servo-types", responses={200: KeptSheet, 409: SheetTaken, 422: ProblemDetail})
def keep_type(body: KeepSheet) -> Response:
    """Keep a servo type in the library. What is kept under its name is replaced only where its hash is sent along."""
    try:
        return answer(_shown(_parts().keep(body.sheet, body.instead_of)))
    except Taken as taken:
        kept = _shown(taken.kept).model_dump(mode="json")
        return problem(409, f"{taken}. Replace it, or give yours another name.", kept=kept)


@api.delete("/library/servo-types/<string:name>", responses={204: None, 404: ProblemDetail, 422: ProblemDetail})
def take_out_type(path: PartPath) -> Response:
    """Take a servo type out of the library; projects that use it keep their copy."""
    if not _parts().take_out(path.name):
        raise Missing(f"{path.name} is not in the library.")
    return Response(status=204)
