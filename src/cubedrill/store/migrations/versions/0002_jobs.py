"""The job queue: the tables of procrastinate 3.10.0 as it ships them, and why jobs failed."""

from pathlib import Path
from typing import Any

import sqlalchemy as sa
from alembic import op

revision = "v0_2_0002"
down_revision = "v0_2_0001"
branch_labels = None
depends_on = None

QUEUE = Path(__file__).parents[1] / "procrastinate_3_10_0.sql"

DROP_QUEUE = """
drop table procrastinate_events, procrastinate_periodic_defers, procrastinate_jobs, procrastinate_workers cascade;
do $$ declare found record; begin
    for found in select p.oid::regprocedure as name from pg_proc p join pg_namespace n on n.oid = p.pronamespace
        where n.nspname = current_schema() and p.proname like 'procrastinate\\_%' loop
        execute 'drop function ' || found.name || ' cascade';
    end loop;
end $$;
drop type procrastinate_job_to_defer_v1, procrastinate_job_status, procrastinate_job_event_type cascade;
"""


def upgrade() -> None:
    _run(QUEUE.read_text())
    op.create_table(
        "job_failure",
        sa.Column("job_id", sa.BigInteger(), autoincrement=False, nullable=False),
        sa.Column("why", sa.String(), nullable=False),
        sa.Column("failed_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.PrimaryKeyConstraint("job_id", name=op.f("pk_job_failure")),
    )


def downgrade() -> None:
    op.drop_table("job_failure")
    _run(DROP_QUEUE)


def _run(statements: str) -> None:
    """Run several statements, percent signs in them too: as they are, by the driver."""
    driver: Any = op.get_bind().connection.driver_connection
    driver.execute(statements)
