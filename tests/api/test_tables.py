"""Tables and migrations say the same; the demo is loaded once."""

from alembic.autogenerate import compare_metadata
from alembic.runtime.migration import MigrationContext
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from cubedrill.demo.load import load_demo
from cubedrill.store.database import migrate
from cubedrill.store.exercises import add_version
from cubedrill.store.shapes import EXERCISE
from cubedrill.store.tables import Base, ExerciseVersion, Person, StoredSubmission


def test_migrations_make_the_tables_that_the_code_uses(engine):
    with engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


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
