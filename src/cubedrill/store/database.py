"""The way to the database: engine, transactions, migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, Final, TypeVar

import psycopg
from alembic import command
from alembic.config import Config
from psycopg.abc import PQGen
from psycopg.pq import TransactionStatus
from sqlalchemy import Engine, create_engine, event, make_url, text

MIGRATING: Final = 5  # what is held while tables are changed; numbers mean something to this application alone
MIGRATIONS = Path(__file__).parent / "migrations"
# No statement may hold the others up: the longest of ours takes tenths of a second.
ANSWERS_S: Final = 25.0
_INTERVAL: Final = 0.1  # seconds after which a wait looks for Ctrl-C, as psycopg has it
LIMITS = "-c statement_timeout=20000 -c lock_timeout=10000 -c idle_in_transaction_session_timeout=60000"


Waited = TypeVar("Waited")


class LimitedConnection(psycopg.Connection[Any]):
    """A connection that gives up when the server says nothing for ANSWERS_S: a frozen one would hold us for ever.

    Longer than any statement may take, so that the server's own limits come first.
    """

    def wait(self, gen: PQGen[Waited], interval: float = 0.0, timeout: float | None = None) -> Waited:
        """Run an exchange with the server to its end; raise OperationalError, and be closed, if it takes too long."""
        try:
            return super().wait(gen, interval or _INTERVAL, ANSWERS_S if timeout is None else timeout)
        except psycopg.OperationalError:
            if self.pgconn.transaction_status == TransactionStatus.ACTIVE:  # the server is in the middle of something
                self.close()
            raise


def engine_for(url: str, connections: int = 1) -> Engine:
    """Return an engine with so many connections; it notices one that the server dropped, and waits for none for ever.

    What is in statements, such as somebody's work, does not come into messages of errors.
    """
    engine = create_engine(
        url,
        pool_pre_ping=True,
        pool_size=connections,
        max_overflow=0,
        pool_timeout=10,
        hide_parameters=True,
        connect_args={"connect_timeout": 10, "options": LIMITS},
    )

    @event.listens_for(engine, "do_connect")
    def connect(_dialect: Any, _record: Any, words: list[Any], facts: dict[str, Any]) -> Any:
        return LimitedConnection.connect(*words, **facts)

    return engine


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
        connection.execute(text(f"grant usage on all sequences in schema public to {name}"))  # the job queue's
    engine.dispose()


def is_ours(name: str | None, kind: str, _parents: object) -> bool:
    """Tell Alembic whether a table is ours: those of the job queue come from its own script."""
    return kind != "table" or not (name or "").startswith("procrastinate_")


@contextmanager
def one_at_a_time(url: str) -> Iterator[None]:
    """Wait until nobody else migrates this database, however long that takes, and let nobody else do so meanwhile."""
    address = make_url(url).set(drivername="postgresql").render_as_string(hide_password=False)
    with psycopg.connect(address, autocommit=True, connect_timeout=10) as connection:
        connection.execute("select pg_advisory_lock(%s)", (MIGRATING,))  # it ends with the connection
        yield


def migrate(url: str, to: str = "head") -> None:
    """Bring the database to the newest tables, or to those of a revision."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS).replace("%", "%%"))
    config.attributes["url"] = url
    command.upgrade(config, to)
