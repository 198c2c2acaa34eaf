"""Submissions with their reports: added, never changed."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime

from sqlalchemy import Select, func, select, true
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session, joinedload, selectinload

from cubedrill.store.tables import Assignment, Draft, Person, Review, StoredSubmission

FEW = 20  # that are held at once, where all are gone through
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
    """Find what a person submitted from this revision of the draft of a kind, for the assigned version."""
    query = _with_all().where(
        StoredSubmission.assignment_id == assignment.id,
        StoredSubmission.exercise_version_id == assignment.exercise_version_id,
        StoredSubmission.person_id == person_id,
    )
    return db.scalar(query.where(StoredSubmission.kind == kind, StoredSubmission.draft_revision == revision))


def hold(db: Session, assignment_id: int, person_id: int) -> None:
    """Let nobody else submit for this person and assignment until this transaction ends, so that numbers are no two."""
    db.execute(select(func.pg_advisory_xact_lock(func.hashtextextended(f"submit {assignment_id} {person_id}", 0))))


def next_number(db: Session, assignment_id: int, person_id: int) -> int:
    """Return which try the next submission is, from 1."""
    query = select(func.max(StoredSubmission.number))
    query = query.where(StoredSubmission.assignment_id == assignment_id, StoredSubmission.person_id == person_id)
    return (db.scalar(query) or 0) + 1


def newest_of(db: Session, assignment_id: int, person_id: int) -> StoredSubmission | None:
    """Find what a person submitted last for one assignment."""
    query = select(StoredSubmission).where(
        StoredSubmission.assignment_id == assignment_id, StoredSubmission.person_id == person_id
    )
    return db.scalar(query.order_by(StoredSubmission.id.desc()).limit(1))


@dataclass(frozen=True)
class Done:
    """How a submission was made. begun_at: when its bench was opened first; typed, dragged: counts of steps."""

    submission: int
    person: int
    submitted_at: datetime
    begun_at: datetime | None
    steps: int
    typed: int
    dragged: int


def how_done(db: Session, ids: Collection[int]) -> Sequence[Done]:
    """How some submissions of steps were made, counted by the database."""
    entries = func.jsonb_array_elements(StoredSubmission.document["steps"]).table_valued("value").lateral()
    entry = entries.c.value.cast(JSONB)["entry"].astext
    query = (
        select(
            StoredSubmission.id,
            StoredSubmission.person_id,
            StoredSubmission.submitted_at,
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


def changed_by(db: Session, ids: Collection[int]) -> dict[int, str]:
    """Return names of who last set points in some submissions, by submission."""
    query = select(Review.submission_id, Person.name).join(Person, Person.id == Review.person_id)
    query = query.where(Review.submission_id.in_(ids), Review.points.is_not(None)).order_by(Review.id)
    return {i: name for i, name in db.execute(query)}  # noqa: C416 - a row is not a pair to the type checker


def all_of(db: Session, assignment_id: int) -> Iterator[StoredSubmission]:
    """Yield all that was submitted for an assignment, with reports and files, a few at a time."""
    ids = db.scalars(
        select(StoredSubmission.id).where(StoredSubmission.assignment_id == assignment_id).order_by(StoredSubmission.id)
    ).all()
    for few in (ids[i : i + FEW] for i in range(0, len(ids), FEW)):
        query = _with_all().where(StoredSubmission.id.in_(few)).order_by(StoredSubmission.id)
        for submission in db.scalars(query).all():
            yield submission
            db.expunge(submission)


def remarks_on(db: Session, assignment_id: int, most: int) -> Sequence[str]:
    """Remarks on submissions for an assignment, the last used first."""
    query = (
        select(Review.text, func.max(Review.id))
        .join(StoredSubmission)
        .where(StoredSubmission.assignment_id == assignment_id, Review.text != "")
    )
    return [
        words
        for words, _last in db.execute(query.group_by(Review.text).order_by(func.max(Review.id).desc()).limit(most))
    ]


def _with_all() -> Select[StoredSubmission]:
    classroom = joinedload(StoredSubmission.assignment).joinedload(Assignment.classroom)
    return select(StoredSubmission).options(*_WITH_REPORTS, classroom)
