"""People, classes, exercises, drafts, submissions."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

IMMUTABLE_TABLES = ("exercise_version", "submission", "report", "event")

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "class",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_class")),
        sa.UniqueConstraint("name", name=op.f("uq_class_name")),
    )
    op.create_table(
        "exercise_version",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("exercise", sa.String(), nullable=False),
        sa.Column("number", sa.BigInteger(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("published_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_exercise_version")),
        sa.UniqueConstraint("exercise", "number", name=op.f("uq_exercise_version_exercise_number")),
    )
    op.create_table(
        "person",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("sign_in", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("password_hash", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_person")),
        sa.UniqueConstraint("sign_in", name=op.f("uq_person_sign_in")),
    )
    op.create_table(
        "sign_in_failure",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("sign_in", sa.String(), nullable=False),
        sa.Column("address", sa.String(), nullable=False),
        sa.Column("failed_at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sign_in_failure")),
    )
    op.create_index(
        op.f("ix_sign_in_failure_address_failed_at"), "sign_in_failure", ["address", "failed_at"], unique=False
    )
    op.create_table(
        "assignment",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("class_id", sa.BigInteger(), nullable=False),
        sa.Column("exercise_version_id", sa.BigInteger(), nullable=False),
        sa.Column("due_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_assignment_class_id")),
        sa.ForeignKeyConstraint(
            ["exercise_version_id"], ["exercise_version.id"], name=op.f("fk_assignment_exercise_version_id")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_assignment")),
        sa.UniqueConstraint("class_id", "exercise_version_id", name=op.f("uq_assignment_class_id_exercise_version_id")),
    )
    op.create_table(
        "event",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("facts", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("happened_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_event_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_event")),
    )
    op.create_index(op.f("ix_event_person_id"), "event", ["person_id"], unique=False)
    op.create_table(
        "membership",
        sa.Column("class_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("role", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_membership_class_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_membership_person_id")),
        sa.PrimaryKeyConstraint("class_id", "person_id", name=op.f("pk_membership")),
    )
    op.create_index(op.f("ix_membership_person_id"), "membership", ["person_id"], unique=False)
    op.create_table(
        "signed_in",
        sa.Column("token_hash", sa.String(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("csrf_token", sa.String(), nullable=False),
        sa.Column("expires_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_signed_in_person_id")),
        sa.PrimaryKeyConstraint("token_hash", name=op.f("pk_signed_in")),
    )
    op.create_index(op.f("ix_signed_in_person_id"), "signed_in", ["person_id"], unique=False)
    op.create_table(
        "draft",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("steps", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("cursor", sa.BigInteger(), nullable=False),
        sa.Column("revision", sa.BigInteger(), nullable=False),
        sa.Column("saved_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_draft_assignment_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_draft_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_draft")),
        sa.UniqueConstraint("assignment_id", "person_id", name=op.f("uq_draft_assignment_id_person_id")),
    )
    op.create_table(
        "submission",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("number", sa.BigInteger(), nullable=False),
        sa.Column("draft_revision", sa.BigInteger(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("handed_in_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_submission_assignment_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_submission_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_submission")),
        sa.UniqueConstraint(
            "assignment_id",
            "person_id",
            "draft_revision",
            name=op.f("uq_submission_assignment_id_person_id_draft_revision"),
        ),
        sa.UniqueConstraint(
            "assignment_id", "person_id", "number", name=op.f("uq_submission_assignment_id_person_id_number")
        ),
    )
    op.create_table(
        "report",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("submission_id", sa.BigInteger(), nullable=False),
        sa.Column("rules_version", sa.String(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["submission_id"], ["submission.id"], name=op.f("fk_report_submission_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_report")),
        sa.UniqueConstraint("submission_id", "rules_version", name=op.f("uq_report_submission_id_rules_version")),
    )
    op.execute(
        """
        create function refuse_change() returns trigger language plpgsql as $$
        begin
            raise exception 'rows of % are never changed', tg_table_name;
        end $$
        """
    )
    for table in IMMUTABLE_TABLES:
        op.execute(
            f"create trigger never_changed before update or delete on {table} "
            "for each row execute function refuse_change()"
        )


def downgrade() -> None:
    for table in IMMUTABLE_TABLES:
        op.execute(f"drop trigger never_changed on {table}")
    op.execute("drop function refuse_change()")
    op.drop_table("report")
    op.drop_table("submission")
    op.drop_table("draft")
    op.drop_index(op.f("ix_signed_in_person_id"), table_name="signed_in")
    op.drop_table("signed_in")
    op.drop_index(op.f("ix_membership_person_id"), table_name="membership")
    op.drop_table("membership")
    op.drop_index(op.f("ix_event_person_id"), table_name="event")
    op.drop_table("event")
    op.drop_table("assignment")
    op.drop_index(op.f("ix_sign_in_failure_address_failed_at"), table_name="sign_in_failure")
    op.drop_table("sign_in_failure")
    op.drop_table("person")
    op.drop_table("exercise_version")
    op.drop_table("class")
