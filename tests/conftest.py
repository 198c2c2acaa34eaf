"""What all tests share: a throw-away PostgreSQL, cheap passwords, repeatable random input."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from itertools import count
from pathlib import Path

import pytest
from hypothesis import settings
from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.exc import OperationalError
from sqlalchemy.orm import Session
from tools.local_postgres import LocalPostgres

from cubedrill.demo.load import load_demo
from cubedrill.service import accounts
from cubedrill.service.explaining import explain_next
from cubedrill.store.database import migrate

# The same input in every run, and no limit on time: the machine may be busy.
settings.register_profile("repeatable", derandomize=True, deadline=None)
settings.load_profile("repeatable")

TEMPLATE = "template_of_the_demo"
DROPS = 6  # each waits for five seconds
_numbers = count(1)


@pytest.fixture(scope="session", autouse=True)
def cheap_passwords() -> Iterator[None]:
    """Hash passwords at the least cost: a real one takes a quarter of a second."""
    with pytest.MonkeyPatch.context() as patch:
        cheap = PasswordHash((Argon2Hasher(time_cost=1, memory_cost=8, parallelism=1),))
        patch.setattr(accounts, "PASSWORDS", cheap)
        patch.setattr(accounts, "_NOBODY", cheap.hash("nobody"))
        patch.setattr("cubedrill.demo.load.PASSWORDS", cheap)
        yield


@pytest.fixture(scope="session")
def postgres_url() -> Iterator[str]:
    """A server of its own, in memory where there is room for it."""
    memory = Path("/dev/shm")  # noqa: S108 - a folder of its own is made in it
    room = memory if memory.is_dir() else Path(tempfile.gettempdir())
    home = Path(tempfile.mkdtemp(prefix="cube-drill-test-", dir=room))
    home.chmod(0o755)
    server = LocalPostgres(home, durable=False)
    try:
        yield server.start()
    finally:
        server.remove()
        home.rmdir()


@pytest.fixture(scope="session")
def template(postgres_url: str) -> str:
    """A database with Saltmere Harbour in it, to be cloned; returns its server's address."""
    _execute(postgres_url, f"create database {TEMPLATE}")
    url = address_of(postgres_url, TEMPLATE)
    migrate(url)
    engine = create_engine(url)
    with Session(engine) as db, db.begin():
        load_demo(db)
    explain_all(engine)
    engine.dispose()
    return postgres_url


def explain_all(engine: Engine) -> None:
    """Work out why submissions missed where that did not come with the verdict, as the process for that does."""
    while explain_next(engine):
        pass


@contextmanager
def database_named(server: str, name: str) -> Iterator[str]:
    """A clone of the demo's database, gone afterwards, whatever came of the test."""
    _execute(server, f"create database {name} template {TEMPLATE}")
    try:
        yield address_of(server, name)
    finally:
        _drop(server, name)


def _drop(server: str, name: str) -> None:
    """Delete a database with the connections to it; on a busy machine these may take longer to end than it waits."""
    for attempts_left in reversed(range(DROPS)):
        try:
            return _execute(server, f"drop database if exists {name} with (force)")
        except OperationalError:
            if not attempts_left:
                raise


@pytest.fixture
def database_url(template: str) -> Iterator[str]:
    """A fresh database with Saltmere Harbour in it."""
    with database_named(template, f"test_{next(_numbers)}") as url:
        yield url


@pytest.fixture
def engine(database_url: str) -> Iterator[Engine]:
    """Connections to the fresh database."""
    engine = create_engine(database_url)
    yield engine
    engine.dispose()


def address_of(url: str, database: str) -> str:
    """Return the address of a database on the same server."""
    return url.rsplit("/", 1)[0] + "/" + database


def _execute(url: str, statement: str) -> None:
    engine = create_engine(url, isolation_level="AUTOCOMMIT")
    with engine.connect() as connection:
        connection.execute(text(statement))
    engine.dispose()
