"""Marks for lists: a row for each submission."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any, NamedTuple

from sqlalchemy import ColumnElement, Subquery, case, func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from cubedrill.core.judging.late import DAY, Counts, LatePolicy, counted_attempt
from cubedrill.store.tables import Assignment, AssignmentException, Mark, ReviewedSubmission, StoredSubmission

Key = tuple[int, int]


class Tally(NamedTuple):
    """One student's attempts at one assignment in short, by which of them counts.

    score, passed, days_late, kept: of the one that counts. score: after the cost of lateness. kept: the share of the
    mark that lateness leaves, None if every attempt came too late to count. newest, counted: ids of submissions.
    newest_at: when the newest was submitted; reviewed: whether an instructor has opened it and judged
    what is to be judged by hand.
    """

    attempts: int
    newest: int
    newest_at: datetime
    reviewed: bool
    counted: int
    score: float | None
    passed: bool
    days_late: int
    kept: float | None

    @property
    def late(self) -> bool:
        """Whether the attempt that counts was submitted after the due date."""
        return self.days_late > 0


@dataclass(frozen=True)
class MarkedAttempt:
    """A submission and what it is worth."""

    submission: int
    number: int
    submitted_at: datetime
    mark: Mark


def hold_mark(db: Session, submission_id: int) -> bool:
    """Wait until nobody else works out this mark, and return whether it is there; others wait until this ends."""
    query = select(Mark.submission_id).where(Mark.submission_id == submission_id)
    return db.scalar(query.with_for_update()) is not None


def put_mark(db: Session, submission_id: int, columns: dict[str, object]) -> None:
    """Keep what a submission is worth, in the place of what was kept."""
    query = insert(Mark).values(submission_id=submission_id, **columns)
    db.execute(query.on_conflict_do_update(index_elements=[Mark.submission_id], set_=columns))


def tallies_of_person(db: Session, person_id: int) -> dict[Key, Tally]:
    """Return a person's own, by assignment and person."""
    return _tallies(db, Mark.person_id == person_id)


def tallies_of_assignments(
    db: Session, ids: Collection[int], people: Collection[int] | None = None
) -> dict[Key, Tally]:
    """Return the tallies of all students by assignment and person. people: only these."""
    which = Mark.assignment_id.in_(ids)
    return _tallies(db, which if people is None else which & Mark.person_id.in_(people))


def _tallies(db: Session, which: ColumnElement[bool]) -> dict[Key, Tally]:
    """Sum up attempts."""
    candidates = _candidates(which)
    rows: dict[Key, list[_Candidate]] = {}
    query = select(candidates).where(candidates.c.rank == 1).order_by(candidates.c.submission_id)
    for row in db.execute(query):
        one = _Candidate(*row)
        rows.setdefault((one.assignment_id, one.person_id), []).append(one)
    terms: dict[int, tuple[Counts, LatePolicy]] = {
        one.id: ("last" if one.counts == "last" else "best", one.late_policy)
        for one in db.scalars(select(Assignment).where(Assignment.id.in_({assignment for assignment, _ in rows})))
    }
    return {key: _tally(each, *terms[key[0]]) for key, each in rows.items()}


class _Candidate(NamedTuple):
    """An attempt that may count; one of thousands on a large board, so a plain tuple."""

    assignment_id: int
    person_id: int
    attempts: int
    newest: int
    newest_at: datetime
    reviewed: bool
    submission_id: int
    submitted_at: datetime
    due_at: datetime
    score: float | None
    passed: bool
    rank: int


def _candidates(which: ColumnElement[bool]) -> Subquery:
    """Rank attempts, so that the first of each started day late can count: within a day all lose the same share."""
    key = (Mark.assignment_id, Mark.person_id)
    newest = func.max(Mark.submission_id).over(partition_by=key)
    due_at = func.coalesce(AssignmentException.due_at, Assignment.due_at)
    seconds_late = func.extract("epoch", StoredSubmission.submitted_at - due_at)
    day = func.greatest(func.ceil(seconds_late / DAY.total_seconds()), 0)
    best_first = case((Assignment.counts == "best", Mark.score)).desc().nulls_last()
    settled = case((Mark.to_come == 0, ReviewedSubmission.submission_id))
    reviewed = func.max(settled).over(partition_by=key) == newest
    return (
        select(
            *key,
            func.count().over(partition_by=key).label("attempts"),
            newest.label("newest"),
            func.max(StoredSubmission.submitted_at).over(partition_by=key).label("newest_at"),
            func.coalesce(reviewed, False).label("reviewed"),
            Mark.submission_id,
            StoredSubmission.submitted_at,
            due_at.label("due_at"),
            Mark.score,
            Mark.passed,
            func.row_number()
            .over(partition_by=(*key, day), order_by=(best_first, Mark.submission_id.desc()))
            .label("rank"),
        )
        .join(StoredSubmission, StoredSubmission.id == Mark.submission_id)
        .join(Assignment, Assignment.id == Mark.assignment_id)
        .outerjoin(
            AssignmentException,
            (AssignmentException.assignment_id == Mark.assignment_id)
            & (AssignmentException.person_id == Mark.person_id),
        )
        .outerjoin(ReviewedSubmission, ReviewedSubmission.submission_id == Mark.submission_id)
        .where(which)
        .subquery()
    )


def _tally(candidates: Sequence[_Candidate], counts: Counts, policy: LatePolicy) -> Tally:
    """Return the tally of one student by the attempt that counts. candidates: the first one first."""
    counted = counted_attempt(candidates, counts, policy, candidates[0].due_at)
    one = candidates[counted.place]
    return Tally(
        attempts=one.attempts,
        newest=one.newest,
        newest_at=one.newest_at,
        reviewed=one.reviewed,
        counted=one.submission_id,
        score=counted.score,
        passed=one.passed and counted.kept is not None,
        days_late=counted.days_late,
        kept=counted.kept,
    )


def attempts_of(db: Session, assignment_id: int, person_id: int) -> list[MarkedAttempt]:
    """One student's attempts at one assignment, the first one first."""
    return _attempts(db, (Mark.assignment_id == assignment_id) & (Mark.person_id == person_id))


def attempts_by_id(db: Session, ids: Collection[int]) -> dict[int, MarkedAttempt]:
    """Some submissions, by id."""
    return {each.submission: each for each in _attempts(db, Mark.submission_id.in_(ids))}


def _attempts(db: Session, which: ColumnElement[bool]) -> list[MarkedAttempt]:
    query = select(StoredSubmission.id, StoredSubmission.number, StoredSubmission.submitted_at, Mark)
    query = query.join(Mark, Mark.submission_id == StoredSubmission.id).where(which)
    rows = db.execute(query.order_by(StoredSubmission.id))
    return [MarkedAttempt(*row) for row in rows]


def marks_of(db: Session, assignment_id: int) -> Sequence[Mark]:
    """Return marks of all submissions for one assignment, the oldest first."""
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


def attempts_of_person(db: Session, person_id: int, assignment_ids: Collection[int]) -> list[MarkedAttempt]:
    """One student's attempts at some assignments, the first one first."""
    return _attempts(db, (Mark.person_id == person_id) & Mark.assignment_id.in_(assignment_ids))


def keep_reviewed(db: Session, submission_id: int, person_id: int) -> None:
    """Keep that an instructor has opened a submission."""
    query = insert(ReviewedSubmission).values(submission_id=submission_id, person_id=person_id)
    db.execute(query.on_conflict_do_nothing())
