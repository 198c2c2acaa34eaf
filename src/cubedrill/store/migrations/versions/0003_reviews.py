"""An instructor's marks and remarks: added, never changed."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "review",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("submission_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("check_id", sa.String(), nullable=True),
        sa.Column("points", sa.Double(), nullable=True),
        sa.Column("text", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_review_person_id")),
        sa.ForeignKeyConstraint(["submission_id"], ["submission.id"], name=op.f("fk_review_submission_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_review")),
    )
    op.execute(
        "create trigger never_changed before update or delete on review for each row execute function refuse_change()"
    )
    op.create_index(op.f("ix_review_submission_id"), "review", ["submission_id"])


def downgrade() -> None:
    op.drop_table("review")
