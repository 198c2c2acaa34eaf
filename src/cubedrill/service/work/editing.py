"""A desk: where steps are done, on a student's bench or in the workshop. Saving them, looking on, trying one."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from cubedrill.core.judging.exercise import require_offered
from cubedrill.core.steps.replay import Replayed, replay_edited
from cubedrill.service.drafts import DraftSteps, kept_steps
from cubedrill.service.errors import RefusedError
from cubedrill.service.prepared import PreparedExercise
from cubedrill.service.rendering import shown_draft, shown_preview, shown_refusal, shown_state
from cubedrill.service.responses import DraftResponse, PreviewResponse, StateResponse
from cubedrill.service.work.replays import kept, replayed
from cubedrill.service.work.responses import LookResponse
from cubedrill.store import live
from cubedrill.store.drafts import get_steps, locked_steps, opened_steps, save_under
from cubedrill.store.tables import Assignment, StepsKept


@dataclass(frozen=True)
class StepEditor:
    """On what steps are done, and where they are kept: the table, and the key in it.

    set_as: a student's, as what. view_only_of: the owner of a plan that whoever asks may only look at.
    """

    db: Session
    ready: PreparedExercise
    table: type[StepsKept]
    key: tuple[tuple[str, int | str], ...]
    set_as: Assignment | None = None
    view_only_of: str = ""

    @property
    def whose(self) -> tuple[object, ...]:
        """Whose replay it is."""
        return (self.table.__name__, *self.key)

    def get(self) -> StepsKept:
        """Return the steps as they are saved, or an empty list."""
        return get_steps(self.db, self.table, **dict(self.key))

    def opened(self) -> StepsKept:
        """Return the steps as they are saved; the first visit adds an empty list, which says when it was begun."""
        return opened_steps(self.db, self.table, **dict(self.key))

    def locked(self) -> StepsKept:
        """Return the steps, held against other writers until the transaction ends."""
        return locked_steps(self.db, self.table, **dict(self.key))

    def after(self, work: DraftSteps) -> Replayed:
        """Return the replay of the steps up to the cursor; nothing is saved."""
        return replay_edited(self.ready.start, work.steps[: work.cursor], work.off, kept(self.whose))


@dataclass(frozen=True)
class Sent:
    """Work as it was sent; known: how many leading steps the sender has the answers for."""

    work: DraftSteps
    known: int = 0


def shown(desk: StepEditor, draft: StepsKept) -> DraftResponse:
    """Return kept steps replayed."""
    work = kept_steps(draft)
    found = replayed(desk.ready, desk.whose, work.steps, work.off)
    state = shown_state(desk.ready, found.states[: draft.cursor + 1], work.matches)
    return shown_draft(draft, found, work, state)


def save(desk: StepEditor, revision: int, sent: Sent) -> DraftResponse:
    """Save work against the revision it was made on, and return it replayed.

    Raises RefusedError "view-only", "stale-draft" with the newer draft, or the CoreError of a last step that cannot be
    done; then nothing is saved. An earlier step that can no longer be done is kept and marked: it was good work once.
    """
    if desk.view_only_of:
        raise RefusedError("view-only", owner=desk.view_only_of)
    found = replayed(desk.ready, desk.whose, sent.work.steps, sent.work.off)
    if found.refused is not None and found.refused.step == len(sent.work.steps):
        raise found.refused
    state = shown_state(desk.ready, found.states[: sent.work.cursor + 1], sent.work.matches)
    columns = sent.work.columns() | ({} if desk.set_as is None else _progress(state))
    draft = save_under(desk.db, desk.table, dict(desk.key), revision, columns)
    if draft is None:
        raise RefusedError("stale-draft", newer=shown(desk, desk.get()))
    if desk.set_as is not None:
        live.tell(desk.db, desk.set_as.class_id, desk.set_as.id, draft.person_id)
    return shown_draft(draft, found, sent.work, state, sent.known)


def _progress(state: StateResponse) -> dict[str, int | None]:
    """How many checks are in place, where that is worked out: for those who look on."""
    gaps = state.gaps
    return {"in_place": sum(gap.verdict == "pass" for gap in gaps) if gaps else None, "checks": len(gaps) or None}


def look(desk: StepEditor, work: DraftSteps) -> LookResponse:
    """Return the scene after some steps, and save nothing."""
    found = desk.after(work)
    return LookResponse(state=shown_state(desk.ready, found.states, work.matches), refused=shown_refusal(found))


def preview(desk: StepEditor, work: DraftSteps) -> PreviewResponse:
    """Return what the last of these steps would do, and save nothing."""
    require_offered(desk.ready.exercise.rules, work.steps)
    found = replay_edited(desk.ready.start, work.steps, work.off, kept(desk.whose))
    return shown_preview(found, len(work.steps))
