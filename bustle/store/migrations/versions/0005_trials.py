"""The log of trials: what the machine itself did, as its builder saw it, and what its plan told then."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB, TIMESTAMP

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "trials",
        sa.Column("id", sa.BigInteger, sa.Identity(), primary_key=True),
        sa.Column("walker_id", sa.BigInteger, sa.ForeignKey("walkers.id"), nullable=False),
        sa.Column("revision_id", sa.BigInteger, sa.ForeignKey("revisions.id"), nullable=False),
        sa.Column("number", sa.Integer, nullable=False),
        sa.Column("motion", sa.Text, nullable=False),
        sa.Column("document", JSONB, nullable=False),
        sa.Column("told", JSONB, nullable=False),
        sa.Column("created_at", TIMESTAMP(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.Column("withdrawn_at", TIMESTAMP(timezone=True)),
        sa.UniqueConstraint("walker_id", "number", name="trials_number_once"),
        sa.CheckConstraint("number > 0", name="trials_number_positive"),
        sa.CheckConstraint("jsonb_typeof(document) = 'object'", name="trials_document_object"),
        sa.CheckConstraint("jsonb_typeof(told) = 'object'", name="trials_told_object"),
    )


def downgrade() -> None:
    op.drop_table("trials")
