"""Judging again: which submissions wait for it, and what it gave."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import exists, func, select
from sqlalchemy.orm import Session, joinedload

from cubedrill.store.tables import Recheck, Rechecked, StoredSubmission


def taken_up(db: Session) -> Recheck | None:
    """Take the oldest one that is not through and that nobody else has taken, until the transaction ends."""
    query = select(Recheck).where(Recheck.state == "working").order_by(Recheck.id).limit(1)
    return db.scalar(query.with_for_update(skip_locked=True))


def next_of(db: Session, recheck: Recheck) -> StoredSubmission | None:
    """The oldest submission that has not been judged again yet; what comes meanwhile is judged as it is set."""
    done = exists().where(Rechecked.recheck_id == recheck.id, Rechecked.submission_id == StoredSubmission.id)
    query = select(StoredSubmission).where(
        StoredSubmission.assignment_id == recheck.assignment_id,
        StoredSubmission.handed_in_at <= recheck.asked_at,
        ~done,
    )
    return db.scalar(query.order_by(StoredSubmission.id).limit(1))


def waiting(db: Session, recheck_assignment: int) -> int:
    """How many submissions there are for something set."""
    query = select(func.count()).where(StoredSubmission.assignment_id == recheck_assignment)
    return db.scalar(query) or 0


def rows_of(db: Session, recheck_id: int) -> Sequence[Rechecked]:
    """What it gave so far, with submissions and their people."""
    query = select(Rechecked).where(Rechecked.recheck_id == recheck_id).order_by(Rechecked.submission_id)
    submission = joinedload(Rechecked.submission)
    return db.scalars(query.options(submission.joinedload(StoredSubmission.person))).all()


def done_count(db: Session, recheck_id: int) -> int:
    """How many submissions have been judged again."""
    return db.scalar(select(func.count()).where(Rechecked.recheck_id == recheck_id)) or 0


def newest_of(db: Session, assignment_id: int) -> Recheck | None:
    """The last one that was asked for."""
    query = select(Recheck).where(Recheck.assignment_id == assignment_id).order_by(Recheck.id.desc()).limit(1)
    return db.scalar(query)
