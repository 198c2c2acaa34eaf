"""Submissions with their reports: added, never changed."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Select, func, select, true
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session, joinedload, selectinload

from cubedrill.store.tables import Assignment, Draft, Review, StoredSubmission

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


def times_of(db: Session, ids: Collection[int]) -> dict[int, datetime]:
    """When submissions were handed in, by id."""
    query = select(StoredSubmission.id, StoredSubmission.handed_in_at).where(StoredSubmission.id.in_(ids))
    return {i: at for i, at in db.execute(query)}  # noqa: C416 - a row is not a pair to the type checker


@dataclass(frozen=True)
class Done:
    """How a submission was done. begun_at: when its bench was opened first; typed, dragged: of its steps."""

    submission: int
    person: int
    handed_in_at: datetime
    begun_at: datetime | None
    steps: int
    typed: int
    dragged: int


def how_done(db: Session, ids: Collection[int]) -> Sequence[Done]:
    """How some submissions of steps were done, counted by the database."""
    entries = func.jsonb_array_elements(StoredSubmission.document["steps"]).table_valued("value").lateral()
    entry = entries.c.value.cast(JSONB)["entry"].astext
    query = (
        select(
            StoredSubmission.id,
            StoredSubmission.person_id,
            StoredSubmission.handed_in_at,
            Draft.begun_at,
            func.count(),
            func.count().filter(entry == "typed"),
            func.count().filter(entry == "dragged"),
        )
        .select_from(StoredSubmission)
        .join(entries, true())
        .outerjoin(
            Draft,
            (Draft.assignment_id == StoredSubmission.assignment_id) & (Draft.person_id == StoredSubmission.person_id),
        )
        .where(StoredSubmission.id.in_(ids), StoredSubmission.kind == "steps")
        .group_by(StoredSubmission.id, Draft.begun_at)
    )
    return [Done(*row) for row in db.execute(query)]


def _with_all() -> Select[StoredSubmission]:
    classroom = joinedload(StoredSubmission.assignment).joinedload(Assignment.classroom)
    return select(StoredSubmission).options(*_WITH_REPORTS, classroom)
