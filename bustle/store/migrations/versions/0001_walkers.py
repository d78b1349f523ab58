"""Walkers, revisions, exports."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB, TIMESTAMP

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def _key() -> sa.Column:
    return sa.Column("id", sa.BigInteger, sa.Identity(), primary_key=True)


def _when(name: str) -> sa.Column:
    return sa.Column(name, TIMESTAMP(timezone=True), server_default=sa.func.now(), nullable=False)


def upgrade() -> None:
    op.create_table(
        "walkers",
        _key(),
        sa.Column("head", sa.Integer, nullable=False),
        _when("created_at"),
        sa.Column("archived_at", TIMESTAMP(timezone=True)),
        sa.CheckConstraint("head > 0", name="walkers_head_positive"),
    )
    op.create_table(
        "revisions",
        _key(),
        sa.Column("walker_id", sa.BigInteger, sa.ForeignKey("walkers.id"), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("parent", sa.Integer),
        sa.Column("document", JSONB, nullable=False),
        sa.Column("hash", sa.String(64), nullable=False),
        sa.Column("name", sa.Text),
        sa.Column("note", sa.Text, server_default="", nullable=False),
        _when("created_at"),
        sa.UniqueConstraint("walker_id", "number", name="revisions_number_once"),
        sa.CheckConstraint("number > 0", name="revisions_number_positive"),
        sa.CheckConstraint("parent IS NULL OR parent < number", name="revisions_parent_before"),
        sa.CheckConstraint("hash ~ '^[0-9a-f]{64}$'", name="revisions_hash_sha256"),
        sa.CheckConstraint("jsonb_typeof(document) = 'object'", name="revisions_document_object"),
        sa.CheckConstraint("name IS NULL OR length(name) BETWEEN 1 AND 60", name="revisions_name_length"),
    )
    op.create_table(
        "exports",
        _key(),
        sa.Column("walker_id", sa.BigInteger, sa.ForeignKey("walkers.id"), nullable=False),
        sa.Column("revision_id", sa.BigInteger, sa.ForeignKey("revisions.id"), nullable=False),
        sa.Column("motion", sa.Text, nullable=False),
        sa.Column("format", sa.Text, nullable=False),
        sa.Column("file_name", sa.Text, nullable=False),
        sa.Column("sha256", sa.String(64), nullable=False),
        sa.Column("size_bytes", sa.Integer, nullable=False),
        _when("created_at"),
        sa.CheckConstraint("sha256 ~ '^[0-9a-f]{64}$'", name="exports_sha256"),
        sa.CheckConstraint("size_bytes > 0", name="exports_size_positive"),
    )
    op.create_index("exports_by_walker", "exports", ["walker_id", "id"])
    op.create_table("loaded", sa.Column("name", sa.Text, primary_key=True), _when("at"))


def downgrade() -> None:
    for table in ("loaded", "exports", "revisions", "walkers"):
        op.drop_table(table)
