"""Tables and migrations say the same; the demo is loaded once."""

import pytest
from alembic.autogenerate import compare_metadata
from alembic.runtime.migration import MigrationContext
from fastapi.testclient import TestClient
from sqlalchemy import create_engine, func, make_url, select, text
from sqlalchemy.exc import DBAPIError
from sqlalchemy.orm import Session

from cubedrill.api.app import create_app
from cubedrill.demo.load import PASSWORD, load_demo
from cubedrill.settings import Settings
from cubedrill.store.database import is_ours, let_work, migrate
from cubedrill.store.documents import EXERCISE
from cubedrill.store.plans.versions import add_version
from cubedrill.store.tables import Base, ExerciseVersion, Person, StoredSubmission
from tests.api.conftest import RIGHT
from tests.conftest import _execute


def test_migrations_make_the_tables_that_the_code_uses(engine):
    with engine.connect() as connection:
        assert (
            compare_metadata(MigrationContext.configure(connection, opts={"include_name": is_ours}), Base.metadata)
            == []
        )


def test_starting_again_changes_nothing(database_url, engine):
    migrate(database_url)
    with Session(engine) as db, db.begin():
        before = [db.scalar(select(func.count()).select_from(table)) for table in (Person, StoredSubmission)]
        assert load_demo(db) is False
        assert [db.scalar(select(func.count()).select_from(table)) for table in (Person, StoredSubmission)] == before


def test_a_changed_exercise_is_a_new_version_and_the_same_one_is_not(engine):
    with Session(engine) as db, db.begin():
        old = db.scalars(select(ExerciseVersion).where(ExerciseVersion.exercise == "crates-morning-boat")).one()
        exercise = EXERCISE.read(old.document, old.shape)
        assert add_version(db, exercise).id == old.id
        changed = add_version(db, exercise.model_copy(update={"title": "Crates again"}))
        assert (changed.number, old.document["title"]) == (2, "Crates for the morning boat")


def test_the_role_that_serves_works_with_rows_and_owns_nothing(postgres_url, database_url):
    """The serving role can neither empty an immutable table nor remove its trigger."""
    _execute(postgres_url, "drop role if exists worker")
    _execute(postgres_url, "create role worker login password 'made-up'")
    worker = make_url(database_url).set(username="worker", password="made-up").render_as_string(hide_password=False)
    let_work(database_url, worker)
    with TestClient(create_app(Settings(database_url=worker))) as http:
        answer = http.post("/api/session", json={"sign_in": "pim", "password": PASSWORD})
        headers = {"X-CSRF-Token": answer.json()["csrf_token"]}
        body = {"revision": 0, "steps": [RIGHT], "cursor": 1}
        assert http.put("/api/assignments/1/draft", json=body, headers=headers).status_code == 200
        submitted = http.post("/api/assignments/1/submissions", json={"revision": 1}, headers=headers)
        assert submitted.status_code == 201, submitted.text
    engine = create_engine(worker)
    with engine.connect() as db:
        for statement in (
            "truncate report", "truncate submission cascade", "drop table review", "create table mine (id int)",
            "alter table report disable trigger never_changed", "drop trigger never_changed on submission",
            "drop function refuse_change() cascade", "update report set rules_version = ''", "delete from submission",
            "set session_replication_role = replica",
        ):  # fmt: skip
            with pytest.raises(DBAPIError), db.begin():
                db.execute(text(statement))
    engine.dispose()
