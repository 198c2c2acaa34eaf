"""Migrations: there and back, and by several processes at once on an empty database."""

from concurrent.futures import ThreadPoolExecutor

import pytest
from sqlalchemy import inspect, text

from cubedrill.serving import prepare
from cubedrill.settings import Settings
from cubedrill.store.database import engine_for
from cubedrill.store.tables import Base
from tests.conftest import database_named, own_name


@pytest.fixture
def empty_url(postgres_url):
    with database_named(postgres_url, own_name("empty"), "template0") as url:
        yield url


def test_processes_that_start_at_once_on_an_empty_database_migrate_one_after_the_other(empty_url):
    settings = Settings(database_url=empty_url)
    with ThreadPoolExecutor(4) as several:
        list(several.map(lambda _n: prepare(settings), range(4)))
    engine = engine_for(empty_url)
    with engine.connect() as connection:
        assert set(Base.metadata.tables) <= set(inspect(connection).get_table_names())
        assert connection.scalar(text("select count(*) from alembic_version")) == 1
    engine.dispose()
