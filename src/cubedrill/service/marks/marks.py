"""Marks: the program's points, and what an instructor made of them. Every change is kept; the newest counts."""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Final

from sqlalchemy.orm import Session

from cubedrill.core.judging.checks.by_hand import BY_HAND
from cubedrill.core.judging.submission import StepsSubmission, load_submission
from cubedrill.core.judging.verdict import Report, marks_of, points_of
from cubedrill.service.access import assignment_for, reviewed_submission, submission_for
from cubedrill.service.errors import RefusedError
from cubedrill.service.marks.responses import ChangeResponse, MarkResponse, RemarkPlace
from cubedrill.service.prepared import exercise_judged_by, exercise_of
from cubedrill.store.documents import REPORT, SUBMISSION
from cubedrill.store.marks.marks import hold_mark, keep_reviewed, put_mark
from cubedrill.store.news import live
from cubedrill.store.tables import Event, Mark, Person, Review, StoredReport, StoredSubmission
from cubedrill.store.work.submissions import remarks_on


def report_of(submission: StoredSubmission) -> Report:
    """Return the newest verdict on a submission."""
    newest = submission.reports[-1]
    return REPORT.read(newest.document, newest.shape)


def is_explained(submission: StoredSubmission) -> bool:
    """Tell whether it is known why a submission missed."""
    return submission.reports[-1].explained


def mark_view(mark: Mark) -> MarkResponse:
    """Return what is kept of a submission's mark."""
    return MarkResponse(
        points=mark.points,
        of=mark.of,
        score=mark.score,
        passed=mark.passed,
        changed=mark.changed,
        to_come=mark.to_come,
    )


def keep_report(
    db: Session, submission: StoredSubmission, report: Report, explained: bool, version_id: int | None = None
) -> None:
    """Keep a verdict on a submission, and what it is worth by it; version_id: by another than it was submitted for."""
    verdict = StoredReport(
        submission_id=submission.id,
        exercise_version_id=version_id or submission.exercise_version_id,
        rules_version=report.rules_version,
        explained=explained,
        document=REPORT.written(report),
        shape=REPORT.number,
    )
    db.add(verdict)
    keep_mark(db, submission)


def keep_mark(db: Session, submission: StoredSubmission) -> None:
    """Work out what a submission is worth, by its newest report and the reviews, and keep it for the lists."""
    db.flush()
    hold_mark(db, submission.id)  # what somebody else adds meanwhile is seen, or sees this
    db.expire(submission, ["reports", "reviews"])
    report, by_hand = report_of(submission), points_set(submission.reviews)
    mark = mark_from(report, exercise_judged_by(submission).exercise.pass_mark, submission.reviews)
    columns = {
        **dict(mark),
        "assignment_id": submission.assignment_id,
        "person_id": submission.person_id,
        "causes": [{"code": cause.code, "object": cause.object, "text": cause.text} for cause in report.causes],
        "checks": [
            {
                "id": c.id, "verdict": c.verdict, "points": c.points, "off": c.tolerances_off, "miss": c.miss,
                "by_hand": by_hand.get(c.id),
            }
            for c in report.checks
        ],
        "explained": is_explained(submission),
    }  # fmt: skip
    put_mark(db, submission.id, columns)
    live.tell(db, submission.assignment.class_id, submission.assignment_id, submission.person_id)


def mark_from(report: Report, pass_mark: float, reviews: Iterable[Review]) -> MarkResponse:
    """Add up the points of a report; points that an instructor has set replace the program's."""
    set_points = points_set(reviews)
    points = [set_points.get(check.id, points_of(check)) for check in report.checks]
    marks = marks_of(points, [check.of for check in report.checks], pass_mark)
    return MarkResponse(
        points=marks.points,
        of=marks.of,
        score=marks.score,
        passed=marks.passed,
        changed=any(each.id in set_points for each in report.checks if each.kind != BY_HAND),
        to_come=math.fsum(each.of for each in report.checks if each.kind == BY_HAND and each.id not in set_points),
    )


def points_set(reviews: Iterable[Review]) -> dict[str, float]:
    """Return the points that an instructor has set, by check; a later change without points takes it back."""
    newest: dict[str, float | None] = {}
    for review in reviews:
        if review.check_id is not None:
            newest[review.check_id] = review.points
    return {check: points for check, points in newest.items() if points is not None}


def changes_of(reviews: Sequence[Review]) -> tuple[ChangeResponse, ...]:
    """Return every change and remark, in the order in which they were made."""
    return tuple(
        ChangeResponse(
            check=each.check_id,
            points=each.points,
            text=each.text,
            place=None if each.place is None else RemarkPlace.model_validate(each.place),
            by=each.person.name,
            made_at=each.made_at,
        )
        for each in reviews
    )


def note_looked(db: Session, person: Person, submission_id: int) -> None:
    """Keep that an instructor has opened a submission; a student's own look is none."""
    submission = submission_for(db, person, submission_id)
    if submission.person_id == person.id:
        return
    keep_reviewed(db, submission.id, person.id)
    live.tell(db, submission.assignment.class_id, submission.assignment_id, submission.person_id)


REMARKS: Final = 12  # that are offered


def remarks_used(db: Session, person: Person, assignment_id: int) -> list[str]:
    """Return earlier remarks on submissions for an assignment to an instructor, the last used first."""
    assignment_for(db, person, assignment_id, "instructor")
    return list(remarks_on(db, assignment_id, REMARKS))


@dataclass(frozen=True)
class Given:
    """A review of a submission: points for a check with the reason, or a remark.

    points: None takes an earlier change back. place: what a remark is on; None for the whole.
    """

    text: str
    check: str | None = None
    points: float | None = None
    place: RemarkPlace | None = None


def add_review(db: Session, person: Person, submission_id: int, given: Given) -> None:
    """Keep an instructor's points for a check, or a remark.

    Raises RefusedError "not-found", "wrong-role", "own-work", "class-archived", "unknown-check", "too-many-points" or
    "no-such-place".
    """
    submission = reviewed_submission(db, person, submission_id)
    check, points, text = given.check, given.points, given.text
    report = report_of(submission)
    if check is not None:
        result = next((result for result in report.checks if result.id == check), None)
        if result is None:
            raise RefusedError("unknown-check")
        if points is not None and points > result.of:
            raise RefusedError("too-many-points", of=f"{result.of:g}")
        if not text and result.kind != BY_HAND:
            raise RefusedError("no-reason")
    if given.place is not None and (check is not None or not _is_in(given.place, submission, report)):
        raise RefusedError("no-such-place")
    if not hold_mark(db, submission.id):  # first of all: erasing takes marks before what they are of
        raise RefusedError("not-found")
    title = exercise_of(submission).exercise.title
    facts = {
        "submission": submission.id,
        "check": check,
        "points": points,
        "person": submission.person_id,
        "title": title,
    }
    review = Review(
        submission_id=submission.id,
        person_id=person.id,
        check_id=check,
        points=points,
        text=text,
        place=None if given.place is None else given.place.model_dump(mode="json"),
    )
    class_id = submission.assignment.class_id
    db.add_all([review, Event(person_id=person.id, kind="reviewed", class_id=class_id, facts=facts)])
    keep_mark(db, submission)


def _is_in(place: RemarkPlace, submission: StoredSubmission, report: Report) -> bool:
    """Tell whether a submission has what a remark is on."""
    document = SUBMISSION.read(submission.document, submission.shape)
    steps = len(document.steps) if isinstance(document, StepsSubmission) else 0
    if place.check is not None and all(place.check != each.id for each in report.checks):
        return False
    if place.object is not None:
        ready = exercise_judged_by(submission)
        if place.object not in load_submission(ready.start, ready.target, document).scene.objects:
            return False
    return max(place.step or 0, place.view.step if place.view else 0) <= steps
