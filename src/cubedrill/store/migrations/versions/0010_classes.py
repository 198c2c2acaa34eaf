"""People of classes, how things are set, who has looked, and the one way in which work is erased."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None

# Somebody's work is erased by this function, which is its owner's: the role that serves may call it, and delete nothing
# of the kind by itself.
GUARD = """
create or replace function refuse_change() returns trigger language plpgsql as $$
begin
    if current_setting('cube_drill.erasing', true) = 'on'
       and current_user = pg_get_userbyid((select relowner from pg_class where oid = tg_relid)) then
        return case tg_op when 'DELETE' then old else new end;
    end if;
    raise exception 'rows of % are never changed', tg_table_name;
end $$
"""
OLD_GUARD = """
create or replace function refuse_change() returns trigger language plpgsql as $$
begin
    raise exception 'rows of % are never changed', tg_table_name;
end $$
"""
ERASE = """
create function erase_person(erased bigint) returns void language plpgsql security definer
set search_path from current as $$
begin
    perform set_config('cube_drill.erasing', 'on', true);
    delete from looked_at where submission_id in (select id from submission where person_id = erased);
    delete from rechecked where submission_id in (select id from submission where person_id = erased);
    delete from review where submission_id in (select id from submission where person_id = erased);
    delete from mark where person_id = erased;
    delete from report where submission_id in (select id from submission where person_id = erased);
    delete from submission where person_id = erased;
    delete from handed_file where person_id = erased;
    delete from draft where person_id = erased;
    delete from sheet_draft where person_id = erased;
    delete from signed_in where person_id = erased;
    delete from sign_in_failure where sign_in = (select sign_in from person where id = erased);
    update event set facts = facts - 'sign_in' - 'address' where person_id = erased;
    update person set name = 'Somebody erased', sign_in = 'erased-' || erased, password_hash = '', email = null,
        outside_id = null, one_time_until = null, makes_classes = false, erased_at = now() where id = erased;
    perform set_config('cube_drill.erasing', 'off', true);
end $$
"""


# What lists need of each report, in the row of its mark; see service/marks.py.
SUMMED_UP = """
update mark set causes = told.causes, checks = told.checks
from (
  select m.submission_id,
         coalesce((
           select jsonb_agg(jsonb_build_object('code', c->'code', 'object', c->'object', 'text', c->'text') order by n)
           from jsonb_array_elements(r.document->'causes') with ordinality as each (c, n)
         ), '[]') as causes,
         coalesce((
           select jsonb_agg(jsonb_build_object(
             'id', c->'id', 'verdict', c->'verdict', 'points', c->'points', 'off', pg_temp.tolerances_off(c),
             'miss', pg_temp.miss(c)
           ) order by n)
           from jsonb_array_elements(r.document->'checks') with ordinality as each (c, n)
         ), '[]') as checks
  from mark m
  join lateral (select document from report where submission_id = m.submission_id order by id desc limit 1) r on true
) told
where told.submission_id = mark.submission_id
"""
NUMBERS = """
create function pg_temp.numbers(value jsonb) returns float8[] language sql as $$
  select case jsonb_typeof(value)
    when 'array' then array(
      select n::float8 from jsonb_array_elements_text(value) with ordinality as e (n, i) order by i
    )
    when 'number' then array[(value #>> '{}')::float8] end
$$
"""
OFF = """
create function pg_temp.tolerances_off(c jsonb) returns float8 language sql as $$
  select coalesce(max(case when t > 0 then abs(d) / t else 0 end), 0)
  from unnest(pg_temp.numbers(c->'difference')) with ordinality as off (d, i)
  join lateral (
    select coalesce((pg_temp.numbers(c->'tolerance'))[i], (pg_temp.numbers(c->'tolerance'))[1]) as t
  ) allowed on true
$$
"""
MISS = """
create function pg_temp.miss(c jsonb) returns jsonb language sql as $$
  select case
    when jsonb_typeof(c->'submitted') = 'array' and jsonb_array_length(c->'axes') > 0
         and jsonb_array_length(c->'submitted') = jsonb_array_length(c->'axes')
         and jsonb_array_length(c->'target') = jsonb_array_length(c->'axes')
    then (
      select jsonb_agg(f - w order by i)
      from unnest(pg_temp.numbers(c->'submitted'), pg_temp.numbers(c->'target')) with ordinality as pairs (f, w, i)
    )
    else to_jsonb(pg_temp.numbers(c->'difference')) end
$$
"""


def _when(name: str, *, nullable: bool = True) -> sa.Column[Any]:
    default = None if nullable else sa.text("now()")
    return sa.Column(name, sa.DateTime(timezone=True), server_default=default, nullable=nullable)


def _text(name: str, default: str | None = None) -> sa.Column[str]:
    given = None if default is None else sa.text(f"'{default}'")
    return sa.Column(name, sa.String(), server_default=given, nullable=default is None)


def _flag(name: str, default: str) -> sa.Column[bool]:
    return sa.Column(name, sa.Boolean(), server_default=sa.text(default), nullable=False)


def _count(name: str) -> sa.Column[int]:
    return sa.Column(name, sa.BigInteger(), nullable=True)


def _columns() -> dict[str, tuple[sa.Column[Any], ...]]:
    """What tables that are there already get, by table; made anew, since a column belongs to one table alone."""
    return {
        "person": (
            _text("email"), _text("outside_id"), _when("one_time_until"), _flag("makes_classes", "false"),
            _when("erased_at"),
        ),
        "class": (_text("time_zone", "UTC"),),
        "membership": (_when("since", nullable=False), _when("left_at")),
        "assignment": (
            _count("tries"), _text("counts", "best"), _text("told"), _text("told_when", "at once"),
            _flag("late_counts", "true"), _flag("drafts_shown", "false"),
        ),
        "draft": (_when("begun_at", nullable=False), _count("in_place"), _count("checks")),
    "plan_steps": (_when("begun_at", nullable=False),),
    "mark": (sa.Column("checks", JSONB(), server_default=sa.text("'[]'"), nullable=False),),
        "signed_in": (_when("began_at", nullable=False), _text("address", ""), _text("browser", "")),
        "event": (_count("class_id"),),
    }  # fmt: skip


def upgrade() -> None:
    for table, columns in _columns().items():
        for column in columns:
            op.add_column(table, column)
    op.drop_constraint(op.f("uq_class_name"), "class", type_="unique")
    op.create_index(op.f("ix_person_outside_id"), "person", ["outside_id"])
    op.create_foreign_key(op.f("fk_event_class_id"), "event", "class", ["class_id"], ["id"])
    op.create_index(op.f("ix_event_class_id_id"), "event", ["class_id", "id"])
    op.create_table(
        "join_code",
        sa.Column("code", sa.String(), nullable=False),
        sa.Column("class_id", sa.BigInteger(), nullable=False),
        sa.Column("ends_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["class_id"], ["class.id"], name=op.f("fk_join_code_class_id")),
        sa.PrimaryKeyConstraint("code", name=op.f("pk_join_code")),
    )
    op.create_index(op.f("ix_join_code_class_id"), "join_code", ["class_id"])
    op.create_table(
        "looked_at",
        sa.Column("submission_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.ForeignKeyConstraint(["submission_id"], ["submission.id"], name=op.f("fk_looked_at_submission_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_looked_at_person_id")),
        sa.PrimaryKeyConstraint("submission_id", name=op.f("pk_looked_at")),
    )
    _add_rechecks()
    for statement in (NUMBERS, OFF, MISS, SUMMED_UP):
        op.execute(statement)
    op.alter_column("mark", "checks", server_default=None)
    op.execute(GUARD)
    op.execute(ERASE)


def _add_rechecks() -> None:
    op.create_table(
        "recheck",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("assignment_id", sa.BigInteger(), nullable=False),
        sa.Column("exercise_version_id", sa.BigInteger(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        _when("asked_at", nullable=False),
        _text("state", "working"),
        sa.Column("total", sa.BigInteger(), nullable=False),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_recheck_assignment_id")),
        sa.ForeignKeyConstraint(
            ["exercise_version_id"], ["exercise_version.id"], name=op.f("fk_recheck_exercise_version_id")
        ),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_recheck_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recheck")),
    )
    op.create_index(op.f("ix_recheck_assignment_id"), "recheck", ["assignment_id"])
    op.create_table(
        "rechecked",
        sa.Column("recheck_id", sa.BigInteger(), nullable=False),
        sa.Column("submission_id", sa.BigInteger(), nullable=False),
        sa.Column("document", JSONB(), nullable=True),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("points", sa.Double(), nullable=True),
        sa.Column("of", sa.Double(), nullable=True),
        sa.Column("passed", sa.Boolean(), nullable=False),
        sa.Column("changed", JSONB(), nullable=False),
        _text("why", ""),
        _when("taken_at"),
        sa.ForeignKeyConstraint(["recheck_id"], ["recheck.id"], name=op.f("fk_rechecked_recheck_id")),
        sa.ForeignKeyConstraint(["submission_id"], ["submission.id"], name=op.f("fk_rechecked_submission_id")),
        sa.PrimaryKeyConstraint("recheck_id", "submission_id", name=op.f("pk_rechecked")),
    )
    op.create_index(op.f("ix_rechecked_submission_id"), "rechecked", ["submission_id"])


def downgrade() -> None:
    op.drop_table("rechecked")
    op.drop_table("recheck")
    op.execute("drop function erase_person(bigint)")
    op.execute(
        "update mark set causes = coalesce((select jsonb_agg(c->'text') from jsonb_array_elements(causes) c), '[]')"
    )
    op.execute(OLD_GUARD)
    op.drop_table("looked_at")
    op.drop_table("join_code")
    op.drop_index(op.f("ix_event_class_id_id"), "event")
    op.drop_constraint(op.f("fk_event_class_id"), "event", type_="foreignkey")
    op.drop_index(op.f("ix_person_outside_id"), "person")
    op.create_unique_constraint(op.f("uq_class_name"), "class", ["name"])
    for table, columns in _columns().items():
        for column in columns:
            op.drop_column(table, column.name)
