"""Steps of a draft can be switched off."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    off = sa.Column("off", postgresql.JSONB(astext_type=sa.Text()), server_default=sa.text("'[]'"), nullable=False)
    op.add_column("draft", off)


def downgrade() -> None:
    op.drop_column("draft", "off")
