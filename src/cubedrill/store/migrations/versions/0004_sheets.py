"""Sheets: drafts of typed values, and submissions of more kinds than steps."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None

OLD = "uq_submission_assignment_id_person_id_draft_revision"
NEW = "uq_submission_assignment_id_person_id_kind_draft_revision"


def upgrade() -> None:
    op.create_table(
        "sheet_draft",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("revision", sa.BigInteger(), nullable=False),
        sa.Column("saved_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_sheet_draft_assignment_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_sheet_draft_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sheet_draft")),
        sa.UniqueConstraint("assignment_id", "person_id", name=op.f("uq_sheet_draft_assignment_id_person_id")),
    )
    op.add_column("submission", sa.Column("kind", sa.String(), server_default=sa.text("'steps'"), nullable=False))
    op.drop_constraint(op.f(OLD), "submission", type_="unique")
    op.create_unique_constraint(op.f(NEW), "submission", ["assignment_id", "person_id", "kind", "draft_revision"])


def downgrade() -> None:
    op.drop_constraint(op.f(NEW), "submission", type_="unique")
    op.create_unique_constraint(op.f(OLD), "submission", ["assignment_id", "person_id", "draft_revision"])
    op.drop_column("submission", "kind")
    op.drop_table("sheet_draft")
