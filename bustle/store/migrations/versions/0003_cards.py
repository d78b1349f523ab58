"""What the shelf shows of a revision stands beside its document."""

import json

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

from bustle.core.document.checked import parse_project
from bustle.core.words.problems import InputRefused
from bustle.store.card import card_of

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("revisions", sa.Column("card", JSONB))
    connection = op.get_bind()
    for key, document in connection.execute(sa.text("SELECT id, document FROM revisions")).all():
        try:
            card = card_of(parse_project(document))
        except InputRefused:
            continue
        connection.execute(
            sa.text("UPDATE revisions SET card = CAST(:card AS jsonb) WHERE id = :key"),
            {"card": json.dumps(card), "key": key},
        )


def downgrade() -> None:
    op.drop_column("revisions", "card")
