"""Working on an exercise: open the bench, save the draft, hand in."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from pydantic import TypeAdapter
from sqlalchemy.orm import Session

from cubedrill.core.judge import judge_scene
from cubedrill.core.replay import replay
from cubedrill.core.steps import Step, StepList
from cubedrill.core.submission import StepsSubmission
from cubedrill.service.access import assignment_for
from cubedrill.service.errors import RefusedError
from cubedrill.service.published import Published, published
from cubedrill.service.shown import shown_draft, shown_exercise
from cubedrill.service.views import BenchView, DraftView
from cubedrill.service.work import work_of
from cubedrill.store import drafts, submissions
from cubedrill.store.tables import Draft, Event, Person, Report, Submission

_STEPS: TypeAdapter[tuple[Step, ...]] = TypeAdapter(StepList)


def open_bench(db: Session, person: Person, assignment_id: int) -> BenchView:
    """Return the exercise and the student's draft, made empty on the first visit."""
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = published(assignment.exercise_version)
    draft = drafts.opened_draft(db, assignment.id, person.id)
    handed_in = [s for s in submissions.submissions_of_person(db, person.id) if s.assignment_id == assignment.id]
    return BenchView(
        assignment=assignment.id,
        due_at=assignment.due_at,
        exercise=shown_exercise(ready),
        draft=_shown(ready, draft),
        work=work_of(draft, handed_in),
    )


def save(db: Session, person: Person, assignment_id: int, revision: int, work: tuple[Sequence[Step], int]) -> DraftView:
    """Save steps and cursor against the revision they were made on, and return them replayed.

    Raises RefusedError "stale-draft" with the newer draft, or the CoreError of a step that cannot be done; then nothing
    is saved.
    """
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = published(assignment.exercise_version)
    steps, cursor = work
    replay(ready.start, steps)
    draft = drafts.opened_draft(db, assignment.id, person.id)
    if not drafts.save_draft(
        db, draft, revision, _STEPS.dump_python(tuple(steps), mode="json", exclude_unset=True), cursor
    ):
        raise RefusedError("stale-draft", newer=_shown(ready, draft))
    return shown_draft(ready, draft, steps)


def hand_in(db: Session, person: Person, assignment_id: int, revision: int, now: datetime) -> int:
    """Hand in the draft as it stands at its cursor, judge it, and return the submission's id.

    The same revision handed in again is the same submission. Raises RefusedError "stale-draft" with the newer draft, or
    "nothing-done".
    """
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = published(assignment.exercise_version)
    draft = drafts.locked_draft(db, assignment.id, person.id)
    if draft.revision != revision:
        raise RefusedError("stale-draft", newer=_shown(ready, draft))
    existing = submissions.submission_of_revision(db, assignment.id, person.id, revision)
    if existing is not None:
        return existing.id
    steps = draft_steps(draft)[: draft.cursor]
    if not steps:
        raise RefusedError("nothing-done")
    return _add_submission(db, ready, draft, steps, now)


def draft_steps(draft: Draft) -> tuple[Step, ...]:
    """Return the steps that a draft keeps."""
    return _STEPS.validate_python(draft.steps)


def _shown(ready: Published, draft: Draft) -> DraftView:
    return shown_draft(ready, draft, draft_steps(draft))


def _add_submission(db: Session, ready: Published, draft: Draft, steps: tuple[Step, ...], now: datetime) -> int:
    document = StepsSubmission(
        format="cube-drill/submission", version=1, exercise=ready.exercise.id, kind="steps", steps=steps
    )
    submitted = replay(ready.start, steps)[-1].scene
    report = judge_scene(ready.exercise, ready.target, submitted)
    submission = Submission(
        assignment_id=draft.assignment_id,
        person_id=draft.person_id,
        number=submissions.next_number(db, draft.assignment_id, draft.person_id),
        draft_revision=draft.revision,
        document=document.model_dump(mode="json", exclude_unset=True),
        handed_in_at=now,
    )
    db.add(submission)
    db.flush()
    verdict = Report(
        submission_id=submission.id, rules_version=report.rules_version, document=report.model_dump(mode="json")
    )
    event = Event(person_id=draft.person_id, kind="handed in", facts={"submission": submission.id})
    db.add_all([verdict, event])
    return submission.id
