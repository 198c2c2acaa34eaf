"""How far somebody is: drafts and submissions summed up, for the start page, the bench and the class."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Sequence
from typing import TypeVar

from cubedrill.service.marks import mark_of
from cubedrill.service.views import WorkView
from cubedrill.store.tables import StepsKept, StoredSubmission

Key = TypeVar("Key")


def work_of(draft: StepsKept | None, handed_in: Sequence[StoredSubmission]) -> WorkView:
    """Sum up one student's draft and submissions for one thing set; submissions in the order in which they came."""
    marks = [mark_of(submission) for submission in handed_in]
    scores = [mark.score for mark in marks if mark.score is not None]
    started = draft is not None and draft.revision > 0
    return WorkView(
        state="handed in" if handed_in else "started" if started else "not started",
        tries=len(handed_in),
        best_score=max(scores, default=None),
        passed=any(mark.passed for mark in marks),
        newest_submission=handed_in[-1].id if handed_in else None,
    )


def by_person(handed_in: Iterable[StoredSubmission]) -> dict[int, list[StoredSubmission]]:
    """Group submissions by the person who handed them in."""
    groups: dict[int, list[StoredSubmission]] = defaultdict(list)
    for submission in handed_in:
        groups[submission.person_id].append(submission)
    return groups


def is_late(submission: StoredSubmission) -> bool:
    """Tell whether a submission came after it was due."""
    return submission.handed_in_at > submission.assignment.due_at
