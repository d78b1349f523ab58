"""The parts library: servo types kept beside the walkers, each copied into the projects that use it."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass
from datetime import datetime
from typing import Any

import orjson
from pydantic import ValidationError
from sqlalchemy import Engine, func, select, text
from sqlalchemy.orm import Session

from bustle.core.project.parts import ServoType
from bustle.core.words.problems import refuse
from bustle.store.models import Part

# So many parts, and no more.
MOST = 400

SERVO_TYPE = "servo_type"


@dataclass(frozen=True)
class KeptType:
    """A servo type of the library; hash: of what it says."""

    sheet: ServoType
    hash: str
    kept_at: datetime


class Taken(Exception):
    """Another sheet is kept under that name; `kept` is it."""

    def __init__(self, kept: KeptType):
        super().__init__(f"{kept.sheet.name} is in the library already, with other numbers")
        self.kept = kept


def sheet_hash(sheet: ServoType) -> str:
    """SHA-256 of what a sheet says: its fields in order, those at their default left out."""
    said = sheet.model_dump(mode="json", exclude_defaults=True)
    return hashlib.sha256(orjson.dumps(said, option=orjson.OPT_SORT_KEYS)).hexdigest()


class Parts:
    """The library on one engine."""

    def __init__(self, engine: Engine):
        self.engine = engine

    def servo_types(self) -> list[KeptType]:
        """By name. A sheet that this version does not understand is left where it is, and out of the list."""
        query = select(Part).where(Part.kind == SERVO_TYPE).order_by(Part.name)
        with Session(self.engine) as session:
            found = [_kept(row) for row in session.execute(query).scalars()]
        return [kept for kept in found if kept is not None]

    def keep(self, sheet: ServoType, instead_of: str | None = None) -> KeptType:
        """Put a servo type into the library; instead_of: the hash of the one of its name that it replaces.

        Raises Taken where that is not the one that is there, InputRefused where the library is full.
        """
        with Session(self.engine) as session, session.begin():
            # One at a time, so that a count and a name looked up still hold when the row is written.
            session.execute(text("LOCK TABLE parts IN SHARE ROW EXCLUSIVE MODE"))
            row = session.execute(select(Part).where(Part.kind == SERVO_TYPE, Part.name == sheet.name)).scalar()
            said = sheet_hash(sheet)
            if row is None:
                if (session.execute(select(func.count()).select_from(Part)).scalar() or 0) >= MOST:
                    raise refuse("sheet", f"the library holds {MOST} parts; take one out first")
                row = Part(kind=SERVO_TYPE, name=sheet.name, document=_document(sheet), hash=said)
                session.add(row)
            elif row.hash != said:
                kept = _kept(row)
                if row.hash != instead_of and kept is not None:
                    raise Taken(kept)
                row.document, row.hash, row.kept_at = _document(sheet), said, func.now()
            session.flush()
            session.refresh(row)
            return KeptType(sheet, said, row.kept_at)

    def take_out(self, name: str) -> bool:
        """Whether there was one of that name. Projects that copied it keep their copy."""
        with Session(self.engine) as session, session.begin():
            row = session.execute(select(Part).where(Part.kind == SERVO_TYPE, Part.name == name)).scalar()
            if row is None:
                return False
            session.delete(row)
            return True


def _document(sheet: ServoType) -> dict[str, Any]:
    found: dict[str, Any] = sheet.model_dump(mode="json")
    return found


def _kept(row: Part) -> KeptType | None:
    try:
        return KeptType(ServoType.model_validate(row.document), row.hash, row.kept_at)
    except ValidationError:
        return None
