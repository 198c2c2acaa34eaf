"""Submissions with their reports: added, never changed."""

from __future__ import annotations

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session, joinedload, selectinload

from cubedrill.store.tables import Assignment, Review, StoredSubmission

_WITH_REPORTS = (
    joinedload(StoredSubmission.person),
    joinedload(StoredSubmission.assignment).joinedload(Assignment.exercise_version),
    joinedload(StoredSubmission.exercise_version),
    joinedload(StoredSubmission.file),
    selectinload(StoredSubmission.reports),
    selectinload(StoredSubmission.reviews).joinedload(Review.person),
)


def submission_by_id(db: Session, submission_id: int) -> StoredSubmission | None:
    """Find a submission with its person, exercise, class and reports."""
    return db.scalar(_with_all().where(StoredSubmission.id == submission_id))


def submission_of_revision(
    db: Session, assignment: Assignment, person_id: int, kind: str, revision: int
) -> StoredSubmission | None:
    """Find what a person handed in from this revision of the draft of a kind, for the version that is set."""
    query = _with_all().where(
        StoredSubmission.assignment_id == assignment.id,
        StoredSubmission.exercise_version_id == assignment.exercise_version_id,
        StoredSubmission.person_id == person_id,
    )
    return db.scalar(query.where(StoredSubmission.kind == kind, StoredSubmission.draft_revision == revision))


def hold(db: Session, assignment_id: int, person_id: int) -> None:
    """Let nobody else hand in for this person and thing set until this transaction ends, so that numbers are no two."""
    db.execute(select(func.pg_advisory_xact_lock(func.hashtextextended(f"hand in {assignment_id} {person_id}", 0))))


def next_number(db: Session, assignment_id: int, person_id: int) -> int:
    """Return which try the next submission is, from 1."""
    query = select(func.max(StoredSubmission.number))
    query = query.where(StoredSubmission.assignment_id == assignment_id, StoredSubmission.person_id == person_id)
    return (db.scalar(query) or 0) + 1


def newest_of(db: Session, assignment_id: int, person_id: int) -> StoredSubmission | None:
    """Find what a person handed in last for one thing set."""
    query = select(StoredSubmission).where(
        StoredSubmission.assignment_id == assignment_id, StoredSubmission.person_id == person_id
    )
    return db.scalar(query.order_by(StoredSubmission.id.desc()).limit(1))


def _with_all() -> Select[StoredSubmission]:
    classroom = joinedload(StoredSubmission.assignment).joinedload(Assignment.classroom)
    return select(StoredSubmission).options(*_WITH_REPORTS, classroom)
