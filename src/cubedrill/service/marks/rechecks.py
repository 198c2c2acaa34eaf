"""Re-checking what was submitted, by another version or newer rules: aside, looked at, then applied or not."""

from __future__ import annotations

import logging
from collections.abc import Collection
from datetime import UTC, datetime
from typing import Any, Final

from sqlalchemy import Engine
from sqlalchemy.orm import Session

from cubedrill.core.errors import CoreError
from cubedrill.core.judging.causes.effort import MAX_EFFORT
from cubedrill.core.judging.judge import judge_within
from cubedrill.core.judging.verdict import RULES_VERSION, Report
from cubedrill.service.access import assignment_for, assignment_to_change, require_active, version_for
from cubedrill.service.errors import RefusedError
from cubedrill.service.marks.marks import keep_report, mark_from, report_of
from cubedrill.service.marks.responses import RecheckedResponse, RecheckResponse
from cubedrill.service.people.classes import note
from cubedrill.service.prepared import PreparedExercise, version_ready
from cubedrill.store.documents import REPORT, SUBMISSION
from cubedrill.store.jobs import RECHECK, add_jobs
from cubedrill.store.marks import rechecks
from cubedrill.store.tables import Person, Recheck, Rechecked, StoredSubmission

_LOG: Final = logging.getLogger(__name__)


def ask(db: Session, person: Person, assignment_id: int, version_id: int | None) -> int:
    """Have everything re-checked that was submitted for an assignment; return the id of that.

    version_id: by which version; none: the assigned one. Raises RefusedError "not-found" for one of another
    exercise, "judged-already" while that is going on.
    """
    assignment = assignment_to_change(db, person, assignment_id)
    version = assignment.exercise_version if version_id is None else version_for(db, person, version_id)
    if version.exercise != assignment.exercise_version.exercise:
        raise RefusedError("not-found")
    newest = rechecks.newest_of(db, assignment.id)
    if newest is not None and newest.state == "working":
        raise RefusedError("judged-already")
    submissions = rechecks.submission_ids(db, assignment.id)
    asked = Recheck(
        assignment_id=assignment.id,
        exercise_version_id=version.id,
        person_id=person.id,
        total=len(submissions),
        state="working" if submissions else "done",
    )
    db.add(asked)
    db.flush()
    add_jobs(db, RECHECK, [{"recheck_id": asked.id, "submission": submission} for submission in submissions])
    title = version_ready(version).exercise.title
    note(db, person, "re-checked", assignment.class_id, assignment=assignment.id, title=title)
    return asked.id


def recheck(engine: Engine, recheck_id: int, submission_id: int) -> bool:
    """Judge one submission again; return whether that was still to be done. The last one ends the re-check.

    However often it is done, and wherever it is interrupted, there is one result for each submission.
    """
    with Session(engine) as db, db.begin():
        asked = rechecks.to_do(db, recheck_id, submission_id)
        submission = None if asked is None else db.get(StoredSubmission, submission_id)
        result = None if asked is None or submission is None else _judged(asked, submission)
    with Session(engine) as db, db.begin():  # nothing on a board changes by it
        asked = rechecks.to_do(db, recheck_id, submission_id, hold=True)
        if asked is None:
            return False
        if result is not None:  # else the submission was erased
            db.add(result)
            db.flush()
        if not rechecks.is_waiting(db, recheck_id):
            asked.state = "done"
        return True


def _judged(recheck: Recheck, submission: StoredSubmission) -> Rechecked:
    ready = version_ready(recheck.exercise_version)
    row = Rechecked(recheck_id=recheck.id, submission_id=submission.id, passed=False, changed=[])
    try:
        document = SUBMISSION.read(submission.document, submission.shape)
        report = judge_within(ready.explainer, document, MAX_EFFORT)[0]
    except CoreError as error:  # of another version, say, in which an object that it moves is gone
        row.why = error.text
        return row
    except Exception:
        _LOG.exception("submission %s could not be re-checked", submission.id)
        row.why = "A fault of the server, recorded in its log."
        return row
    mark = mark_from(report, ready.exercise.pass_mark, submission.reviews)
    row.document, row.shape = REPORT.written(report), REPORT.number
    row.points, row.of, row.passed = mark.points, mark.of, mark.passed
    row.changed = _changed(report_of(submission), report)
    return row


def _changed(before: Report, after: Report) -> list[dict[str, Any]]:
    """Return the checks whose verdict or points differ, including new and removed checks."""
    was, now = ({check.id: check for check in report.checks} for report in (before, after))
    rows = []
    for check_id in dict.fromkeys((*was, *now)):
        old, new = was.get(check_id), now.get(check_id)
        if old is None or new is None or (old.verdict, old.points) != (new.verdict, new.points):
            label = new.label if new else old.label if old else check_id
            rows.append({"label": label, "was": old and old.verdict, "is": new and new.verdict})
    return rows


def recheck_of(db: Session, person: Person, recheck_id: int) -> RecheckResponse:
    """Return what re-checking gave so far to an instructor of the class."""
    return _shown(db, _for(db, person, recheck_id))


def newest_recheck(db: Session, person: Person, assignment_id: int) -> RecheckResponse | None:
    """Return what was last re-checked of an assignment; none where nothing was."""
    assignment_for(db, person, assignment_id, "instructor")
    newest = rechecks.newest_of(db, assignment_id)
    return None if newest is None else _shown(db, newest)


def cancel(db: Session, person: Person, recheck_id: int) -> None:
    """Stop re-checking; what was found so far stays to be looked at, and counts for nothing."""
    recheck = _for(db, person, recheck_id)
    require_active(recheck.assignment.classroom)
    if recheck.state == "working":
        recheck.state = "cancelled"


def take(db: Session, person: Person, recheck_id: int, only: Collection[int] | None) -> int:
    """Let what was re-checked count, for all or some submissions; return for how many. Earlier reports stay.

    Raises RefusedError "still-judging".
    """
    recheck = _for(db, person, recheck_id)
    require_active(recheck.assignment.classroom)
    if recheck.state == "working":
        raise RefusedError("still-judging")
    taken = 0
    for row in rechecks.rows_of(db, recheck.id):
        wanted = only is None or row.submission_id in only
        if wanted and row.taken_at is None and row.document is not None and not _is_the_same(row, recheck):
            report = REPORT.read(row.document, row.shape)
            keep_report(db, row.submission, report, True, recheck.exercise_version_id)
            row.taken_at = datetime.now(UTC)
            taken += 1
    if taken:
        recheck.state = "taken"
        facts = {"assignment": recheck.assignment_id, "title": _ready(recheck).exercise.title, "count": taken}
        note(db, person, "re-check applied", recheck.assignment.class_id, **facts)
    return taken


def _is_the_same(row: Rechecked, recheck: Recheck) -> bool:
    """Tell whether the newest report is by this version and these rules already."""
    newest = row.submission.reports[-1]
    return (newest.exercise_version_id, newest.rules_version) == (recheck.exercise_version_id, RULES_VERSION)


def _for(db: Session, person: Person, recheck_id: int) -> Recheck:
    recheck = db.get(Recheck, recheck_id)
    if recheck is None:
        raise RefusedError("not-found")
    assignment_for(db, person, recheck.assignment_id, "instructor")
    return recheck


def _ready(recheck: Recheck) -> PreparedExercise:
    return version_ready(recheck.exercise_version)


def _shown(db: Session, recheck: Recheck) -> RecheckResponse:
    rows = rechecks.rows_of(db, recheck.id)
    return RecheckResponse(
        recheck=recheck.id,
        assignment=recheck.assignment_id,
        title=_ready(recheck).exercise.title,
        version=recheck.exercise_version.number,
        rules_version=RULES_VERSION,
        asked_at=recheck.asked_at,
        state=recheck.state,
        total=recheck.total,
        done=len(rows),
        rows=tuple(
            RecheckedResponse(
                submission=row.submission_id,
                student=row.submission.person.name,
                number=row.submission.number,
                was=mark.points if mark else 0,
                was_of=mark.of if mark else 0,
                was_passed=bool(mark and mark.passed),
                points=row.points,
                of=row.of,
                passed=row.passed,
                changed=tuple(
                    f"{c['label']}: {c['was'] or 'not there'} → {c['is'] or 'not there'}" for c in row.changed
                ),
                why=row.why,
                taken=row.taken_at is not None,
            )
            for row in rows
            if row.changed or row.why or _differs(row)
            for mark in [row.submission.mark]
        ),
    )


def _differs(row: Rechecked) -> bool:
    mark = row.submission.mark
    return mark is not None and (mark.points, mark.of, mark.passed) != (row.points, row.of, row.passed)
