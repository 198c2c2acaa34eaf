"""All tables; rows that never change; the one way to erase a person."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "v0_2_0001"
down_revision = None
branch_labels = None
depends_on = None

IMMUTABLE = ("event", "exercise_version", "report", "review", "submission")

# Rows of these tables never change, except while their owner erases a person.
REFUSE_CHANGE = """
create function refuse_change() returns trigger language plpgsql as $$
begin
    if current_setting('cube_drill.erasing', true) = 'on'
       and current_user = pg_get_userbyid((select relowner from pg_class where oid = tg_relid)) then
        return case tg_op when 'DELETE' then old else new end;
    end if;
    raise exception 'rows of % are never changed', tg_table_name;
end $$
"""

# The role that serves may call this function, and cannot delete such rows in any other way. It first locks the rows
# that others may add to, so that nothing is added to what is being erased.
ERASE_PERSON = """
create function erase_person(erased bigint) returns void language plpgsql security definer
set search_path from current as $$
begin
    perform set_config('cube_drill.erasing', 'on', true);
    perform 1 from person where id = erased for update;
    perform 1 from mark where person_id = erased for update;
    perform 1 from submission where person_id = erased for update;
    delete from reviewed_submission where submission_id in (select id from submission where person_id = erased);
    delete from rechecked where submission_id in (select id from submission where person_id = erased);
    delete from review where submission_id in (select id from submission where person_id = erased);
    delete from mark where person_id = erased;
    delete from report where submission_id in (select id from submission where person_id = erased);
    delete from submission where person_id = erased;
    delete from uploaded_file where person_id = erased;
    delete from draft where person_id = erased;
    delete from sheet_draft where person_id = erased;
    delete from plan_share where person_id = erased;
    delete from invitation where person_id = erased;
    delete from signed_in where person_id = erased;
    delete from sign_in_failure where sign_in = (select sign_in from person where id = erased);
    update event set facts = facts - 'sign_in' - 'address' where person_id = erased;
    update person set name = 'Somebody erased', sign_in = 'erased-' || erased, password_hash = '', email = null,
        outside_id = null, one_time_until = null, makes_classes = false, erased_at = now() where id = erased;
    perform set_config('cube_drill.erasing', 'off', true);
end $$
"""


def upgrade() -> None:
    op.create_table(
        "class",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("time_zone", sa.String(), server_default=sa.text("'UTC'"), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_class")),
    )
    op.create_table(
        "person",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("sign_in", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("password_hash", sa.String(), nullable=False),
        sa.Column("email", sa.String(), nullable=True),
        sa.Column("outside_id", sa.String(), nullable=True),
        sa.Column("one_time_until", sa.DateTime(timezone=True), nullable=True),
        sa.Column("makes_classes", sa.Boolean(), server_default=sa.text("false"), nullable=False),
        sa.Column("erased_at", sa.DateTime(timezone=True), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_person")),
        sa.UniqueConstraint("sign_in", name=op.f("uq_person_sign_in")),
    )
    op.create_index(op.f("ix_person_outside_id"), "person", ["outside_id"], unique=False)
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
    op.create_index(
        op.f("ix_sign_in_failure_sign_in_failed_at"), "sign_in_failure", ["sign_in", "failed_at"], unique=False
    )
    op.create_table(
        "event",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=True),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("facts", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("class_id", sa.BigInteger(), nullable=True),
        sa.Column("happened_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_event_class_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_event_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_event")),
    )
    op.create_index(op.f("ix_event_class_id_id"), "event", ["class_id", "id"], unique=False)
    op.create_index(op.f("ix_event_person_id"), "event", ["person_id"], unique=False)
    op.create_table(
        "exercise_version",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("exercise", sa.String(), nullable=False),
        sa.Column("number", sa.BigInteger(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("published_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("publisher_id", sa.BigInteger(), nullable=True),
        sa.ForeignKeyConstraint(["publisher_id"], ["person.id"], name=op.f("fk_exercise_version_publisher_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_exercise_version")),
        sa.UniqueConstraint("exercise", "number", name=op.f("uq_exercise_version_exercise_number")),
    )
    op.create_table(
        "invitation",
        sa.Column("class_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("by_id", sa.BigInteger(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["by_id"], ["person.id"], name=op.f("fk_invitation_by_id")),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_invitation_class_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_invitation_person_id")),
        sa.PrimaryKeyConstraint("class_id", "person_id", name=op.f("pk_invitation")),
    )
    op.create_index(op.f("ix_invitation_person_id"), "invitation", ["person_id"], unique=False)
    op.create_table(
        "join_code",
        sa.Column("code", sa.String(), nullable=False),
        sa.Column("class_id", sa.BigInteger(), nullable=False),
        sa.Column("ends_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_join_code_class_id")),
        sa.PrimaryKeyConstraint("code", name=op.f("pk_join_code")),
    )
    op.create_index(op.f("ix_join_code_class_id"), "join_code", ["class_id"], unique=False)
    op.create_table(
        "membership",
        sa.Column("class_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("role", sa.String(), nullable=False),
        sa.Column("since", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("left_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_membership_class_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_membership_person_id")),
        sa.PrimaryKeyConstraint("class_id", "person_id", name=op.f("pk_membership")),
    )
    op.create_index(op.f("ix_membership_person_id"), "membership", ["person_id"], unique=False)
    op.create_table(
        "plan",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("owner_id", sa.BigInteger(), nullable=False),
        sa.Column("exercise", sa.String(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("archived", sa.Boolean(), server_default=sa.text("false"), nullable=False),
        sa.Column("revision", sa.BigInteger(), nullable=False),
        sa.Column("saved_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["person.id"], name=op.f("fk_plan_owner_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_plan")),
    )
    op.create_index(op.f("ix_plan_owner_id"), "plan", ["owner_id"], unique=False)
    op.create_table(
        "signed_in",
        sa.Column("token_hash", sa.String(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("csrf_token", sa.String(), nullable=False),
        sa.Column("expires_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("seen_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("began_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("address", sa.String(), server_default=sa.text("''"), nullable=False),
        sa.Column("browser", sa.String(), server_default=sa.text("''"), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_signed_in_person_id")),
        sa.PrimaryKeyConstraint("token_hash", name=op.f("pk_signed_in")),
    )
    op.create_index(op.f("ix_signed_in_person_id"), "signed_in", ["person_id"], unique=False)
    op.create_table(
        "assignment",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("class_id", sa.BigInteger(), nullable=False),
        sa.Column("exercise_version_id", sa.BigInteger(), nullable=False),
        sa.Column("opens_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("due_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("attempts", sa.BigInteger(), nullable=True),
        sa.Column("counts", sa.String(), server_default=sa.text("'best'"), nullable=False),
        sa.Column("feedback", sa.String(), nullable=True),
        sa.Column("feedback_when", sa.String(), server_default=sa.text("'at once'"), nullable=False),
        sa.Column("late_counts", sa.Boolean(), server_default=sa.text("true"), nullable=False),
        sa.Column("drafts_shown", sa.Boolean(), server_default=sa.text("false"), nullable=False),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_assignment_class_id")),
        sa.ForeignKeyConstraint(
            ["exercise_version_id"], ["exercise_version.id"], name=op.f("fk_assignment_exercise_version_id")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_assignment")),
        sa.UniqueConstraint("class_id", "exercise_version_id", name=op.f("uq_assignment_class_id_exercise_version_id")),
    )
    op.create_table(
        "plan_share",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("plan_id", sa.BigInteger(), nullable=False),
        sa.Column("class_id", sa.BigInteger(), nullable=True),
        sa.Column("person_id", sa.BigInteger(), nullable=True),
        sa.Column("right", sa.String(), nullable=False),
        sa.CheckConstraint("num_nonnulls(class_id, person_id) = 1", name=op.f("ck_plan_share_with_one")),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_plan_share_class_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_plan_share_person_id")),
        sa.ForeignKeyConstraint(["plan_id"], ["plan.id"], name=op.f("fk_plan_share_plan_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_plan_share")),
        sa.UniqueConstraint("plan_id", "class_id", name=op.f("uq_plan_share_plan_id_class_id")),
        sa.UniqueConstraint("plan_id", "person_id", name=op.f("uq_plan_share_plan_id_person_id")),
    )
    op.create_index(op.f("ix_plan_share_class_id"), "plan_share", ["class_id"], unique=False)
    op.create_index(op.f("ix_plan_share_person_id"), "plan_share", ["person_id"], unique=False)
    op.create_table(
        "plan_steps",
        sa.Column("plan_id", sa.BigInteger(), nullable=False),
        sa.Column("part", sa.String(), nullable=False),
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("revision", sa.BigInteger(), nullable=False),
        sa.Column("saved_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("begun_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_plan_steps_person_id")),
        sa.ForeignKeyConstraint(["plan_id"], ["plan.id"], name=op.f("fk_plan_steps_plan_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_plan_steps")),
        sa.UniqueConstraint("plan_id", "part", "person_id", name=op.f("uq_plan_steps_plan_id_part_person_id")),
    )
    op.create_table(
        "draft",
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("in_place", sa.BigInteger(), nullable=True),
        sa.Column("checks", sa.BigInteger(), nullable=True),
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("revision", sa.BigInteger(), nullable=False),
        sa.Column("saved_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("begun_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_draft_assignment_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_draft_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_draft")),
        sa.UniqueConstraint("assignment_id", "person_id", name=op.f("uq_draft_assignment_id_person_id")),
    )
    op.create_table(
        "uploaded_file",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.Column("imported", sa.LargeBinary(), nullable=True),
        sa.Column("reader_version", sa.BigInteger(), nullable=False),
        sa.Column("sent_order", sa.BigInteger(), server_default=sa.text("0"), nullable=False),
        sa.Column("sent_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_uploaded_file_assignment_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_uploaded_file_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_uploaded_file")),
    )
    op.create_index(
        op.f("ix_uploaded_file_assignment_id_person_id"), "uploaded_file", ["assignment_id", "person_id"], unique=False
    )
    op.create_table(
        "recheck",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("exercise_version_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("asked_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("state", sa.String(), server_default=sa.text("'working'"), nullable=False),
        sa.Column("total", sa.BigInteger(), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_recheck_assignment_id")),
        sa.ForeignKeyConstraint(
            ["exercise_version_id"], ["exercise_version.id"], name=op.f("fk_recheck_exercise_version_id")
        ),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_recheck_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recheck")),
    )
    op.create_index(op.f("ix_recheck_assignment_id"), "recheck", ["assignment_id"], unique=False)
    op.create_table(
        "sheet_draft",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("revision", sa.BigInteger(), nullable=False),
        sa.Column("saved_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_sheet_draft_assignment_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_sheet_draft_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sheet_draft")),
        sa.UniqueConstraint("assignment_id", "person_id", name=op.f("uq_sheet_draft_assignment_id_person_id")),
    )
    op.create_table(
        "submission",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("exercise_version_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("number", sa.BigInteger(), nullable=False),
        sa.Column("kind", sa.String(), server_default=sa.text("'steps'"), nullable=False),
        sa.Column("draft_revision", sa.BigInteger(), nullable=False),
        sa.Column("file_id", sa.BigInteger(), nullable=True),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("submitted_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_submission_assignment_id")),
        sa.ForeignKeyConstraint(
            ["exercise_version_id"], ["exercise_version.id"], name=op.f("fk_submission_exercise_version_id")
        ),
        sa.ForeignKeyConstraint(["file_id"], ["uploaded_file.id"], name=op.f("fk_submission_file_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_submission_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_submission")),
        sa.UniqueConstraint(
            "assignment_id",
            "person_id",
            "kind",
            "draft_revision",
            "exercise_version_id",
            name=op.f("uq_submission_assignment_id_person_id_kind_draft_revision_exercise_version_id"),
        ),
        sa.UniqueConstraint(
            "assignment_id", "person_id", "number", name=op.f("uq_submission_assignment_id_person_id_number")
        ),
    )
    op.create_index(op.f("ix_submission_file_id"), "submission", ["file_id"], unique=False)
    op.create_table(
        "reviewed_submission",
        sa.Column("submission_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_reviewed_submission_person_id")),
        sa.ForeignKeyConstraint(
            ["submission_id"], ["submission.id"], name=op.f("fk_reviewed_submission_submission_id")
        ),
        sa.PrimaryKeyConstraint("submission_id", name=op.f("pk_reviewed_submission")),
    )
    op.create_table(
        "mark",
        sa.Column("submission_id", sa.BigInteger(), nullable=False),
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("points", sa.Double(), nullable=False),
        sa.Column("of", sa.Double(), nullable=False),
        sa.Column("score", sa.Double(), nullable=True),
        sa.Column("passed", sa.Boolean(), nullable=False),
        sa.Column("changed", sa.Boolean(), nullable=False),
        sa.Column("causes", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("checks", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("explained", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_mark_assignment_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_mark_person_id")),
        sa.ForeignKeyConstraint(["submission_id"], ["submission.id"], name=op.f("fk_mark_submission_id")),
        sa.PrimaryKeyConstraint("submission_id", name=op.f("pk_mark")),
    )
    op.create_index(op.f("ix_mark_assignment_id_person_id"), "mark", ["assignment_id", "person_id"], unique=False)
    op.create_index(op.f("ix_mark_person_id"), "mark", ["person_id"], unique=False)
    op.create_index(
        op.f("ix_mark_submission_id"),
        "mark",
        ["submission_id"],
        unique=False,
        postgresql_where=sa.text("not explained"),
    )
    op.create_table(
        "rechecked",
        sa.Column("recheck_id", sa.BigInteger(), nullable=False),
        sa.Column("submission_id", sa.BigInteger(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("points", sa.Double(), nullable=True),
        sa.Column("of", sa.Double(), nullable=True),
        sa.Column("passed", sa.Boolean(), nullable=False),
        sa.Column("changed", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("why", sa.String(), server_default=sa.text("''"), nullable=False),
        sa.Column("taken_at", sa.DateTime(timezone=True), nullable=True),
        sa.ForeignKeyConstraint(["recheck_id"], ["recheck.id"], name=op.f("fk_rechecked_recheck_id")),
        sa.ForeignKeyConstraint(["submission_id"], ["submission.id"], name=op.f("fk_rechecked_submission_id")),
        sa.PrimaryKeyConstraint("recheck_id", "submission_id", name=op.f("pk_rechecked")),
    )
    op.create_index(op.f("ix_rechecked_submission_id"), "rechecked", ["submission_id"], unique=False)
    op.create_table(
        "report",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("submission_id", sa.BigInteger(), nullable=False),
        sa.Column("exercise_version_id", sa.BigInteger(), nullable=False),
        sa.Column("rules_version", sa.String(), nullable=False),
        sa.Column("explained", sa.Boolean(), server_default=sa.text("true"), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(
            ["exercise_version_id"], ["exercise_version.id"], name=op.f("fk_report_exercise_version_id")
        ),
        sa.ForeignKeyConstraint(["submission_id"], ["submission.id"], name=op.f("fk_report_submission_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_report")),
        sa.UniqueConstraint(
            "submission_id", "exercise_version_id", "rules_version", "explained", name="uq_report_one_of_a_kind"
        ),
    )
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
    op.create_index(op.f("ix_review_submission_id"), "review", ["submission_id"], unique=False)
    op.execute(REFUSE_CHANGE)
    op.execute(ERASE_PERSON)
    for table in IMMUTABLE:
        op.execute(
            f"create trigger never_changed before update or delete on {table} "
            "for each row execute function refuse_change()"
        )


def downgrade() -> None:
    op.drop_index(op.f("ix_review_submission_id"), table_name="review")
    op.drop_table("review")
    op.drop_table("report")
    op.drop_index(op.f("ix_rechecked_submission_id"), table_name="rechecked")
    op.drop_table("rechecked")
    op.drop_index(op.f("ix_mark_submission_id"), table_name="mark", postgresql_where=sa.text("not explained"))
    op.drop_index(op.f("ix_mark_person_id"), table_name="mark")
    op.drop_index(op.f("ix_mark_assignment_id_person_id"), table_name="mark")
    op.drop_table("mark")
    op.drop_table("reviewed_submission")
    op.drop_index(op.f("ix_submission_file_id"), table_name="submission")
    op.drop_table("submission")
    op.drop_table("sheet_draft")
    op.drop_index(op.f("ix_recheck_assignment_id"), table_name="recheck")
    op.drop_table("recheck")
    op.drop_index(op.f("ix_uploaded_file_assignment_id_person_id"), table_name="uploaded_file")
    op.drop_table("uploaded_file")
    op.drop_table("draft")
    op.drop_table("plan_steps")
    op.drop_index(op.f("ix_plan_share_person_id"), table_name="plan_share")
    op.drop_index(op.f("ix_plan_share_class_id"), table_name="plan_share")
    op.drop_table("plan_share")
    op.drop_table("assignment")
    op.drop_index(op.f("ix_signed_in_person_id"), table_name="signed_in")
    op.drop_table("signed_in")
    op.drop_index(op.f("ix_plan_owner_id"), table_name="plan")
    op.drop_table("plan")
    op.drop_index(op.f("ix_membership_person_id"), table_name="membership")
    op.drop_table("membership")
    op.drop_index(op.f("ix_join_code_class_id"), table_name="join_code")
    op.drop_table("join_code")
    op.drop_index(op.f("ix_invitation_person_id"), table_name="invitation")
    op.drop_table("invitation")
    op.drop_table("exercise_version")
    op.drop_index(op.f("ix_event_person_id"), table_name="event")
    op.drop_index(op.f("ix_event_class_id_id"), table_name="event")
    op.drop_table("event")
    op.drop_index(op.f("ix_sign_in_failure_sign_in_failed_at"), table_name="sign_in_failure")
    op.drop_index(op.f("ix_sign_in_failure_address_failed_at"), table_name="sign_in_failure")
    op.drop_table("sign_in_failure")
    op.drop_index(op.f("ix_person_outside_id"), table_name="person")
    op.drop_table("person")
    op.drop_table("class")
    op.execute("drop function erase_person(bigint)")
    op.execute("drop function refuse_change()")
