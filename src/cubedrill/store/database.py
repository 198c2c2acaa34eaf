"""The way to the database: engine, transactions, migrations."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine

MIGRATIONS = Path(__file__).parent / "migrations"


def engine_for(url: str) -> Engine:
    """Return an engine that notices a connection which the server dropped, and does not wait for one for ever."""
    return create_engine(url, pool_pre_ping=True, pool_size=10, pool_timeout=10, connect_args={"connect_timeout": 10})


def migrate(url: str, to: str = "head") -> None:
    """Bring the database to the newest tables, or to those of a revision."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    config.attributes["url"] = url
    command.upgrade(config, to)
