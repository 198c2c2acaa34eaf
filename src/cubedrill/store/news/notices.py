"""Changes for a student since a moment: remarks, marks, re-checks."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from cubedrill.store.tables import Rechecked, Review, StoredSubmission


def reviews_for(db: Session, person_id: int, since: datetime) -> Sequence[tuple[Review, int]]:
    """Reviews of a student's submissions, with the assignment of each."""
    query = select(Review, StoredSubmission.assignment_id).join(StoredSubmission)
    rows = db.execute(query.where(StoredSubmission.person_id == person_id, Review.made_at >= since))
    return [(review, assignment) for review, assignment in rows]


def rechecked_for(db: Session, person_id: int, since: datetime) -> Sequence[tuple[int, int, datetime]]:
    """Return a student's submissions that count by a re-check: assignment, submission, and since when."""
    query = select(StoredSubmission.assignment_id, StoredSubmission.id, Rechecked.taken_at)
    query = query.join(Rechecked, Rechecked.submission_id == StoredSubmission.id)
    rows = db.execute(query.where(StoredSubmission.person_id == person_id, Rechecked.taken_at >= since))
    return [(assignment, submission, at) for assignment, submission, at in rows if at is not None]
