"""The way to the database: engine, transactions, migrations."""

from __future__ import annotations

from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, make_url, text

MIGRATIONS = Path(__file__).parent / "migrations"
# No statement may hold the others up: the longest of ours takes tenths of a second.
LIMITS = "-c statement_timeout=20000 -c lock_timeout=10000 -c idle_in_transaction_session_timeout=60000"


def engine_for(url: str, connections: int = 1) -> Engine:
    """Return an engine with so many connections; it notices one that the server dropped, and waits for none for ever.

    What is in statements, such as somebody's work, does not come into messages of errors.
    """
    return create_engine(
        url,
        pool_pre_ping=True,
        pool_size=connections,
        max_overflow=0,
        pool_timeout=10,
        hide_parameters=True,
        connect_args={"connect_timeout": 10, "options": LIMITS},
    )


def let_work(owner_url: str, url: str) -> None:
    """Let the role of an address read and change rows, and nothing else: tables and triggers are their owner's."""
    role = make_url(url).username
    if role is None or role == make_url(owner_url).username:
        return
    engine = engine_for(owner_url)
    with engine.begin() as connection:
        name = engine.dialect.identifier_preparer.quote(role)
        connection.execute(text(f"grant usage on schema public to {name}"))
        connection.execute(text(f"grant select, insert, update, delete on all tables in schema public to {name}"))
    engine.dispose()


def migrate(url: str, to: str = "head") -> None:
    """Bring the database to the newest tables, or to those of a revision."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    config.attributes["url"] = url
    command.upgrade(config, to)
