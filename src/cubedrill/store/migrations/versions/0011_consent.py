"""Requests to teach a class, plans shared with a named class or person, and an erasure that waits for nobody's work."""

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

# Rows that others may add to meanwhile are held first, so that nothing is added to what is being erased.
ERASE = """
create or replace function erase_person(erased bigint) returns void language plpgsql security definer
set search_path from current as $$
begin
    perform set_config('cube_drill.erasing', 'on', true);
    perform 1 from person where id = erased for update;
    perform 1 from mark where person_id = erased for update;
    perform 1 from submission where person_id = erased for update;
    delete from looked_at where submission_id in (select id from submission where person_id = erased);
    delete from rechecked where submission_id in (select id from submission where person_id = erased);
    delete from review where submission_id in (select id from submission where person_id = erased);
    delete from mark where person_id = erased;
    delete from report where submission_id in (select id from submission where person_id = erased);
    delete from submission where person_id = erased;
    delete from handed_file where person_id = erased;
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
ADDED = """    delete from plan_share where person_id = erased;
    delete from invitation where person_id = erased;
"""
SHARED_BEFORE = """
insert into plan_share (plan_id, class_id, "right")
select plan.id, membership.class_id, 'edit' from plan
join membership on membership.person_id = plan.owner_id
where plan.shared and membership.role = 'instructor' and membership.left_at is null
"""

# The points set by hand of each check, for the table of checks: those of the newest review of the check.
BY_HAND = """
update mark set checks = (
  select jsonb_agg(c || jsonb_build_object('by_hand', (
    select points from review
    where submission_id = mark.submission_id and check_id = c->>'id' order by id desc limit 1
  )) order by n)
  from jsonb_array_elements(mark.checks) with ordinality as each (c, n)
) where mark.checks <> '[]'
"""


def upgrade() -> None:
    op.create_table(
        "plan_share",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("plan_id", sa.BigInteger(), nullable=False),
        sa.Column("class_id", sa.BigInteger(), nullable=True),
        sa.Column("person_id", sa.BigInteger(), nullable=True),
        sa.Column("right", sa.String(), nullable=False),
        sa.CheckConstraint("num_nonnulls(class_id, person_id) = 1", name=op.f("ck_plan_share_with_one")),
        sa.ForeignKeyConstraint(["plan_id"], ["plan.id"], name=op.f("fk_plan_share_plan_id")),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_plan_share_class_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_plan_share_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_plan_share")),
        sa.UniqueConstraint("plan_id", "class_id", name=op.f("uq_plan_share_plan_id_class_id")),
        sa.UniqueConstraint("plan_id", "person_id", name=op.f("uq_plan_share_plan_id_person_id")),
    )
    op.create_index(op.f("ix_plan_share_class_id"), "plan_share", ["class_id"])
    op.create_index(op.f("ix_plan_share_person_id"), "plan_share", ["person_id"])
    op.create_table(
        "invitation",
        sa.Column("class_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("by_id", sa.BigInteger(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_invitation_class_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_invitation_person_id")),
        sa.ForeignKeyConstraint(["by_id"], ["person.id"], name=op.f("fk_invitation_by_id")),
        sa.PrimaryKeyConstraint("class_id", "person_id", name=op.f("pk_invitation")),
    )
    op.create_index(op.f("ix_invitation_person_id"), "invitation", ["person_id"])
    op.add_column("handed_file", sa.Column("sent_order", sa.BigInteger(), server_default=sa.text("0"), nullable=False))
    op.execute(SHARED_BEFORE)
    op.execute(BY_HAND)
    op.drop_column("plan", "shared")
    op.execute(ERASE)


def downgrade() -> None:
    op.add_column("plan", sa.Column("shared", sa.Boolean(), server_default=sa.text("false"), nullable=False))
    op.execute("update plan set shared = true where id in (select plan_id from plan_share)")
    op.execute("drop function erase_person(bigint)")
    op.drop_column("handed_file", "sent_order")
    op.drop_table("invitation")
    op.drop_table("plan_share")
    op.execute(ERASE.replace("create or replace", "create").replace(ADDED, ""))
