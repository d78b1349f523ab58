"""Revisions also carry the hash of what they say, which new fields of later versions do not change."""

import sqlalchemy as sa
from alembic import op

from bustle.core.document.checked import parse_project
from bustle.core.document.file import project_hash
from bustle.core.words.problems import InputRefused

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("revisions", sa.Column("digest", sa.String(64)))
    op.create_check_constraint("revisions_digest_sha256", "revisions", "digest IS NULL OR digest ~ '^[0-9a-f]{64}$'")
    op.create_index("revisions_by_digest", "revisions", ["walker_id", "digest"])
    connection = op.get_bind()
    for key, document in connection.execute(sa.text("SELECT id, document FROM revisions")).all():
        try:
            digest = project_hash(parse_project(document))
        except InputRefused:
            continue
        connection.execute(
            sa.text("UPDATE revisions SET digest = :digest WHERE id = :key"), {"digest": digest, "key": key}
        )


def downgrade() -> None:
    op.drop_index("revisions_by_digest", "revisions")
    op.drop_column("revisions", "digest")
