"""Drafts keep what was added for which object of the target, where that was chosen by hand."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("draft", sa.Column("matches", JSONB(), server_default=sa.text("'{}'"), nullable=False))


def downgrade() -> None:
    op.drop_column("draft", "matches")
