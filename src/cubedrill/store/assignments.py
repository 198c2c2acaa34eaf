"""Assignments of exercise versions to classes."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from cubedrill.store.tables import Assignment, Classroom, Membership

_WITH_ALL = (joinedload(Assignment.classroom), joinedload(Assignment.exercise_version))


def assignments_of(db: Session, person_id: int, role: str) -> Sequence[Assignment]:
    """Assignments of the classes in which a person has this role, the next due first."""
    query = select(Assignment).join(Membership, Membership.class_id == Assignment.class_id).options(*_WITH_ALL)
    query = query.where(Membership.person_id == person_id, Membership.role == role, Membership.left_at.is_(None))
    return db.scalars(query.order_by(Assignment.due_at, Assignment.id)).all()


def assignment_by_id(db: Session, assignment_id: int) -> Assignment | None:
    """Find an assignment with its class and exercise."""
    return db.scalar(select(Assignment).options(*_WITH_ALL).where(Assignment.id == assignment_id))


def assignment_of(db: Session, class_id: int, version_id: int) -> Assignment | None:
    """Find the assignment of a version to a class."""
    query = select(Assignment).options(*_WITH_ALL)
    return db.scalar(query.where(Assignment.class_id == class_id, Assignment.exercise_version_id == version_id))


def assignment_counts(db: Session, class_ids: Collection[int]) -> dict[int, int]:
    """Count the assignments of each of these classes."""
    query = select(Assignment.class_id, func.count()).where(Assignment.class_id.in_(class_ids))
    return {class_id: count for class_id, count in db.execute(query.group_by(Assignment.class_id))}  # noqa: C416


def assignments_in(db: Session, class_id: int) -> Sequence[Assignment]:
    """Return the assignments of a class, the first due first."""
    query = select(Assignment).options(*_WITH_ALL).where(Assignment.class_id == class_id)
    return db.scalars(query.order_by(Assignment.due_at, Assignment.id)).all()


def lock_class(db: Session, class_id: int) -> None:
    """Wait until nobody else sets something for a class; others wait until the transaction ends."""
    db.execute(select(Classroom.id).where(Classroom.id == class_id).with_for_update())
