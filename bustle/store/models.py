"""The tables. Revisions are never changed once written, save for the name a builder gives them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    ForeignKey,
    Identity,
    Index,
    LargeBinary,
    String,
    Text,
    UniqueConstraint,
    func,
)
from sqlalchemy.dialects.postgresql import JSONB, TIMESTAMP
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    pass


_NOW = func.now()


class Walker(Base):
    """A walker on the shelf; `head` is the number of its newest revision."""

    __tablename__ = "walkers"
    __table_args__ = (CheckConstraint("head > 0", name="walkers_head_positive"),)

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    head: Mapped[int]
    created_at: Mapped[datetime] = mapped_column(TIMESTAMP(timezone=True), server_default=_NOW)
    archived_at: Mapped[datetime | None] = mapped_column(TIMESTAMP(timezone=True))


class Revision(Base):
    """One saved project document, immutable, with the hash of what it says.

    Rows of earlier versions have the hash of their bytes in `hash`, and in `digest` what they say; newer ones the same
    in both. digest: None where this version could not read the document. card: what the shelf shows, likewise.
    """

    __tablename__ = "revisions"
    __table_args__ = (
        UniqueConstraint("walker_id", "number", name="revisions_number_once"),
        CheckConstraint("number > 0", name="revisions_number_positive"),
        CheckConstraint("parent IS NULL OR parent < number", name="revisions_parent_before"),
        CheckConstraint("hash ~ '^[0-9a-f]{64}$'", name="revisions_hash_sha256"),
        CheckConstraint("digest IS NULL OR digest ~ '^[0-9a-f]{64}$'", name="revisions_digest_sha256"),
        Index("revisions_by_digest", "walker_id", "digest"),
        CheckConstraint("jsonb_typeof(document) = 'object'", name="revisions_document_object"),
        CheckConstraint("name IS NULL OR length(name) BETWEEN 1 AND 60", name="revisions_name_length"),
    )

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    walker_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("walkers.id"))
    number: Mapped[int]
    parent: Mapped[int | None]
    document: Mapped[dict[str, Any]] = mapped_column(JSONB)
    hash: Mapped[str] = mapped_column(String(64))
    digest: Mapped[str | None] = mapped_column(String(64))
    card: Mapped[dict[str, Any] | None] = mapped_column(JSONB)
    name: Mapped[str | None] = mapped_column(Text)
    note: Mapped[str] = mapped_column(Text, server_default="")
    created_at: Mapped[datetime] = mapped_column(TIMESTAMP(timezone=True), server_default=_NOW)


class Export(Base):
    """A table that was written: of which revision, what it was, its hash."""

    __tablename__ = "exports"
    __table_args__ = (
        CheckConstraint("sha256 ~ '^[0-9a-f]{64}$'", name="exports_sha256"),
        CheckConstraint("size_bytes > 0", name="exports_size_positive"),
        Index("exports_by_walker", "walker_id", "id"),
    )

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    walker_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("walkers.id"))
    revision_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("revisions.id"))
    motion: Mapped[str] = mapped_column(Text)
    format: Mapped[str] = mapped_column(Text)
    file_name: Mapped[str] = mapped_column(Text)
    sha256: Mapped[str] = mapped_column(String(64))
    size_bytes: Mapped[int]
    created_at: Mapped[datetime] = mapped_column(TIMESTAMP(timezone=True), server_default=_NOW)


class Part(Base):
    """A part of the library, by its kind and name; hash: of what its sheet says."""

    __tablename__ = "parts"
    __table_args__ = (
        UniqueConstraint("kind", "name", name="parts_name_once"),
        CheckConstraint("kind = 'servo_type'", name="parts_kind"),
        CheckConstraint("length(name) BETWEEN 1 AND 60", name="parts_name_length"),
        CheckConstraint("hash ~ '^[0-9a-f]{64}$'", name="parts_hash_sha256"),
        CheckConstraint("jsonb_typeof(document) = 'object'", name="parts_document_object"),
    )

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    kind: Mapped[str] = mapped_column(Text)
    name: Mapped[str] = mapped_column(Text)
    document: Mapped[dict[str, Any]] = mapped_column(JSONB)
    hash: Mapped[str] = mapped_column(String(64))
    kept_at: Mapped[datetime] = mapped_column(TIMESTAMP(timezone=True), server_default=_NOW)


class TrialRow(Base):
    """A trial of a walker, never changed once written, and what its revision's plan told; withdrawn_at: it does not
    count since then."""

    __tablename__ = "trials"
    __table_args__ = (
        UniqueConstraint("walker_id", "number", name="trials_number_once"),
        CheckConstraint("number > 0", name="trials_number_positive"),
        CheckConstraint("jsonb_typeof(document) = 'object'", name="trials_document_object"),
        CheckConstraint("jsonb_typeof(told) = 'object'", name="trials_told_object"),
    )

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    walker_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("walkers.id"))
    revision_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("revisions.id"))
    number: Mapped[int]
    motion: Mapped[str] = mapped_column(Text)
    document: Mapped[dict[str, Any]] = mapped_column(JSONB)
    told: Mapped[dict[str, Any]] = mapped_column(JSONB)
    created_at: Mapped[datetime] = mapped_column(TIMESTAMP(timezone=True), server_default=_NOW)
    withdrawn_at: Mapped[datetime | None] = mapped_column(TIMESTAMP(timezone=True))


class TraceRow(Base):
    """A trial's trace as it was brought in, never changed; of several the last counts."""

    __tablename__ = "traces"
    __table_args__ = (CheckConstraint("octet_length(content) BETWEEN 1 AND 2000000", name="traces_size"),)

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    trial_id: Mapped[int] = mapped_column(BigInteger, ForeignKey("trials.id"), index=True)
    content: Mapped[bytes] = mapped_column(LargeBinary)
    created_at: Mapped[datetime] = mapped_column(TIMESTAMP(timezone=True), server_default=_NOW)


class Loaded(Base):
    """What was put in once and is not put in again, such as the demo."""

    __tablename__ = "loaded"

    name: Mapped[str] = mapped_column(Text, primary_key=True)
    at: Mapped[datetime] = mapped_column(TIMESTAMP(timezone=True), server_default=_NOW)
