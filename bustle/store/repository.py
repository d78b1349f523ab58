"""The one door to the database. Every write is one transaction, and is on disk when the call returns."""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import ColumnElement, Engine, create_engine, func, literal_column, or_, select, text
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from bustle.core.document.checked import CheckedProject, parse_project
from bustle.core.document.file import bytes_hash, project_hash
from bustle.core.project.project import document
from bustle.core.words.problems import InputRefused
from bustle.store.card import card_of, card_of_raw
from bustle.store.models import Export, Loaded, Revision, Walker

CONNECT_S, STATEMENT_S = 4, 30

# How many cards are kept at a time.
MOST_READ = 4096


class Unreadable(ValueError):
    """A stored document that this version does not understand; the message is a sentence."""


class Missing(LookupError):
    """What was asked for is not there; the message is a sentence."""


class Conflict(Exception):
    """A save on a revision that is no longer the newest; `saved` is the newest, `base` the one edited."""

    def __init__(self, base: Saved, saved: Saved):
        super().__init__(f"revision {base.number} was edited, and {saved.number} has been saved since")
        self.base, self.saved = base, saved


@dataclass(frozen=True)
class Line:
    """A revision without its document, for lists."""

    number: int
    parent: int | None
    hash: str
    name: str | None
    note: str
    created_at: datetime


@dataclass(frozen=True)
class Saved(Line):
    """A revision as it is read back."""

    walker_id: int
    project: CheckedProject


@dataclass(frozen=True)
class Exported:
    id: int
    revision: int
    motion: str
    format: str
    file_name: str
    sha256: str
    size_bytes: int
    created_at: datetime


@dataclass(frozen=True)
class Shelved:
    """A walker on the shelf with its newest revision: its number, and its card (see `store.card`).

    unreadable: why this version does not understand it, None where it does.
    """

    id: int
    archived: bool
    number: int
    created_at: datetime
    card: dict[str, Any]
    unreadable: str | None


def _parsed(document: Any, walker_id: int, number: int) -> CheckedProject:
    try:
        return parse_project(document)
    except InputRefused as refused:
        raise Unreadable(
            f"Revision {number} of walker {walker_id} cannot be read by this version of Bustle: {refused.problems[0]}."
            " Nothing of it is lost; save it as a file to take it away as it is."
        ) from refused


def _saved(row: Revision) -> Saved:
    return Saved(
        row.number,
        row.parent,
        row.hash,
        row.name,
        row.note,
        row.created_at,
        row.walker_id,
        _parsed(row.document, row.walker_id, row.number),
    )


def _says(row: Revision, project: CheckedProject) -> bool:
    """Whether a revision says what the project does, by the hash it has."""
    return row.digest == project_hash(project) if row.digest else row.hash == bytes_hash(project)


class Store:
    """Walkers, revisions and exports on one engine."""

    def __init__(self, url: str):
        # A server that takes a connection and says nothing, or a statement that never ends, holds nobody up for ever.
        limits = {"connect_timeout": CONNECT_S, "options": f"-c statement_timeout={STATEMENT_S * 1000}"}
        self.engine: Engine = create_engine(url, pool_pre_ping=True, pool_size=8, connect_args=limits)
        self._read: dict[tuple[int, str], tuple[dict[str, Any], str | None]] = {}

    def close(self) -> None:
        self.engine.dispose()

    def alive(self) -> bool:
        """Whether the database answers."""
        with self.engine.connect() as connection:
            return connection.execute(text("select 1")).scalar() == 1

    def shelf(self, archived: bool = False) -> list[Shelved]:
        """The walkers, the one saved last first."""
        kept = Walker.archived_at.is_not(None) if archived else Walker.archived_at.is_(None)
        r = Revision
        # A row's own transaction number tells whether it is still the one that was looked at before.
        written: ColumnElement[str] = literal_column("revisions.xmin::text")
        query = (
            select(Walker.id, r.id, written, r.number, r.created_at, r.card)
            .join(Revision, (Revision.walker_id == Walker.id) & (Revision.number == Walker.head))
            .where(kept)
            .order_by(Revision.created_at.desc(), Walker.id.desc())
        )
        with Session(self.engine) as session:
            return [
                Shelved(walker, archived, number, at, *self._card(session, walker, (row, seen), card))
                for walker, row, seen, number, at, card in session.execute(query).all()
            ]

    def _card(
        self, session: Session, walker_id: int, key: tuple[int, str], card: dict[str, Any] | None
    ) -> tuple[dict[str, Any], str | None]:
        """A revision's card, and why it cannot be read, if so: looked into once for as long as the row stays."""
        if key not in self._read:
            document = session.execute(select(Revision.document).where(Revision.id == key[0])).scalar_one()
            try:
                found: tuple[dict[str, Any], str | None] = (card_of(parse_project(document)), None)
            except InputRefused as refused:
                found = (card or card_of_raw(document), str(refused.problems[0]))
            while len(self._read) >= MOST_READ:
                self._read.pop(next(iter(self._read)), None)
            self._read[key] = found
        return self._read[key]

    def raw(self, walker_id: int) -> tuple[str, dict[str, Any]]:
        """The newest document as it is stored, understood or not, and its name. Raises Missing."""
        with Session(self.engine) as session:
            walker = self._walker(session, walker_id)
            row = self._revision(session, walker, walker.head)
            return (row.card or card_of_raw(row.document))["name"], row.document

    def create(self, project: CheckedProject, note: str = "") -> Saved:
        """A new walker with its first revision."""
        with Session(self.engine) as session, session.begin():
            walker = Walker(head=1)
            session.add(walker)
            session.flush()
            return self._write(session, walker, None, project, note)

    def get(self, walker_id: int, number: int | None = None) -> Saved:
        """A revision, by default the newest. Raises Missing."""
        with Session(self.engine) as session:
            walker = self._walker(session, walker_id)
            return _saved(self._revision(session, walker, number or walker.head))

    def is_archived(self, walker_id: int) -> bool:
        with Session(self.engine) as session:
            return self._walker(session, walker_id).archived_at is not None

    def save(self, walker_id: int, parent: int, project: CheckedProject, note: str = "") -> Saved:
        """A new revision on top of `parent`. Raises Conflict if that is not the newest, Missing if not there.

        Saving what is saved already adds nothing and answers the newest revision.
        """
        with Session(self.engine) as session, session.begin():
            walker = self._walker(session, walker_id, lock=True)
            newest = self._revision(session, walker, walker.head)
            if _says(newest, project):
                return _saved(newest)
            if walker.head != parent:
                raise Conflict(_saved(self._revision(session, walker, parent)), _saved(newest))
            return self._write(session, walker, parent, project, note)

    def find(self, walker_id: int, told: str) -> Saved:
        """The newest revision with that hash, whether of what it says or, as revisions had it before, of its bytes.

        Raises Missing.
        """
        query = (
            select(Revision)
            .where(Revision.walker_id == walker_id, or_(Revision.digest == told, Revision.hash == told))
            .order_by(Revision.number.desc())
            .limit(1)
        )
        with Session(self.engine) as session:
            self._walker(session, walker_id)
            found = session.execute(query).scalar()
            if found is None:
                raise Missing(f"Walker {walker_id} has no revision {told[:12]}.")
            return _saved(found)

    def revisions(self, walker_id: int) -> list[Line]:
        """All revisions, newest first, without their documents."""
        r = Revision
        query = select(r.number, r.parent, r.hash, r.name, r.note, r.created_at).where(r.walker_id == walker_id)
        with Session(self.engine) as session:
            self._walker(session, walker_id)
            return [Line(*row) for row in session.execute(query.order_by(r.number.desc()))]

    def name_revision(self, walker_id: int, number: int, name: str | None, note: str | None = None) -> None:
        """Name a revision, or take its name away; with a note, put that in the place of the one it has."""
        with Session(self.engine) as session, session.begin():
            revision = self._revision(session, self._walker(session, walker_id), number)
            revision.name = name
            if note is not None:
                revision.note = note

    def archive(self, walker_id: int, archived: bool) -> None:
        """Put a walker away, or back on the shelf. Nothing is deleted."""
        with Session(self.engine) as session, session.begin():
            self._walker(session, walker_id, lock=True).archived_at = func.now() if archived else None

    def record_export(
        self, walker_id: int, number: int, motion: str, kind: str, file_name: str, data: bytes
    ) -> Exported:
        """Note that this table was written from that revision."""
        with Session(self.engine) as session, session.begin():
            walker = self._walker(session, walker_id)
            revision = self._revision(session, walker, number)
            row = Export(
                walker_id=walker_id,
                revision_id=revision.id,
                motion=motion,
                format=kind,
                file_name=file_name,
                sha256=hashlib.sha256(data).hexdigest(),
                size_bytes=len(data),
            )
            session.add(row)
            session.flush()
            return Exported(row.id, number, motion, kind, file_name, row.sha256, row.size_bytes, row.created_at)

    def exports(self, walker_id: int) -> Sequence[Exported]:
        """What was written, newest first."""
        query = (
            select(Export, Revision.number)
            .join(Revision, Revision.id == Export.revision_id)
            .where(Export.walker_id == walker_id)
            .order_by(Export.id.desc())
            .limit(200)
        )
        with Session(self.engine) as session:
            self._walker(session, walker_id)
            return [
                Exported(e.id, n, e.motion, e.format, e.file_name, e.sha256, e.size_bytes, e.created_at)
                for e, n in session.execute(query)
            ]

    def load_once(self, name: str, projects: Sequence[CheckedProject]) -> bool:
        """Put projects on the shelf the first time this name is given. False if it was done before."""
        with Session(self.engine) as session, session.begin():
            first = session.execute(insert(Loaded).values(name=name).on_conflict_do_nothing().returning(Loaded.name))
            if first.scalar() is None:
                return False
            for project in projects:
                walker = Walker(head=1)
                session.add(walker)
                session.flush()
                self._write(session, walker, None, project, "")
            return True

    def _write(self, session: Session, walker: Walker, parent: int | None, project: CheckedProject, note: str) -> Saved:
        number = (parent or 0) + 1
        row = Revision(
            walker_id=walker.id,
            number=number,
            parent=parent,
            document=document(project),
            hash=(digest := project_hash(project)),
            digest=digest,
            note=note,
            card=card_of(project),
        )
        walker.head = number
        session.add(row)
        session.flush()
        return _saved(row)

    def _walker(self, session: Session, walker_id: int, lock: bool = False) -> Walker:
        walker = session.get(Walker, walker_id, with_for_update=lock)
        if walker is None:
            raise Missing(f"There is no walker {walker_id} on this shelf.")
        return walker

    def _revision(self, session: Session, walker: Walker, number: int) -> Revision:
        query = select(Revision).where(Revision.walker_id == walker.id, Revision.number == number)
        revision = session.execute(query).scalar()
        if revision is None:
            raise Missing(f"Walker {walker.id} has no revision {number}.")
        return revision
