"""The cost of late work replaces the flag that says whether it counts."""

import sqlalchemy as sa
from alembic import op

revision = "v0_3_0003"
down_revision = "v0_2_0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("assignment", sa.Column("late", sa.String(), server_default="no cost", nullable=False))
    op.add_column("assignment", sa.Column("late_per_day", sa.Double(), server_default=sa.text("0"), nullable=False))
    op.add_column("assignment", sa.Column("late_floor", sa.Double(), server_default=sa.text("0"), nullable=False))
    op.execute("update assignment set late = 'does not count' where not late_counts")
    op.drop_column("assignment", "late_counts")


def downgrade() -> None:
    op.add_column("assignment", sa.Column("late_counts", sa.Boolean(), server_default=sa.text("true"), nullable=False))
    op.execute("update assignment set late_counts = false where late = 'does not count'")
    for column in ("late", "late_per_day", "late_floor"):
        op.drop_column("assignment", column)
