"""Progress of students: drafts and submissions in short, for the start page, the bench and the class."""

from __future__ import annotations

from datetime import datetime

from cubedrill.core.judging.late import days_late
from cubedrill.service.marks.responses import WorkResponse
from cubedrill.store.marks.marks import Tally
from cubedrill.store.tables import Assignment


def work_of(started: bool, tally: Tally | None, *, mark_shown: bool = True) -> WorkResponse:
    """Sum up one student's work on one assignment. tally: of the submissions."""
    if tally is None:
        state = "started" if started else "not started"
        return WorkResponse(state=state, attempts=0, score=None, passed=False, late=False, newest_submission=None)
    return WorkResponse(
        state="submitted",
        attempts=tally.attempts,
        score=tally.score if mark_shown else None,
        passed=tally.passed and mark_shown,
        late=tally.late,
        newest_submission=tally.newest,
    )


def attempts_left(assignment: Assignment, tally: Tally | None) -> int | None:
    """Return how many attempts a student has left, or None if there is no limit."""
    return None if assignment.attempts is None else max(0, assignment.attempts - (tally.attempts if tally else 0))


def lateness(submitted_at: datetime, assignment: Assignment) -> int:
    """Return by how many started days a submission is late; 0 if it is in time."""
    return days_late(submitted_at, assignment.due_at)
