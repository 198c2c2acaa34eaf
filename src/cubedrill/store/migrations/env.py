"""Alembic's entry: takes the address from the caller, or from CUBE_DRILL_DATABASE_URL on the command line."""

import os

from alembic import context
from sqlalchemy import create_engine

from cubedrill.store.database import is_ours
from cubedrill.store.tables import Base

url = context.config.attributes.get("url") or os.environ["CUBE_DRILL_DATABASE_URL"]

engine = create_engine(url)
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, include_name=is_ours)
    with context.begin_transaction():
        context.run_migrations()
engine.dispose()
