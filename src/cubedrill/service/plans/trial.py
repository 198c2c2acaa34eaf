"""The trial run of a plan: judged like a student's work, and not stored."""

from __future__ import annotations

from sqlalchemy.orm import Session

from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.judge import judge_submission
from cubedrill.core.judging.separate import way_with
from cubedrill.core.steps import Step
from cubedrill.core.steps.replay import replay
from cubedrill.service.disclosure import after_submitting, work_as_seen
from cubedrill.service.errors import RefusedError
from cubedrill.service.marks.responses import JudgedResponse
from cubedrill.service.marks.review import judged_view
from cubedrill.service.plans.plan import step_editor_of
from cubedrill.service.plans.responses import WayResponse
from cubedrill.service.prepared import PreparedExercise
from cubedrill.service.rendering import shown_steps
from cubedrill.service.work.bench import as_submitted
from cubedrill.store.tables import Person
from cubedrill.store.work.drafts import save_steps


def tried(db: Session, person: Person, plan_id: int) -> JudgedResponse:
    """Return what a student would be told of one's own trial; raise RefusedError "nothing-done"."""
    editor = step_editor_of(db, person, plan_id, "trial")
    draft = editor.get().draft
    if not draft.counting():
        raise RefusedError("nothing-done")
    ready, document = editor.ready, as_submitted(editor, draft)
    report = judge_submission(ready.exercise, ready.start, ready.target, document, ready.explainer)
    seen = after_submitting(ready.exercise.rules, ready.exercise.rules.told, over=False)
    return judged_view(ready, (document, work_as_seen(ready, seen, document)), report, seen)


def mistaken(db: Session, person: Person, plan_id: int, number: int) -> WayResponse:
    """Return the reference with a typical mistake in it, step by step; number: among the trials of its separation.

    Raises RefusedError "not-found" where there is no such mistake.
    """
    ready = step_editor_of(db, person, plan_id, "trial").ready
    return WayResponse(steps=shown_steps(replay(ready.start, _way_with(ready, number))))


def take_mistake(db: Session, person: Person, plan_id: int, number: int) -> None:
    """Put the reference with a typical mistake in the place of one's trial, as `mistaken` shows it."""
    editor = step_editor_of(db, person, plan_id, "trial")
    steps = _way_with(editor.ready, number)
    save_steps(db, editor.locked(), DraftSteps.of(steps))


def _way_with(ready: PreparedExercise, number: int) -> tuple[Step, ...]:
    steps = way_with(ready.exercise, ready.start, ready.target, number)
    if steps is None:
        raise RefusedError("not-found")
    return steps
