"""Migrations: rows of an earlier release, and several processes at once on an empty database."""

from concurrent.futures import ThreadPoolExecutor

import pytest
from alembic import command
from alembic.config import Config
from sqlalchemy import inspect, select, text
from sqlalchemy.orm import Session

from cubedrill.serving import prepare
from cubedrill.settings import Settings
from cubedrill.store.assignments import terms_of
from cubedrill.store.database import engine_for
from cubedrill.store.tables import Assignment, Base, Mark, Review
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


# A class with an assignment, a submission with its mark and a review, as release 0.2.0 kept them.
OLD_ROWS = (
    "insert into person (sign_in, name, password_hash) values ('pim', 'Pim Tasker', '')",
    "insert into class (name) values ('Saltmere evening class')",
    "insert into exercise_version (exercise, number, document) values ('crates', 1, '{}')",
    "insert into assignment (class_id, exercise_version_id, due_at, late_counts, attempts) values (1, 1, now(), false, 3)",
    "insert into submission (assignment_id, exercise_version_id, person_id, number, draft_revision, document) "
    "values (1, 1, 1, 1, 1, '{}')",
    'insert into mark (submission_id, assignment_id, person_id, points, "of", score, passed, changed, causes, checks, '
    "explained) values (1, 1, 1, 3, 4, 0.75, true, false, '[]', '[]', true)",
    "insert into review (submission_id, person_id, text) values (1, 1, 'Well done.')",
)


def test_rows_of_release_0_2_0_mean_the_same_after_the_migrations(empty_url):
    config = Config()
    config.set_main_option("script_location", "cubedrill.store:migrations")
    config.attributes["url"] = empty_url
    command.upgrade(config, "v0_2_0002")
    engine = engine_for(empty_url)
    with engine.begin() as connection:
        for statement in OLD_ROWS:
            connection.execute(text(statement))
    command.upgrade(config, "head")
    with Session(engine) as db:
        assignment = db.get_one(Assignment, 1)
        terms = terms_of(db, assignment, 1)
        assert (assignment.late_policy.kind, assignment.weight, assignment.classroom.archived_at) == (
            "does not count",
            1,
            None,
        )
        assert (terms.due_at, terms.attempts, terms.excused) == (assignment.due_at, 3, False)
        assert db.get_one(Mark, 1).to_come == 0
        assert db.scalars(select(Review)).one().place is None
    engine.dispose()
