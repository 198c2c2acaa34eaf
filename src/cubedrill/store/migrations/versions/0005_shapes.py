"""Kept documents say which shape they have; submissions and reports know the exercise version they are of."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

DOCUMENTS = ("exercise_version", "draft", "sheet_draft", "submission", "report")
OF_A_VERSION = {
    "submission": "select exercise_version_id from assignment where assignment.id = submission.assignment_id",
    "report": "select exercise_version_id from submission where submission.id = report.submission_id",
}
ONCE = "uq_submission_assignment_id_person_id_kind_draft_revision"
OLD, NEW = "uq_report_submission_id_rules_version", "uq_report_submission_id_exercise_version_id_rules_version"


def upgrade() -> None:
    for table in DOCUMENTS:
        op.add_column(table, sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False))
    for table, version in OF_A_VERSION.items():
        op.add_column(table, sa.Column("exercise_version_id", sa.BigInteger(), nullable=True))
        op.execute(f"alter table {table} disable trigger never_changed")
        op.execute(f"update {table} set exercise_version_id = ({version})")  # noqa: S608 - both are written above
        op.execute(f"alter table {table} enable trigger never_changed")
        op.alter_column(table, "exercise_version_id", nullable=False)
        name = op.f(f"fk_{table}_exercise_version_id")
        op.create_foreign_key(name, table, "exercise_version", ["exercise_version_id"], ["id"])
    op.drop_constraint(op.f(ONCE), "submission", type_="unique")
    once = ["assignment_id", "person_id", "kind", "draft_revision", "exercise_version_id"]
    op.create_unique_constraint(op.f(f"{ONCE}_exercise_version_id"), "submission", once)
    op.drop_constraint(op.f(OLD), "report", type_="unique")
    op.create_unique_constraint(op.f(NEW), "report", ["submission_id", "exercise_version_id", "rules_version"])


def downgrade() -> None:
    op.drop_constraint(op.f(NEW), "report", type_="unique")
    op.create_unique_constraint(op.f(OLD), "report", ["submission_id", "rules_version"])
    op.drop_constraint(op.f(f"{ONCE}_exercise_version_id"), "submission", type_="unique")
    op.create_unique_constraint(op.f(ONCE), "submission", ["assignment_id", "person_id", "kind", "draft_revision"])
    for table in OF_A_VERSION:
        op.drop_column(table, "exercise_version_id")
    for table in DOCUMENTS:
        op.drop_column(table, "shape")
