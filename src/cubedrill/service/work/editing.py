"""A desk: where steps are done, on a student's bench or in the workshop. Saving them, looking on, trying one."""

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
from cubedrill.store import live
from cubedrill.store.drafts import get_steps, locked_steps, opened_steps, save_under
from cubedrill.store.tables import Assignment, StoredDraft


@dataclass(frozen=True)
class StepEditor:
    """On what steps are done, and where they are kept: the table, and the key in it.

    set_as: a student's, as what. view_only_of: the owner of a plan that whoever asks may only look at.
    """

    db: Session
    ready: PreparedExercise
    table: type[StoredDraft]
    key: tuple[tuple[str, int | str], ...]
    set_as: Assignment | None = None
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


def shown(desk: StepEditor, row: StoredDraft) -> DraftResponse:
    """Return a saved draft replayed."""
    draft = row.draft
    found = replayed(desk.ready, desk.whose, draft)
    state = shown_state(desk.ready, found.states[: draft.cursor + 1], draft.matches)
    return shown_draft(row, draft, found, state)


def save(desk: StepEditor, revision: int, draft: DraftSteps, known: int = 0) -> DraftResponse:
    """Save a draft against the revision it was made on, and return it replayed.

    known: how many leading steps the sender has the answers for.

    Raises RefusedError "view-only", "stale-draft" with the newer draft, or the CoreError of a last step that cannot be
    done; then nothing is saved. An earlier step that can no longer be done is kept and marked: it was good work once.
    """
    if desk.view_only_of:
        raise RefusedError("view-only", owner=desk.view_only_of)
    found = replayed(desk.ready, desk.whose, draft)
    if found.refused is not None and found.refused.step == len(draft.steps):
        raise found.refused
    state = shown_state(desk.ready, found.states[: draft.cursor + 1], draft.matches)
    progress = {} if desk.set_as is None else _progress(state)
    row = save_under(desk.db, desk.table, dict(desk.key), revision, draft, **progress)
    if row is None:
        raise RefusedError("stale-draft", newer=shown(desk, desk.get()))
    if desk.set_as is not None:
        live.tell(desk.db, desk.set_as.class_id, desk.set_as.id, row.person_id)
    return shown_draft(row, draft, found, state, known)


def _progress(state: StateResponse) -> dict[str, int | None]:
    """Return how many checks pass, if that is computed, for instructors who look on."""
    gaps = state.gaps
    return {"in_place": sum(gap.verdict == "pass" for gap in gaps) if gaps else None, "checks": len(gaps) or None}


def look(desk: StepEditor, draft: DraftSteps) -> LookResponse:
    """Return the scene after some steps, and save nothing."""
    found = desk.after(draft)
    return LookResponse(state=shown_state(desk.ready, found.states, draft.matches), refused=shown_refusal(found))


def preview(desk: StepEditor, draft: DraftSteps) -> PreviewResponse:
    """Return what the last of these steps would do, and save nothing."""
    require_offered(desk.ready.exercise.rules, draft.steps)
    found = replay_edited(desk.ready.start, draft.steps, draft.off, kept(desk.whose))
    return shown_preview(found, len(draft.steps))
