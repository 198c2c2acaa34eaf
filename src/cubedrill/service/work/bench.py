"""Working on an exercise: open the bench, save the draft, submit."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from cubedrill.core.judging.causes.effort import QUICK
from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.judge import judge_within
from cubedrill.core.judging.matching import choices_that_fit
from cubedrill.core.judging.submission import AnySubmission, StepsSubmission
from cubedrill.service.access import assignment_for
from cubedrill.service.disclosure import is_shown, while_working
from cubedrill.service.errors import RefusedError
from cubedrill.service.marks.marks import keep_report
from cubedrill.service.marks.progress import work_of
from cubedrill.service.prepared import PreparedExercise, assigned_exercise
from cubedrill.service.rendering import shown_exercise
from cubedrill.service.work.editing import StepEditor, shown
from cubedrill.service.work.replays import replayed
from cubedrill.service.work.responses import BenchResponse
from cubedrill.store.assignments import terms_of
from cubedrill.store.documents import SUBMISSION
from cubedrill.store.jobs import EXPLAIN, add_jobs
from cubedrill.store.marks.marks import tallies_of_person
from cubedrill.store.tables import Assignment, Draft, Event, Person, StoredSubmission
from cubedrill.store.work import submissions


@dataclass(frozen=True)
class Source:
    """The origin of a submission: its assignment, student, draft revision, and file, if any."""

    assignment: Assignment
    person_id: int
    revision: int
    file_id: int | None = None


def step_editor_of(db: Session, person: Person, assignment_id: int) -> StepEditor:
    """Return a student's step editor for an assignment; raise RefusedError "not-found" or "wrong-role"."""
    assignment = assignment_for(db, person, assignment_id, "student")
    key = (("assignment_id", assignment.id), ("person_id", person.id))
    return StepEditor(db, assigned_exercise(assignment), Draft, key, assignment)


def open_bench(db: Session, person: Person, assignment_id: int) -> BenchResponse:
    """Return the exercise and the student's draft, made empty on the first visit."""
    assignment = assignment_for(db, person, assignment_id, "student")
    editor = step_editor_of(db, person, assignment_id)
    draft = editor.opened()
    tally = tallies_of_person(db, person.id).get((assignment.id, person.id))
    terms = terms_of(db, assignment, person.id)
    return BenchResponse(
        assignment=assignment.id,
        due_at=terms.due_at,
        attempts_left=terms.attempts_left(tally.attempts if tally else 0),
        exercise=shown_exercise(editor.ready, while_working(editor.ready.exercise.rules)),
        draft=shown(editor, draft),
        work=work_of(draft.revision > 0, tally, mark_shown=is_shown(assignment, terms, datetime.now(UTC))),
    )


def submit(db: Session, person: Person, assignment_id: int, revision: int, now: datetime) -> int:
    """Submit the draft as it stands at its cursor, judge it, and return the submission's id.

    The same revision submitted again is the same submission. Raises RefusedError "stale-draft" with the newer draft, or
    "nothing-done".
    """
    assignment = assignment_for(db, person, assignment_id, "student")
    editor = step_editor_of(db, person, assignment_id)
    ready, row = editor.ready, editor.locked()
    if row.revision != revision:
        raise RefusedError("stale-draft", newer=shown(editor, row))
    existing = submissions.submission_of_revision(db, assignment, person.id, "steps", revision)
    if existing is not None:
        return existing.id
    draft = row.draft
    if not draft.counting():
        raise RefusedError("nothing-done")
    document = as_submitted(editor, draft)
    source = Source(assignment, person.id, row.revision)
    return add_submission(db, ready, source, document, now)


def as_submitted(editor: StepEditor, draft: DraftSteps) -> StepsSubmission:
    """Return the steps that count as a submission; raise the CoreError of one that cannot be done."""
    found = replayed(editor.ready, editor.whose, draft)
    if found.refused is not None and (found.refused.step or 0) <= draft.cursor:
        raise found.refused
    matches = choices_that_fit(editor.ready.target, found.states[draft.cursor].scene, draft.matches)
    return StepsSubmission(
        format="cube-drill/submission",
        version=1,
        exercise=editor.ready.exercise.id,
        kind="steps",
        steps=draft.counting(),
        matches=matches,
    )


def add_submission(
    db: Session,
    ready: PreparedExercise,
    source: Source,
    document: AnySubmission,
    now: datetime,
) -> int:
    """Keep what was submitted, with the verdict on it; return its id.

    If finding why it missed takes long, a job does so later. Raises
    RefusedError "no-attempts-left".
    """
    assignment = source.assignment
    submissions.hold(db, assignment.id, source.person_id)
    number = submissions.next_number(db, assignment.id, source.person_id)
    allowed = terms_of(db, assignment, source.person_id).attempts
    if allowed is not None and number > allowed:
        raise RefusedError("no-attempts-left", attempts=allowed)
    report, explained = judge_within(ready.explainer, document, QUICK)
    submission = StoredSubmission(
        assignment_id=assignment.id,
        exercise_version_id=assignment.exercise_version_id,
        person_id=source.person_id,
        number=number,
        kind=document.kind,
        draft_revision=source.revision,
        file_id=source.file_id,
        document=SUBMISSION.written(document),
        shape=SUBMISSION.number,
        submitted_at=now,
    )
    db.add(submission)
    db.flush()
    facts = {"submission": submission.id, "assignment": assignment.id, "title": ready.exercise.title}
    db.add(Event(person_id=source.person_id, kind="submitted", class_id=assignment.class_id, facts=facts))
    keep_report(db, submission, report, explained)
    if not explained:
        add_jobs(db, EXPLAIN, [{"submission": submission.id}])
    return submission.id
