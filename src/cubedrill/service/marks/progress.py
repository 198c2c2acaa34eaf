"""Progress of students: drafts and submissions in short, for the start page, the bench and the class."""

from __future__ import annotations

from cubedrill.service.marks.responses import WorkResponse
from cubedrill.store.marks.marks import Tally


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
