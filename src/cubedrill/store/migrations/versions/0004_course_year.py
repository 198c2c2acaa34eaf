"""Exceptions for students, weights, archived classes, places of remarks and calendar feeds."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "v0_3_0004"
down_revision = "v0_3_0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("class", sa.Column("archived_at", sa.DateTime(timezone=True)))
    op.add_column("assignment", sa.Column("weight", sa.Double(), server_default=sa.text("1"), nullable=False))
    op.add_column("mark", sa.Column("to_come", sa.Double(), server_default=sa.text("0"), nullable=False))
    op.add_column("review", sa.Column("place", postgresql.JSONB()))
    op.create_table(
        "assignment_exception",
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("due_at", sa.DateTime(timezone=True)),
        sa.Column("attempts", sa.BigInteger()),
        sa.Column("excused", sa.Boolean(), server_default=sa.text("false"), nullable=False),
        sa.Column("reason", sa.String(), server_default=sa.text("''"), nullable=False),
        sa.Column("by_id", sa.BigInteger(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(
            ["assignment_id"], ["assignment.id"], name=op.f("fk_assignment_exception_assignment_id")
        ),
        sa.ForeignKeyConstraint(["by_id"], ["person.id"], name=op.f("fk_assignment_exception_by_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_assignment_exception_person_id")),
        sa.PrimaryKeyConstraint("assignment_id", "person_id", name=op.f("pk_assignment_exception")),
    )
    op.create_index(op.f("ix_assignment_exception_person_id"), "assignment_exception", ["person_id"])
    op.create_table(
        "calendar_feed",
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("token", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_calendar_feed_person_id")),
        sa.PrimaryKeyConstraint("person_id", name=op.f("pk_calendar_feed")),
        sa.UniqueConstraint("token", name=op.f("uq_calendar_feed_token")),
    )


def downgrade() -> None:
    op.drop_table("calendar_feed")
    op.drop_index(op.f("ix_assignment_exception_person_id"), table_name="assignment_exception")
    op.drop_table("assignment_exception")
    op.drop_column("review", "place")
    op.drop_column("mark", "to_come")
    op.drop_column("assignment", "weight")
    op.drop_column("class", "archived_at")
