"""Re-checking: which submissions wait for it, and what it gave."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

from sqlalchemy import exists, func, select, text
from sqlalchemy.orm import Session, joinedload

from cubedrill.store.jobs import RECHECK
from cubedrill.store.tables import Recheck, Rechecked, StoredSubmission


def to_do(db: Session, recheck_id: int, submission_id: int, *, hold: bool = False) -> Recheck | None:
    """Return a re-check that goes on and does not have this submission yet; hold: against others, to the end."""
    query = select(Recheck).where(Recheck.id == recheck_id, Recheck.state == "working")
    found = db.scalar(query.with_for_update() if hold else query)
    done = exists().where(Rechecked.recheck_id == recheck_id, Rechecked.submission_id == submission_id)
    return None if found is None or db.scalar(select(done)) else found


def is_waiting(db: Session, recheck_id: int) -> bool:
    """Tell whether jobs of a re-check wait or run whose submission is there and has no result yet."""
    return bool(db.scalar(_WAITING, {"task": RECHECK.name, "recheck": recheck_id}))


_WAITING: Final = text(
    """select exists (
        select from procrastinate_jobs job join submission on submission.id = (job.args ->> 'submission')::bigint
        where job.task_name = :task and job.status in ('todo', 'doing')
        and (job.args ->> 'recheck_id')::bigint = :recheck
        and not exists (
            select from rechecked where recheck_id = :recheck and submission_id = submission.id
        )
    )"""
)


def submission_ids(db: Session, assignment_id: int) -> Sequence[int]:
    """Return the submissions for one assignment, the oldest first."""
    query = select(StoredSubmission.id).where(StoredSubmission.assignment_id == assignment_id)
    return db.scalars(query.order_by(StoredSubmission.id)).all()


def rows_of(db: Session, recheck_id: int) -> Sequence[Rechecked]:
    """Results so far, with submissions and their people."""
    query = select(Rechecked).where(Rechecked.recheck_id == recheck_id).order_by(Rechecked.submission_id)
    submission = joinedload(Rechecked.submission)
    return db.scalars(query.options(submission.joinedload(StoredSubmission.person))).all()


def done_count(db: Session, recheck_id: int) -> int:
    """Count the submissions that have been re-checked."""
    return db.scalar(select(func.count()).where(Rechecked.recheck_id == recheck_id)) or 0


def newest_of(db: Session, assignment_id: int) -> Recheck | None:
    """Return the newest re-check."""
    query = select(Recheck).where(Recheck.assignment_id == assignment_id).order_by(Recheck.id.desc()).limit(1)
    return db.scalar(query)
