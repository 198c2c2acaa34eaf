"""Assignments of exercise versions to classes, and exceptions for single students."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from cubedrill.core.judging.late import days_late
from cubedrill.store.tables import Assignment, AssignmentException, Classroom, Membership

Key = tuple[int, int]  # an assignment and a person

_WITH_ALL = (joinedload(Assignment.classroom), joinedload(Assignment.exercise_version))


@dataclass(frozen=True)
class Terms:
    """The terms of one student at an assignment.

    attempts: the number allowed, or None for no limit. shown_from: when students may see what is shown after the due
    date: not before the class's, since others still work until then. exception: what differs for this student, if
    anything does.
    """

    due_at: datetime
    attempts: int | None
    excused: bool
    shown_from: datetime
    exception: AssignmentException | None

    @property
    def own_due_at(self) -> datetime | None:
        """The due date, if it is this student's own."""
        return self.exception.due_at if self.exception else None

    def days_late(self, submitted_at: datetime) -> int:
        """Return by how many started days a submission is late; 0 if it is in time."""
        return days_late(submitted_at, self.due_at)

    def attempts_left(self, made: int) -> int | None:
        """Return how many attempts are left after so many, or None if there is no limit."""
        return None if self.attempts is None else max(0, self.attempts - made)


def terms_with(assignment: Assignment, exception: AssignmentException | None) -> Terms:
    """Return what holds at an assignment for a student with this exception."""
    if exception is None:
        return Terms(assignment.due_at, assignment.attempts, False, assignment.due_at, None)
    due_at = exception.due_at or assignment.due_at
    return Terms(
        due_at=due_at,
        attempts=assignment.attempts if exception.attempts is None else exception.attempts,
        excused=exception.excused,
        shown_from=max(due_at, assignment.due_at),
        exception=exception,
    )


def terms_of(db: Session, assignment: Assignment, person_id: int) -> Terms:
    """Return what holds for a student at an assignment."""
    return terms_with(assignment, db.get(AssignmentException, (assignment.id, person_id)))


def exceptions_in(
    db: Session, assignment_ids: Collection[int], people: Collection[int] | None = None
) -> dict[Key, AssignmentException]:
    """Return the exceptions at some assignments, by assignment and person. people: only theirs."""
    query = select(AssignmentException).where(AssignmentException.assignment_id.in_(assignment_ids))
    if people is not None:
        query = query.where(AssignmentException.person_id.in_(people))
    return {(each.assignment_id, each.person_id): each for each in db.scalars(query)}


def assignments_of(db: Session, person_id: int, role: str) -> Sequence[Assignment]:
    """Assignments of the classes in which a person has this role, the next due first; of archived ones for students."""
    query = select(Assignment).join(Membership, Membership.class_id == Assignment.class_id).options(*_WITH_ALL)
    query = query.where(Membership.person_id == person_id, Membership.role == role, Membership.left_at.is_(None))
    if role == "instructor":
        query = query.join(Classroom, Classroom.id == Assignment.class_id).where(Classroom.archived_at.is_(None))
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
