"""Plans, their steps, and who published a version."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

NOW = sa.text("now()")


def upgrade() -> None:
    op.add_column("exercise_version", sa.Column("publisher_id", sa.BigInteger(), nullable=True))
    op.create_foreign_key(
        op.f("fk_exercise_version_publisher_id"), "exercise_version", "person", ["publisher_id"], ["id"]
    )
    op.add_column("assignment", sa.Column("opens_at", sa.DateTime(timezone=True), nullable=True))
    op.create_table(
        "plan",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("owner_id", sa.BigInteger(), nullable=False),
        sa.Column("exercise", sa.String(), nullable=False),
        sa.Column("document", JSONB(), nullable=False),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("shared", sa.Boolean(), server_default=sa.text("false"), nullable=False),
        sa.Column("archived", sa.Boolean(), server_default=sa.text("false"), nullable=False),
        sa.Column("revision", sa.BigInteger(), nullable=False),
        sa.Column("saved_at", sa.DateTime(timezone=True), server_default=NOW, nullable=False),
        sa.ForeignKeyConstraint(["owner_id"], ["person.id"], name=op.f("fk_plan_owner_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_plan")),
    )
    op.create_index(op.f("ix_plan_owner_id"), "plan", ["owner_id"])
    op.create_table(
        "plan_steps",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=True), nullable=False),
        sa.Column("plan_id", sa.BigInteger(), nullable=False),
        sa.Column("part", sa.String(), nullable=False),
        sa.Column("person_id", sa.BigInteger(), nullable=False),
        sa.Column("steps", JSONB(), nullable=False),
        sa.Column("shape", sa.BigInteger(), server_default=sa.text("1"), nullable=False),
        sa.Column("off", JSONB(), server_default=sa.text("'[]'"), nullable=False),
        sa.Column("matches", JSONB(), server_default=sa.text("'{}'"), nullable=False),
        sa.Column("cursor", sa.BigInteger(), nullable=False),
        sa.Column("revision", sa.BigInteger(), nullable=False),
        sa.Column("saved_at", sa.DateTime(timezone=True), server_default=NOW, nullable=False),
        sa.ForeignKeyConstraint(["plan_id"], ["plan.id"], name=op.f("fk_plan_steps_plan_id")),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"], name=op.f("fk_plan_steps_person_id")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_plan_steps")),
        sa.UniqueConstraint("plan_id", "part", "person_id", name=op.f("uq_plan_steps_plan_id_part_person_id")),
    )


def downgrade() -> None:
    op.drop_table("plan_steps")
    op.drop_table("plan")
    op.drop_constraint(op.f("fk_exercise_version_publisher_id"), "exercise_version")
    op.drop_column("exercise_version", "publisher_id")
    op.drop_column("assignment", "opens_at")
