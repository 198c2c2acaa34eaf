"""Progress of students: drafts and submissions in short, for the start page, the bench and the class."""

from __future__ import annotations

from datetime import datetime

from cubedrill.service.marks.responses import WorkResponse
from cubedrill.store.marks import Tally
from cubedrill.store.tables import Assignment


def work_of(started: bool, tally: Tally | None, *, told: bool = True) -> WorkResponse:
    """Sum up one student's work on one thing set; tally: of what she handed in; told: whether its mark is."""
    if tally is None:
        state = "started" if started else "not started"
        return WorkResponse(state=state, tries=0, score=None, passed=False, late=False, newest_submission=None)
    return WorkResponse(
        state="handed in",
        tries=tally.tries,
        score=tally.score if told else None,
        passed=tally.passed and told,
        late=tally.late,
        newest_submission=tally.newest,
    )


def tries_left(assignment: Assignment, tally: Tally | None) -> int | None:
    """Return how many attempts a student has left, or None if there is no limit."""
    return None if assignment.tries is None else max(0, assignment.tries - (tally.tries if tally else 0))


def is_late(handed_in_at: datetime, assignment: Assignment) -> bool:
    """Tell whether something came after it was due."""
    return handed_in_at > assignment.due_at
