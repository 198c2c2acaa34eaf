"""Submissions with their reports: added, never changed."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session, joinedload, selectinload

from cubedrill.store.tables import Assignment, Review, Submission

_WITH_REPORTS = (
    joinedload(Submission.person),
    joinedload(Submission.assignment).joinedload(Assignment.exercise_version),
    selectinload(Submission.reports),
    selectinload(Submission.reviews).joinedload(Review.person),
)


def submission_by_id(db: Session, submission_id: int) -> Submission | None:
    """Find a submission with its person, exercise, class and reports."""
    return db.scalar(_with_all().where(Submission.id == submission_id))


def submission_of_revision(
    db: Session, assignment_id: int, person_id: int, kind: str, revision: int
) -> Submission | None:
    """Find what a person handed in from this revision of the draft of a kind."""
    query = _with_all().where(Submission.assignment_id == assignment_id, Submission.person_id == person_id)
    return db.scalar(query.where(Submission.kind == kind, Submission.draft_revision == revision))


def next_number(db: Session, assignment_id: int, person_id: int) -> int:
    """Return which try the next submission is, from 1."""
    query = select(func.max(Submission.number))
    query = query.where(Submission.assignment_id == assignment_id, Submission.person_id == person_id)
    return (db.scalar(query) or 0) + 1


def submissions_of_assignment(db: Session, assignment_id: int) -> Sequence[Submission]:
    """All submissions of what is set, in the order in which they came."""
    query = select(Submission).options(*_WITH_REPORTS).where(Submission.assignment_id == assignment_id)
    return db.scalars(query.order_by(Submission.id)).all()


def submissions_of_person(db: Session, person_id: int) -> Sequence[Submission]:
    """All submissions of a person, in the order in which they came."""
    query = select(Submission).options(*_WITH_REPORTS).where(Submission.person_id == person_id)
    return db.scalars(query.order_by(Submission.id)).all()


def _with_all() -> Select[Submission]:
    classroom = joinedload(Submission.assignment).joinedload(Assignment.classroom)
    return select(Submission).options(*_WITH_REPORTS, classroom)
