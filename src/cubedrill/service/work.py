"""How far somebody is: drafts and submissions summed up, for the start page, the bench and the class."""

from __future__ import annotations

from datetime import datetime

from cubedrill.service.views import WorkView
from cubedrill.store.marks import Tally
from cubedrill.store.tables import Assignment


def work_of(started: bool, tally: Tally | None) -> WorkView:
    """Sum up one student's work on one thing set; tally: of what she handed in."""
    if tally is None:
        state = "started" if started else "not started"
        return WorkView(state=state, tries=0, best_score=None, passed=False, newest_submission=None)
    return WorkView(
        state="handed in",
        tries=tally.tries,
        best_score=tally.best_score,
        passed=tally.passed,
        newest_submission=tally.newest,
    )


def is_late(handed_in_at: datetime, assignment: Assignment) -> bool:
    """Tell whether something came after it was due."""
    return handed_in_at > assignment.due_at
