"""Looking at what was handed in: one submission, or a class's."""

from __future__ import annotations

from sqlalchemy.orm import Session

from cubedrill.core.replay import replay
from cubedrill.core.submission import StepsSubmission
from cubedrill.core.verdict import Report
from cubedrill.service.access import assignment_for, submission_for
from cubedrill.service.home import title_of
from cubedrill.service.published import published
from cubedrill.service.shown import shown_exercise, shown_steps
from cubedrill.service.views import ResultView, StudentRowView, SubmissionsView
from cubedrill.service.work import by_person, is_late, work_of
from cubedrill.store import classes, drafts, submissions
from cubedrill.store.tables import Draft, Person, Submission


def result_of(db: Session, person: Person, submission_id: int) -> ResultView:
    """Return a checked submission to its student or an instructor of the class."""
    submission = submission_for(db, person, submission_id)
    ready = published(submission.assignment.exercise_version)
    document = StepsSubmission.model_validate(submission.document)
    return ResultView(
        submission=submission.id,
        assignment=submission.assignment_id,
        number=submission.number,
        student=submission.person.name,
        own=submission.person_id == person.id,
        handed_in_at=submission.handed_in_at,
        late=is_late(submission),
        exercise=shown_exercise(ready),
        steps=shown_steps(replay(ready.start, document.steps)),
        report=Report.model_validate(submission.reports[-1].document),
        pass_mark=ready.exercise.pass_mark,
    )


def class_submissions(db: Session, person: Person, assignment_id: int) -> SubmissionsView:
    """Return every student of the class with what was handed in, to an instructor."""
    assignment = assignment_for(db, person, assignment_id, "instructor")
    handed_in = by_person(submissions.submissions_of_assignment(db, assignment.id))
    started = {draft.person_id: draft for draft in drafts.drafts_of_assignment(db, assignment.id)}
    students = classes.students_of(db, assignment.class_id)
    return SubmissionsView(
        assignment=assignment.id,
        title=title_of(assignment),
        class_name=assignment.classroom.name,
        due_at=assignment.due_at,
        rows=tuple(_row(student, started.get(student.id), handed_in.get(student.id, [])) for student in students),
    )


def _row(student: Person, draft: Draft | None, handed_in: list[Submission]) -> StudentRowView:
    newest = handed_in[-1] if handed_in else None
    return StudentRowView(
        student=student.name,
        work=work_of(draft, handed_in),
        handed_in_at=newest.handed_in_at if newest else None,
        late=newest is not None and is_late(newest),
    )
