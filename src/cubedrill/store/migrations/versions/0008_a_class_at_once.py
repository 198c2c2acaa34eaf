"""Marks in columns; a verdict before its causes; sessions that are idle; who did not get in."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

OLD = "uq_report_submission_id_exercise_version_id_rules_version"
NEW = "uq_report_one_of_a_kind"

# What instructors set counts in the place of the program's points, the newest for each check; see service/marks.py.
MARKS = """
insert into mark (submission_id, assignment_id, person_id, points, "of", score, passed, changed, causes, explained)
select s.id, s.assignment_id, s.person_id, sums.points, sums.total,
       sums.points / nullif(sums.total, 0),
       coalesce(sums.points / nullif(sums.total, 0) * (1 + 1e-9)
                >= coalesce((v.document->>'pass_mark')::float8, 0.7), false),
       sums.changed, coalesce(causes.texts, '[]'), true
from submission s
join exercise_version v on v.id = s.exercise_version_id
join lateral (select document from report where submission_id = s.id order by id desc limit 1) r on true
join lateral (
  select coalesce(sum(coalesce(set_points.points, (c->>'points')::float8)), 0) as points,
         coalesce(sum((c->>'of')::float8), 0) as total,
         coalesce(bool_or(set_points.points is not null), false) as changed
  from jsonb_array_elements(r.document->'checks') c
  left join lateral (
    select points from review where submission_id = s.id and check_id = c->>'id' order by id desc limit 1
  ) set_points on true
  where c->>'verdict' <> 'not judged' or set_points.points is not null
) sums on true
left join lateral (
  select jsonb_agg(c->>'text') as texts from jsonb_array_elements(r.document->'causes') c
) causes on true
"""


def upgrade() -> None:
    op.add_column("report", sa.Column("explained", sa.Boolean(), server_default=sa.text("true"), nullable=False))
    op.drop_constraint(op.f(OLD), "report", type_="unique")
    columns = ["submission_id", "exercise_version_id", "rules_version", "explained"]
    op.create_unique_constraint(op.f(NEW), "report", columns)
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
        sa.Column("causes", JSONB(), nullable=False),
        sa.Column("explained", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["submission_id"], ["submission.id"], name=op.f("fk_mark_submission_id")),
        sa.ForeignKeyConstraint(["assignment_id"], ["assignment.id"], name=op.f("fk_mark_assignment_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_mark_person_id")),
        sa.PrimaryKeyConstraint("submission_id", name=op.f("pk_mark")),
    )
    op.create_index(op.f("ix_mark_assignment_id_person_id"), "mark", ["assignment_id", "person_id"])
    op.create_index(op.f("ix_mark_person_id"), "mark", ["person_id"])
    op.create_index(op.f("ix_mark_submission_id"), "mark", ["submission_id"], postgresql_where=sa.text("not explained"))
    op.execute(MARKS)
    op.add_column(
        "signed_in", sa.Column("seen_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False)
    )
    op.create_index(op.f("ix_sign_in_failure_sign_in_failed_at"), "sign_in_failure", ["sign_in", "failed_at"])
    op.alter_column("event", "person_id", nullable=True)


def downgrade() -> None:
    op.execute("alter table event disable trigger never_changed")
    op.execute("delete from event where person_id is null")
    op.execute("alter table event enable trigger never_changed")
    op.alter_column("event", "person_id", nullable=False)
    op.drop_index(op.f("ix_sign_in_failure_sign_in_failed_at"), "sign_in_failure")
    op.drop_column("signed_in", "seen_at")
    op.drop_table("mark")
    op.execute("alter table report disable trigger never_changed")
    op.execute("delete from report where not explained")
    op.execute("alter table report enable trigger never_changed")
    op.drop_constraint(op.f(NEW), "report", type_="unique")
    op.create_unique_constraint(op.f(OLD), "report", ["submission_id", "exercise_version_id", "rules_version"])
    op.drop_column("report", "explained")
