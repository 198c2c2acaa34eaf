"""Published exercises, a row a version."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from cubedrill.store.tables import ExerciseVersion


def newest_version(db: Session, exercise: str) -> ExerciseVersion | None:
    """Find the newest version of an exercise."""
    query = select(ExerciseVersion).where(ExerciseVersion.exercise == exercise)
    return db.scalar(query.order_by(ExerciseVersion.number.desc()).limit(1))


def add_version(db: Session, exercise: str, document: dict[str, Any]) -> ExerciseVersion:
    """Publish a document as the next version; the same document again is the version that is there."""
    newest = newest_version(db, exercise)
    if newest is not None and newest.document == document:
        return newest
    version = ExerciseVersion(exercise=exercise, number=newest.number + 1 if newest else 1, document=document)
    db.add(version)
    db.flush()
    return version
