"""Looking at what was submitted: one submission, or a class's."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import UTC, datetime
from typing import Final

from sqlalchemy.orm import Session

from cubedrill.core.judging.submission import (
    AnySubmission,
    LoadedSubmission,
    SceneSubmission,
)
from cubedrill.core.judging.verdict import Cause, Report
from cubedrill.core.lru_cache import LruCache
from cubedrill.service.access import assignment_for, submission_for
from cubedrill.service.assignments.exceptions import exception_view
from cubedrill.service.disclosure import EVERYTHING, Disclosure, Feedback, of_own_submission, work_as_seen
from cubedrill.service.marks.marks import changes_of, is_explained, mark_from, mark_view, points_set, report_of
from cubedrill.service.marks.progress import work_of
from cubedrill.service.marks.responses import (
    AttemptResponse,
    CauseResponse,
    JudgedResponse,
    MarkResponse,
    MatchedResponse,
    ReportResponse,
    ResultResponse,
    SinceResponse,
    StudentRowResponse,
    SubmissionsResponse,
    WorkResponse,
)
from cubedrill.service.prepared import PreparedExercise, assigned_exercise, exercise_judged_by
from cubedrill.service.rendering import checks_without_numbers, shown_exercise, shown_poses, shown_steps
from cubedrill.store.assignments import Terms, exceptions_in, terms_of, terms_with
from cubedrill.store.documents import SUBMISSION
from cubedrill.store.marks.marks import MarkedAttempt, attempts_by_id, attempts_of, tallies_of_assignments
from cubedrill.store.people import classes
from cubedrill.store.tables import Draft, Person, Review
from cubedrill.store.work import drafts

# Scenes of submissions: a large one takes seconds to build, and it never changes.
_WORK: Final[LruCache[tuple[int, int, datetime, bool], LoadedSubmission]] = LruCache(50)


def result_of(db: Session, person: Person, submission_id: int) -> ResultResponse:
    """Return a checked submission to its student or an instructor of the class."""
    submission = submission_for(db, person, submission_id)
    ready = exercise_judged_by(submission)
    own, assignment = submission.person_id == person.id, submission.assignment
    attempts = attempts_of(db, assignment.id, submission.person_id)
    terms = terms_of(db, assignment, submission.person_id)
    seen = EVERYTHING
    if own:
        seen = of_own_submission(assignment, terms, ready.exercise.rules, len(attempts), datetime.now(UTC))
    hidden = seen.feedback == "not yet"
    days = terms.days_late(submission.submitted_at)
    document = SUBMISSION.read(submission.document, submission.shape)
    key = (submission.id, submission.reports[-1].exercise_version_id, submission.submitted_at, seen.target)
    work = _WORK.get(key, lambda: work_as_seen(ready, seen, document))
    judged = judged_view(ready, (document, work), report_of(submission), seen, submission.reviews)
    return ResultResponse(
        **dict(judged),
        submission=submission.id,
        assignment=submission.assignment_id,
        class_id=assignment.class_id,
        class_name=assignment.classroom.name,
        number=submission.number,
        person=submission.person_id,
        student=submission.person.name,
        own=own,
        submitted_at=submission.submitted_at,
        days_late=days,
        kept=assignment.late_policy.kept(days),
        excused=terms.excused,
        feedback_at=terms.shown_from if hidden else None,
        attempts=_shown_attempts(attempts, shown=not hidden),
        since=_since(attempts, submission.number, judged.report),
        points_set={} if hidden else points_set(submission.reviews),
        changes=() if hidden else changes_of(submission.reviews),
        may_review=not own,
        explained=hidden or is_explained(submission),
        file=submission.file.name if submission.file else None,
        notes=document.scene.notes if isinstance(document, SceneSubmission) else (),
    )


def judged_view(
    ready: PreparedExercise,
    given: tuple[AnySubmission, LoadedSubmission],
    report: Report,
    seen: Disclosure,
    reviews: Sequence[Review] = (),
) -> JudgedResponse:
    """Return the parts of a checked submission that a person may see.

    given: what was submitted, and that as a scene (see `work_as_seen`); reviews: what an instructor said of it.
    """
    document, work = given
    states = work.states or ()
    right = ready.explainer.reference if seen.reference else None
    return JudgedResponse(
        exercise=shown_exercise(ready, seen),
        kind=document.kind,
        steps=shown_steps(states) if states else (),
        placed=shown_poses(work.scene),
        report=_report_as_seen(ready, report, seen),
        causes=_causes(report.causes, seen.feedback) if seen.causes else (),
        reference=shown_steps(right.states) if right else None,
        parted=report.parted if right else None,
        cancelling=report.cancelling if seen.feedback != "not yet" else (),
        mark=_HIDDEN if seen.feedback == "not yet" else mark_from(report, ready.exercise.pass_mark, reviews),
        in_file=_names_in(document, work),
        pass_mark=ready.exercise.pass_mark,
    )


_HIDDEN: Final = MarkResponse(points=0, of=0, score=None, passed=False, changed=False)


def _since(attempts: Sequence[MarkedAttempt], number: int, report: ReportResponse) -> SinceResponse | None:
    """Return the changes since the attempt before, of the checks that are shown; None for the first one."""
    before = next((each for each in attempts if each.number == number - 1), None)
    if before is None or not report.checks:
        return None
    was = {check["id"]: check["points"] for check in before.mark.checks}
    compared = [(check, was[check.id]) for check in report.checks if check.id in was]
    return SinceResponse(
        number=before.number,
        better=tuple(check.label for check, points in compared if check.points > points),
        worse=tuple(check.label for check, points in compared if check.points < points),
    )


def _shown_attempts(attempts: Sequence[MarkedAttempt], *, shown: bool) -> tuple[AttemptResponse, ...]:
    """Return all that the same student submitted for the same exercise."""
    return tuple(
        AttemptResponse(
            submission=each.submission,
            number=each.number,
            submitted_at=each.submitted_at,
            mark=mark_view(each.mark) if shown else _HIDDEN,
        )
        for each in attempts
    )


def _names_in(document: AnySubmission, work: LoadedSubmission) -> dict[str, str]:
    """Return the names of a scene file's objects, or of what steps made, by their own ids."""
    if isinstance(document, SceneSubmission):
        return {spec.id: spec.name or spec.id for spec in document.scene.objects}
    last = work.states[-1].scene.objects if work.states else {}
    return {match.submitted: last[match.submitted].name for match in work.matches if match.submitted in last}


def _report_as_seen(ready: PreparedExercise, report: Report, seen: Disclosure) -> ReportResponse:
    """Return the parts of a report that a person may see."""
    if seen.feedback == "not yet":
        return ReportResponse(
            rules_version=report.rules_version, score=None, points=0, of=0, passed=False, checks=(), matches=()
        )
    checks = report.checks if seen.checks else ()
    matches = report.matches if seen.matches else ()
    return ReportResponse(
        rules_version=report.rules_version,
        score=report.score,
        points=report.points,
        of=report.of,
        passed=report.passed,
        checks=checks if seen.numbers else checks_without_numbers(ready, checks),
        matches=tuple(MatchedResponse(target=m.target, submitted=m.submitted, by=m.by) for m in matches),
    )


def _causes(causes: Iterable[Cause], feedback: Feedback) -> tuple[CauseResponse, ...]:
    """Return the causes as hints, as causes, or with the reference step; a hint that several share is given once."""
    if feedback == "hint":
        hints = {cause.hint: cause for cause in reversed(tuple(causes))}
        return tuple(
            CauseResponse(object=cause.object, text=text, step=None, code=None, proof="", objects=())
            for text, cause in reversed(hints.items())
        )
    return tuple(
        CauseResponse(
            object=cause.object, text=cause.text if feedback == "cause" else cause.instructor, step=cause.step or None,
            code=cause.code, proof=cause.proof, objects=cause.objects,
        )
        for cause in causes
    )  # fmt: skip


def class_submissions(db: Session, person: Person, assignment_id: int) -> SubmissionsResponse:
    """Return every student of the class with what was submitted, to an instructor."""
    assignment = assignment_for(db, person, assignment_id, "instructor")
    tallies = tallies_of_assignments(db, [assignment.id])
    newest = attempts_by_id(db, [tally.newest for tally in tallies.values()])
    started = drafts.started(db, Draft.assignment_id == assignment.id)
    exceptions = exceptions_in(db, [assignment.id])
    rows = [
        (student, tallies.get((assignment.id, student.id))) for student in classes.students_of(db, assignment.class_id)
    ]
    return SubmissionsResponse(
        assignment=assignment.id,
        class_id=assignment.class_id,
        title=assigned_exercise(assignment).exercise.title,
        class_name=assignment.classroom.name,
        due_at=assignment.due_at,
        rows=tuple(
            _row(
                student,
                work_of((assignment.id, student.id) in started, tally),
                (newest[tally.newest], tally.reviewed) if tally else None,
                terms_with(assignment, exceptions.get((assignment.id, student.id))),
                assignment.classroom.time_zone,
            )
            for student, tally in rows
        ),
    )


def _row(
    student: Person, work: WorkResponse, newest: tuple[MarkedAttempt, bool] | None, terms: Terms, zone: str
) -> StudentRowResponse:
    """Return a student's row. newest: the newest attempt, and whether it was reviewed; zone: of the class."""
    found, reviewed = newest or (None, False)
    return StudentRowResponse(
        person=student.id,
        student=student.name,
        work=work,
        submitted_at=found.submitted_at if found else None,
        late=found is not None and terms.days_late(found.submitted_at) > 0,
        reviewed=reviewed,
        exception=exception_view(terms.exception, zone, private=True),
        causes=tuple(cause["text"] for cause in found.mark.causes) if found else (),
    )
