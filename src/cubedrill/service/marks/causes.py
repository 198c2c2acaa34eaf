"""Why a submission missed, if that takes longer than its verdict: a job finds it afterwards."""

from __future__ import annotations

import logging
from typing import Final

from sqlalchemy import Engine

from cubedrill.core.judging.causes.effort import MAX_EFFORT
from cubedrill.core.judging.judge import judge_within
from cubedrill.core.judging.verdict import Report
from cubedrill.service.marks.marks import keep_report, report_of
from cubedrill.service.prepared import exercise_of
from cubedrill.store.documents import SUBMISSION
from cubedrill.store.marks.marks import unexplained
from cubedrill.store.news.live import notifying_session
from cubedrill.store.tables import StoredSubmission

_LOG: Final = logging.getLogger(__name__)


def explain(engine: Engine, submission_id: int) -> bool:
    """Explain a submission; return whether it was not explained yet. Others that explain it wait meanwhile."""
    with notifying_session(engine) as db:
        submission = unexplained(db, submission_id)
        if submission is None:
            return False
        keep_report(db, submission, _explained(submission), explained=True)
        return True


def _explained(submission: StoredSubmission) -> Report:
    """Return the report with its causes, or without them if the search fails, so that the queue goes on."""
    try:
        document = SUBMISSION.read(submission.document, submission.shape)
        return judge_within(exercise_of(submission).explainer, document, MAX_EFFORT)[0]
    except Exception:
        _LOG.exception("submission %s could not be explained", submission.id)
        return report_of(submission)
