"""Published exercises, a row a version."""

from __future__ import annotations

from sqlalchemy import select
from sqlalchemy.orm import Session

from cubedrill.core.judging.exercise import Exercise
from cubedrill.store.documents import EXERCISE
from cubedrill.store.tables import ExerciseVersion


def newest_version(db: Session, exercise: str) -> ExerciseVersion | None:
    """Find the newest version of an exercise."""
    query = select(ExerciseVersion).where(ExerciseVersion.exercise == exercise)
    return db.scalar(query.order_by(ExerciseVersion.number.desc()).limit(1))


def add_version(db: Session, exercise: Exercise, publisher_id: int | None = None) -> ExerciseVersion:
    """Publish an exercise as its next version; the same one again is the version that is there."""
    newest = newest_version(db, exercise.id)
    if newest is not None and EXERCISE.read(newest.document, newest.shape) == exercise:
        return newest
    version = ExerciseVersion(
        exercise=exercise.id,
        number=newest.number + 1 if newest else 1,
        document=EXERCISE.written(exercise),
        shape=EXERCISE.number,
        publisher_id=publisher_id,
    )
    db.add(version)
    db.flush()
    return version
