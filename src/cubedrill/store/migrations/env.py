"""Alembic's entry: takes the address from the caller, or from CUBE_DRILL_DATABASE_URL on the command line."""

import os

from alembic import context
from sqlalchemy import create_engine

from cubedrill.store.tables import Base

url = context.config.attributes.get("url") or os.environ["CUBE_DRILL_DATABASE_URL"]


def _is_ours(name: str | None, kind: str, _parents: object) -> bool:
    """Tell whether a table is ours: those of the job queue come from its own script."""
    return kind != "table" or not (name or "").startswith("procrastinate_")


engine = create_engine(url)
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, include_name=_is_ours)
    with context.begin_transaction():
        context.run_migrations()
engine.dispose()
