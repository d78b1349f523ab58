"""The parts library: servo types that builders keep beside their walkers."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB, TIMESTAMP

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "parts",
        sa.Column("id", sa.BigInteger, sa.Identity(), primary_key=True),
        sa.Column("kind", sa.Text, nullable=False),
        sa.Column("name", sa.Text, nullable=False),
        sa.Column("document", JSONB, nullable=False),
        sa.Column("hash", sa.String(64), nullable=False),
        sa.Column("kept_at", TIMESTAMP(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.UniqueConstraint("kind", "name", name="parts_name_once"),
        sa.CheckConstraint("kind = 'servo_type'", name="parts_kind"),
        sa.CheckConstraint("length(name) BETWEEN 1 AND 60", name="parts_name_length"),
        sa.CheckConstraint("hash ~ '^[0-9a-f]{64}$'", name="parts_hash_sha256"),
        sa.CheckConstraint("jsonb_typeof(document) = 'object'", name="parts_document_object"),
    )


def downgrade() -> None:
    op.drop_table("parts")
