"""Files as students sent them, and which of them a submission came as."""

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "handed_file",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("sent_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_handed_file_assignment_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_handed_file_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_handed_file")),
    )
    op.create_index(op.f("ix_handed_file_assignment_id_person_id"), "handed_file", ["assignment_id", "person_id"])
    op.add_column("submission", sa.Column("file_id", sa.BigInteger(), nullable=True))
    op.create_foreign_key(op.f("fk_submission_file_id"), "submission", "handed_file", ["file_id"], ["id"])
    op.create_index(op.f("ix_submission_file_id"), "submission", ["file_id"])


def downgrade() -> None:
    op.drop_index(op.f("ix_submission_file_id"), "submission")
    op.drop_constraint(op.f("fk_submission_file_id"), "submission", type_="foreignkey")
    op.drop_column("submission", "file_id")
    op.drop_table("handed_file")
