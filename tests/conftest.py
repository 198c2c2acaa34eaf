"""What all tests share: a throw-away PostgreSQL, cheap passwords, repeatable random input."""

from __future__ import annotations

import fcntl
import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from itertools import count
from pathlib import Path

import pytest
from psycopg import OperationalError, connect
from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.orm import Session
from tools.local_postgres import LocalPostgres

from cubedrill.demo.load import load_demo
from cubedrill.service.people import accounts
from cubedrill.store.database import migrate
from tests import tiers  # noqa: F401 - it loads the profile of the property tests
from tests.jobs import do_all

TEMPLATE = "template_of_the_demo"
DROPS = 6  # each waits for five seconds
_numbers = count(1)


@pytest.fixture(scope="session", autouse=True)
def cheap_passwords() -> Iterator[None]:
    """Hash passwords at the least cost: a real one takes a quarter of a second."""
    with pytest.MonkeyPatch.context() as patch:
        cheap = PasswordHash((Argon2Hasher(time_cost=1, memory_cost=8, parallelism=1),))
        patch.setattr(accounts, "PASSWORDS", cheap)
        patch.setattr("cubedrill.demo.load.PASSWORDS", cheap)
        yield


@pytest.fixture(scope="session")
def shared(tmp_path_factory: pytest.TempPathFactory, worker_id: str) -> Path:
    """A folder that all workers of a run have."""
    own = tmp_path_factory.getbasetemp()
    return own if worker_id == "master" else own.parent


@contextmanager
def alone_in(folder: Path) -> Iterator[None]:
    """Let one worker at a time do something."""
    with (folder / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


@pytest.fixture(scope="session")
def postgres_url(shared: Path) -> Iterator[str]:
    """One server for all workers, in memory where there is room; the first one starts it, the last one removes it."""
    memory = Path("/dev/shm")  # noqa: S108 - a folder of its own is made in it
    room, named, users = (memory if memory.is_dir() else Path(tempfile.gettempdir())), shared / "home", shared / "users"
    with alone_in(shared):
        if not named.exists():
            home = Path(tempfile.mkdtemp(prefix="cube-drill-test-", dir=room))
            home.chmod(0o755)
            (shared / "url").write_text(LocalPostgres(home, durable=False).start())
            named.write_text(str(home))
        users.write_text(users.read_text() + "+" if users.exists() else "+")
    try:
        yield (shared / "url").read_text()
    finally:
        with alone_in(shared):
            users.write_text(users.read_text()[:-1])
            if not users.read_text():
                home = Path(named.read_text())
                LocalPostgres(home, durable=False).remove()
                home.rmdir()
                named.unlink()


@pytest.fixture(scope="session")
def template(postgres_url: str, shared: Path) -> str:
    """A database with Saltmere Harbour in it, to be cloned, made by whichever worker needs it first; returns the server.

    It is made under another name, so that what a worker that failed left half made is never cloned.
    """
    with alone_in(shared):
        if not _asked(postgres_url, f"select 1 from pg_database where datname = '{TEMPLATE}'"):  # noqa: S608 - a constant
            _make_template(postgres_url)
    return postgres_url


def _make_template(postgres_url: str) -> None:
    making = f"{TEMPLATE}_in_the_making"
    _execute(postgres_url, f"drop database if exists {making}")
    _execute(postgres_url, f"create database {making}")
    url = address_of(postgres_url, making)
    migrate(url)
    engine = create_engine(url)
    with Session(engine) as db, db.begin():
        load_demo(db, term=False)
    do_all(engine)
    engine.dispose()
    _execute(postgres_url, f"alter database {making} rename to {TEMPLATE}")


@contextmanager
def database_named(server: str, name: str, template: str = TEMPLATE) -> Iterator[str]:
    """A clone of a database, the demo's, gone afterwards, whatever came of the test; see `own_name`."""
    _execute(server, f"create database {name} template {template} strategy file_copy")
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


def own_name(name: str) -> str:
    """A name that no other worker of the run gives to a database."""
    return f"{name}_{os.environ.get('PYTEST_XDIST_WORKER', 'alone')}"


@pytest.fixture
def database_url(template: str) -> Iterator[str]:
    """A fresh database with Saltmere Harbour in it."""
    with database_named(template, own_name(f"test_{next(_numbers)}")) as url:
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


def _asked(url: str, query: str) -> bool:
    engine = create_engine(url)
    with engine.connect() as connection:
        found = connection.execute(text(query)).first() is not None
    engine.dispose()
    return found


def _execute(url: str, statement: str) -> None:
    # Not by an engine, which asks much of a server before it begins: it is done twice for each test.
    with connect(url.replace("+psycopg", ""), autocommit=True) as connection:
        connection.execute(statement)
