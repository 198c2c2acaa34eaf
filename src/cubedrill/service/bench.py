"""Working on an exercise: open the bench, save the draft, hand in."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from sqlalchemy.orm import Session

from cubedrill.core.judging.exercise import require_offered
from cubedrill.core.judging.judge import judge_submission
from cubedrill.core.judging.matching import choices_that_fit
from cubedrill.core.judging.submission import SceneSubmission, SheetSubmission, StepsSubmission
from cubedrill.core.steps.replay import replay_edited
from cubedrill.service.access import assignment_for
from cubedrill.service.draft import DraftSteps, kept_steps
from cubedrill.service.errors import RefusedError
from cubedrill.service.published import Published, exercise_set
from cubedrill.service.replays import kept, replayed
from cubedrill.service.shown import shown_draft, shown_exercise, shown_preview, shown_refusal, shown_state
from cubedrill.service.views import BenchView, DraftView, LookView, PreviewView
from cubedrill.service.work import work_of
from cubedrill.store import drafts, submissions
from cubedrill.store.shapes import REPORT, SUBMISSION
from cubedrill.store.tables import Draft, Event, Person, StoredReport, StoredSubmission


@dataclass(frozen=True)
class Sent:
    """Work as it was sent; known: how many leading steps the sender has the answers for."""

    work: DraftSteps
    known: int = 0


@dataclass(frozen=True)
class Source:
    """Whose work it is, on what, by which version of the exercise, and which revision of it."""

    assignment_id: int
    version_id: int
    person_id: int
    revision: int


def open_bench(db: Session, person: Person, assignment_id: int) -> BenchView:
    """Return the exercise and the student's draft, made empty on the first visit."""
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = exercise_set(assignment)
    draft = drafts.opened_draft(db, assignment.id, person.id)
    handed_in = [s for s in submissions.submissions_of_person(db, person.id) if s.assignment_id == assignment.id]
    return BenchView(
        assignment=assignment.id,
        due_at=assignment.due_at,
        exercise=shown_exercise(ready),
        draft=_shown(ready, draft),
        work=work_of(draft, handed_in),
    )


def save(db: Session, person: Person, assignment_id: int, revision: int, sent: Sent) -> DraftView:
    """Save work against the revision it was made on, and return it replayed.

    Raises RefusedError "stale-draft" with the newer draft, or the CoreError of a last step that cannot be done; then
    nothing is saved. An earlier step that can no longer be done is kept and marked: it was good work once.
    """
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = exercise_set(assignment)
    found = replayed(ready, (assignment.id, person.id), sent.work.steps, sent.work.off)
    if found.refused is not None and found.refused.step == len(sent.work.steps):
        raise found.refused
    draft = drafts.opened_draft(db, assignment.id, person.id)
    if not drafts.save_draft(db, draft, revision, sent.work.columns()):
        raise RefusedError("stale-draft", newer=_shown(ready, draft))
    return shown_draft(ready, draft, found, sent.work, sent.known)


def look(db: Session, person: Person, assignment_id: int, work: DraftSteps) -> LookView:
    """Return the scene after some steps, and save nothing."""
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = exercise_set(assignment)
    found = replay_edited(ready.start, work.steps[: work.cursor], work.off, kept((assignment.id, person.id)))
    return LookView(state=shown_state(ready, found.states, work.matches), refused=shown_refusal(found))


def preview(db: Session, person: Person, assignment_id: int, work: DraftSteps) -> PreviewView:
    """Return what the last of these steps would do, and save nothing."""
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = exercise_set(assignment)
    require_offered(ready.exercise.rules, work.steps)
    found = replay_edited(ready.start, work.steps, work.off, kept((assignment.id, person.id)))
    return shown_preview(found, len(work.steps))


def hand_in(db: Session, person: Person, assignment_id: int, revision: int, now: datetime) -> int:
    """Hand in the draft as it stands at its cursor, judge it, and return the submission's id.

    The same revision handed in again is the same submission. Raises RefusedError "stale-draft" with the newer draft, or
    "nothing-done".
    """
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = exercise_set(assignment)
    draft = drafts.locked_draft(db, assignment.id, person.id)
    if draft.revision != revision:
        raise RefusedError("stale-draft", newer=_shown(ready, draft))
    existing = submissions.submission_of_revision(db, assignment, person.id, "steps", revision)
    if existing is not None:
        return existing.id
    work = kept_steps(draft)
    steps = work.counting()
    if not steps:
        raise RefusedError("nothing-done")
    found = replayed(ready, (assignment.id, person.id), work.steps, work.off)
    if found.refused is not None and (found.refused.step or 0) <= work.cursor:
        raise found.refused
    matches = choices_that_fit(ready.target, found.states[work.cursor].scene, work.matches)
    document = StepsSubmission(
        format="cube-drill/submission",
        version=1,
        exercise=ready.exercise.id,
        kind="steps",
        steps=steps,
        matches=matches,
    )
    source = Source(assignment.id, assignment.exercise_version_id, person.id, draft.revision)
    return add_submission(db, ready, source, document, now)


def _shown(ready: Published, draft: Draft) -> DraftView:
    work = kept_steps(draft)
    found = replayed(ready, (draft.assignment_id, draft.person_id), work.steps, work.off)
    return shown_draft(ready, draft, found, work)


def add_submission(
    db: Session,
    ready: Published,
    source: Source,
    document: StepsSubmission | SheetSubmission | SceneSubmission,
    now: datetime,
) -> int:
    """Keep what was handed in, with the verdict on it; return its id."""
    report = judge_submission(ready.exercise, ready.start, ready.target, document, ready.explainer)
    submission = StoredSubmission(
        assignment_id=source.assignment_id,
        exercise_version_id=source.version_id,
        person_id=source.person_id,
        number=submissions.next_number(db, source.assignment_id, source.person_id),
        kind=document.kind,
        draft_revision=source.revision,
        document=SUBMISSION.written(document),
        shape=SUBMISSION.number,
        handed_in_at=now,
    )
    db.add(submission)
    db.flush()
    verdict = StoredReport(
        submission_id=submission.id,
        exercise_version_id=source.version_id,
        rules_version=report.rules_version,
        document=REPORT.written(report),
        shape=REPORT.number,
    )
    event = Event(person_id=source.person_id, kind="handed in", facts={"submission": submission.id})
    db.add_all([verdict, event])
    return submission.id
