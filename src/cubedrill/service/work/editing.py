"""Edit a list of steps, on a student's bench or in the workshop: save it, watch it, preview a step."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.exercise import require_offered
from cubedrill.core.steps.replay import Replayed, replay_edited
from cubedrill.service.errors import RefusedError
from cubedrill.service.prepared import PreparedExercise
from cubedrill.service.rendering import shown_draft, shown_preview, shown_refusal, shown_state
from cubedrill.service.responses import DraftResponse, PreviewResponse, StateResponse
from cubedrill.service.work.replays import kept, replayed
from cubedrill.service.work.responses import LookResponse
from cubedrill.store.news import live
from cubedrill.store.tables import Assignment, StoredDraft
from cubedrill.store.work.drafts import get_steps, locked_steps, opened_steps, save_under


@dataclass(frozen=True)
class StepEditor:
    """A prepared exercise, and the row that keeps a person's steps for it: its table and its key.

    assignment: the assignment, for a student's steps. view_only_of: the owner of a plan that the person may only view.
    """

    db: Session
    ready: PreparedExercise
    table: type[StoredDraft]
    key: tuple[tuple[str, int | str], ...]
    assignment: Assignment | None = None
    view_only_of: str = ""

    @property
    def whose(self) -> tuple[object, ...]:
        """Whose replay it is."""
        return (self.table.__name__, *self.key)

    def get(self) -> StoredDraft:
        """Return the steps as they are saved, or an empty list."""
        return get_steps(self.db, self.table, **dict(self.key))

    def opened(self) -> StoredDraft:
        """Return the steps as they are saved; the first visit adds an empty list, which says when it was begun."""
        return opened_steps(self.db, self.table, **dict(self.key))

    def locked(self) -> StoredDraft:
        """Return the steps, held against other writers until the transaction ends."""
        return locked_steps(self.db, self.table, **dict(self.key))

    def after(self, draft: DraftSteps) -> Replayed:
        """Return the replay of the steps up to the cursor; nothing is saved."""
        return replay_edited(self.ready.start, draft.steps[: draft.cursor], draft.off, kept(self.whose))


def shown(editor: StepEditor, row: StoredDraft) -> DraftResponse:
    """Return a saved draft replayed."""
    draft = row.draft
    found = replayed(editor.ready, editor.whose, draft)
    state = shown_state(editor.ready, found.states[: draft.cursor + 1], draft.matches)
    return shown_draft(row, draft, found, state)


def save(editor: StepEditor, revision: int, draft: DraftSteps, known: int = 0) -> DraftResponse:
    """Save a draft against the revision it was made on, and return it replayed.

    known: how many leading steps the sender has the answers for.

    Raises RefusedError "view-only", "stale-draft" with the newer draft, or the CoreError of a last step that cannot be
    done; then nothing is saved. An earlier step that can no longer be done is kept and marked: it was good work once.
    """
    if editor.view_only_of:
        raise RefusedError("view-only", owner=editor.view_only_of)
    found = replayed(editor.ready, editor.whose, draft)
    if found.refused is not None and found.refused.step == len(draft.steps):
        raise found.refused
    state = shown_state(editor.ready, found.states[: draft.cursor + 1], draft.matches)
    progress = {} if editor.assignment is None else _progress(state)
    row = save_under(editor.db, editor.table, dict(editor.key), revision, draft, **progress)
    if row is None:
        raise RefusedError("stale-draft", newer=shown(editor, editor.get()))
    if editor.assignment is not None:
        live.tell(editor.db, editor.assignment.class_id, editor.assignment.id, row.person_id)
    return shown_draft(row, draft, found, state, known)


def _progress(state: StateResponse) -> dict[str, int | None]:
    """Return how many checks pass, if that is computed, for instructors who look on."""
    gaps = state.gaps
    return {"in_place": sum(gap.verdict == "pass" for gap in gaps) if gaps else None, "checks": len(gaps) or None}


def look(editor: StepEditor, draft: DraftSteps) -> LookResponse:
    """Return the scene after some steps, and save nothing."""
    found = editor.after(draft)
    return LookResponse(state=shown_state(editor.ready, found.states, draft.matches), refused=shown_refusal(found))


def preview(editor: StepEditor, draft: DraftSteps) -> PreviewResponse:
    """Return what the last of these steps would do, and save nothing."""
    require_offered(editor.ready.exercise.rules, draft.steps)
    found = replay_edited(editor.ready.start, draft.steps, draft.off, kept(editor.whose))
    return shown_preview(found, len(draft.steps))
