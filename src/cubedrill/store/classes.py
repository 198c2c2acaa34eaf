"""Classes, who belongs to them, and what is set for them."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session, joinedload

from cubedrill.store.tables import Assignment, Classroom, Membership, Person

_WITH_ALL = (joinedload(Assignment.classroom), joinedload(Assignment.exercise_version))


def assignments_of(db: Session, person_id: int, role: str) -> Sequence[Assignment]:
    """What is set for the classes in which a person has this role, the next due first."""
    query = select(Assignment).join(Membership, Membership.class_id == Assignment.class_id).options(*_WITH_ALL)
    query = query.where(Membership.person_id == person_id, Membership.role == role)
    if role == "student":
        query = query.where(or_(Assignment.opens_at.is_(None), Assignment.opens_at <= func.now()))
    return db.scalars(query.order_by(Assignment.due_at, Assignment.id)).all()


def assignment_by_id(db: Session, assignment_id: int) -> Assignment | None:
    """Find what is set, with its class and exercise."""
    return db.scalar(select(Assignment).options(*_WITH_ALL).where(Assignment.id == assignment_id))


def assignment_of(db: Session, class_id: int, version_id: int) -> Assignment | None:
    """Find where a version is set for a class."""
    query = select(Assignment).options(*_WITH_ALL)
    return db.scalar(query.where(Assignment.class_id == class_id, Assignment.exercise_version_id == version_id))


def role_in(db: Session, class_id: int, person_id: int) -> str | None:
    """Return a person's role in a class; none for a stranger."""
    query = select(Membership.role).where(Membership.class_id == class_id, Membership.person_id == person_id)
    return db.scalar(query)


def classes_taught(db: Session, person_id: int) -> Sequence[Classroom]:
    """The classes of which a person is an instructor, by name."""
    query = select(Classroom).join(Membership, Membership.class_id == Classroom.id)
    query = query.where(Membership.person_id == person_id, Membership.role == "instructor")
    return db.scalars(query.order_by(Classroom.name)).all()


def student_counts(db: Session, class_ids: Collection[int]) -> dict[int, int]:
    """How many students each of these classes has."""
    query = select(Membership.class_id, func.count()).where(Membership.role == "student")
    rows = db.execute(query.where(Membership.class_id.in_(class_ids)).group_by(Membership.class_id))
    return {class_id: count for class_id, count in rows}  # noqa: C416 - a row is not a pair to the type checker


def students_of(db: Session, class_id: int) -> Sequence[Person]:
    """All students of a class by name."""
    query = select(Person).join(Membership, Membership.person_id == Person.id)
    query = query.where(Membership.class_id == class_id, Membership.role == "student")
    return db.scalars(query.order_by(Person.name)).all()
