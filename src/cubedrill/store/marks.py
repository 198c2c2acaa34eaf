"""Marks for lists: a row for each submission, aggregated by the database."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import ColumnElement, case, func, or_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from cubedrill.store.tables import Assignment, LookedAt, Mark, StoredSubmission

Key = tuple[int, int]


@dataclass(frozen=True)
class Tally:
    """One student's attempts at one assignment in short, by which of them counts.

    score, passed, late: of the one that counts, none where all came too late. newest, counted: ids of submissions.
    newest_at: when the newest came; looked: whether an instructor has opened it.
    """

    tries: int
    newest: int
    newest_at: datetime
    looked: bool
    counted: int
    score: float | None
    passed: bool
    late: bool


@dataclass(frozen=True)
class Try:
    """A submission and what it is worth."""

    submission: int
    number: int
    handed_in_at: datetime
    mark: Mark


def hold_mark(db: Session, submission_id: int) -> bool:
    """Wait until nobody else works out this mark, and return whether it is there; others wait until this ends."""
    query = select(Mark.submission_id).where(Mark.submission_id == submission_id)
    return db.scalar(query.with_for_update()) is not None


def put_mark(db: Session, submission_id: int, columns: dict[str, Any]) -> None:
    """Keep what a submission is worth, in the place of what was kept."""
    query = insert(Mark).values(submission_id=submission_id, **columns)
    db.execute(query.on_conflict_do_update(index_elements=[Mark.submission_id], set_=columns))


def tallies_of_person(db: Session, person_id: int) -> dict[Key, Tally]:
    """A person's own, by what is set and person."""
    return _tallies(db, Mark.person_id == person_id)


def tallies_of_assignments(
    db: Session, ids: Collection[int], people: Collection[int] | None = None
) -> dict[Key, Tally]:
    """All students', by what is set and person; people: of these alone."""
    which = Mark.assignment_id.in_(ids)
    return _tallies(db, which if people is None else which & Mark.person_id.in_(people))


def _tallies(db: Session, which: ColumnElement[bool]) -> dict[Key, Tally]:
    key = (Mark.assignment_id, Mark.person_id)
    newest = func.max(Mark.submission_id).over(partition_by=key)
    late = StoredSubmission.handed_in_at > Assignment.due_at
    counts = or_(Assignment.late_counts, ~late)
    best_first = case((Assignment.counts == "best", Mark.score)).desc().nulls_last()
    rank = func.row_number().over(partition_by=key, order_by=(counts.desc(), best_first, Mark.submission_id.desc()))
    theirs = (
        select(
            *key,
            func.count().over(partition_by=key).label("tries"),
            newest.label("newest"),
            func.max(StoredSubmission.handed_in_at).over(partition_by=key).label("newest_at"),
            func.coalesce(func.max(LookedAt.submission_id).over(partition_by=key) == newest, False).label("looked"),
            Mark.submission_id.label("counted"),
            case((counts, Mark.score)).label("score"),
            (counts & Mark.passed).label("passed"),
            late.label("late"),
            rank.label("rank"),
        )
        .join(StoredSubmission, StoredSubmission.id == Mark.submission_id)
        .join(Assignment, Assignment.id == Mark.assignment_id)
        .outerjoin(LookedAt, LookedAt.submission_id == Mark.submission_id)
        .where(which)
        .subquery()
    )
    rows = db.execute(select(theirs).where(theirs.c.rank == 1))
    return {(assignment, person): Tally(*rest) for assignment, person, *rest, _rank in rows}


def tries_of(db: Session, assignment_id: int, person_id: int) -> list[Try]:
    """One student's tries at one thing set, the first one first."""
    return _tries(db, (Mark.assignment_id == assignment_id) & (Mark.person_id == person_id))


def tries_by_id(db: Session, ids: Collection[int]) -> dict[int, Try]:
    """Some submissions, by id."""
    return {each.submission: each for each in _tries(db, Mark.submission_id.in_(ids))}


def _tries(db: Session, which: ColumnElement[bool]) -> list[Try]:
    query = select(StoredSubmission.id, StoredSubmission.number, StoredSubmission.handed_in_at, Mark)
    query = query.join(Mark, Mark.submission_id == StoredSubmission.id).where(which)
    rows = db.execute(query.order_by(StoredSubmission.id))
    return [Try(*row) for row in rows]


def marks_of(db: Session, assignment_id: int) -> Sequence[Mark]:
    """Marks of all submissions for one assignment, the oldest first."""
    return db.scalars(select(Mark).where(Mark.assignment_id == assignment_id).order_by(Mark.submission_id)).all()


def causes_of(db: Session, submission_ids: Collection[int]) -> Sequence[tuple[int, list[Any]]]:
    """Of what some submissions are for, with why they missed."""
    query = select(Mark.assignment_id, Mark.causes).where(Mark.submission_id.in_(submission_ids))
    return [(assignment, causes) for assignment, causes in db.execute(query)]


def unexplained(db: Session, submission_id: int) -> StoredSubmission | None:
    """Return a submission if it is not explained yet, held against others until the transaction ends."""
    query = select(Mark.submission_id).where(Mark.submission_id == submission_id, ~Mark.explained)
    found = db.scalar(query.with_for_update())
    return None if found is None else db.get_one(StoredSubmission, found)


def tries_of_person(db: Session, person_id: int, assignment_ids: Collection[int]) -> list[Try]:
    """One student's tries at some things set, the first one first."""
    return _tries(db, (Mark.person_id == person_id) & Mark.assignment_id.in_(assignment_ids))


def keep_looked(db: Session, submission_id: int, person_id: int) -> None:
    """Keep that an instructor has opened a submission."""
    query = insert(LookedAt).values(submission_id=submission_id, person_id=person_id)
    db.execute(query.on_conflict_do_nothing())
