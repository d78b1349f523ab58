"""Traces: what a machine's own sensors told in a trial, as it was brought in."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import TIMESTAMP

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "traces",
        sa.Column("id", sa.BigInteger, sa.Identity(), primary_key=True),
        sa.Column("trial_id", sa.BigInteger, sa.ForeignKey("trials.id"), nullable=False, index=True),
        sa.Column("content", sa.LargeBinary, nullable=False),
        sa.Column("created_at", TIMESTAMP(timezone=True), server_default=sa.func.now(), nullable=False),
        sa.CheckConstraint("octet_length(content) BETWEEN 1 AND 2000000", name="traces_size"),
    )


def downgrade() -> None:
    op.drop_table("traces")
