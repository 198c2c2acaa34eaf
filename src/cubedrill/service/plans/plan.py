"""Making an exercise: open a plan, save its card, edit its steps, try its checks."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

from pydantic import ValidationError
from sqlalchemy.orm import Session

from cubedrill.core.authoring.new_conventions import Keep, in_conventions
from cubedrill.core.authoring.plan import Base, Card, Plan, plan_of
from cubedrill.core.authoring.propose import propose
from cubedrill.core.geometry.conventions import Conventions
from cubedrill.core.judging.checks import Check
from cubedrill.core.judging.draft import DraftSteps
from cubedrill.core.judging.exercise import Exercise, require_sound
from cubedrill.core.judging.judge import judge_loaded
from cubedrill.core.judging.separate import CheckCache, separate
from cubedrill.core.judging.submission import LoadedSubmission, SceneFile
from cubedrill.core.lru_cache import LruCache
from cubedrill.core.steps import Step
from cubedrill.core.steps.replay import State, replay
from cubedrill.formats.places import sentence_of
from cubedrill.service.access import may_edit, own_plan, plan_for, require_instructor, version_for
from cubedrill.service.disclosure import EVERYTHING, while_working
from cubedrill.service.errors import RefusedError
from cubedrill.service.plans.responses import (
    CheckedResponse,
    CreatedResponse,
    Part,
    PlanPartResponse,
    PlanResponse,
    ProposalsResponse,
    SavedCardResponse,
    SeenResponse,
    VersionResponse,
)
from cubedrill.service.prepared import PreparedExercise
from cubedrill.service.rendering import shown_exercise, shown_halos, shown_steps
from cubedrill.service.work.editing import StepEditor, shown
from cubedrill.store.documents import CARD, EXERCISE
from cubedrill.store.plans import plans
from cubedrill.store.tables import Assignment, ExerciseVersion, Person, PlanSteps, StoredPlan
from cubedrill.store.work.drafts import get_steps, opened_steps, save_steps

NEW: Final = "exercise"  # the id of an exercise without a title
# By plan: the plan without its checks, and what checks found for its mistakes. A dragged tolerance changes one check.
_TOLD: Final[LruCache[int, tuple[Plan, CheckCache]]] = LruCache(20)
_KEPT: Final[LruCache[tuple[object, ...], PreparedExercise]] = LruCache(50)


@dataclass(frozen=True)
class Origin:
    """The origin of a new plan: a title, a version, another plan, or an exercise or scene from a file.

    copy: whether it becomes another exercise, or the next version of the same.
    """

    title: str = ""
    version: int | None = None
    plan: int | None = None
    exercise: Exercise | None = None
    scene: SceneFile | None = None
    copy: bool = False


def create(db: Session, person: Person, origin: Origin) -> CreatedResponse:
    """Make a plan of one's own."""
    require_instructor(db, person)
    plan, copy = _begun(db, person, origin)
    if copy:
        plan = plan.model_copy(update={"id": free_id(db, plan.title)})
    return CreatedResponse(plan=keep_plan(db, person, plan).id)


def keep_plan(db: Session, person: Person, plan: Plan) -> StoredPlan:
    """Keep a plan as a person's own."""
    stored = StoredPlan(
        owner_id=person.id,
        exercise=plan.id,
        document=CARD.written(card_of(plan)),
        shape=CARD.number,
        revision=0,
    )
    db.add(stored)
    db.flush()
    for part, steps in (("stage", plan.stage), ("reference", plan.reference)):
        if steps:
            _keep_steps(db, stored, part, steps)
    return stored


def _begun(db: Session, person: Person, origin: Origin) -> tuple[Plan, bool]:
    """Return a plan as it begins, and whether it needs an id of its own."""
    if origin.version is not None:
        version = version_for(db, person, origin.version)
        return plan_of(EXERCISE.read(version.document, version.shape)), origin.copy
    if origin.plan is not None:
        return whole_plan(db, plan_for(db, person, origin.plan)), True
    if origin.exercise is not None:
        require_sound(origin.exercise)
        return plan_of(origin.exercise), origin.exercise.id in plans.ids_taken(db)
    empty = Plan(format="cube-drill/plan", version=1, id=NEW, title=origin.title)
    if origin.scene is not None:
        given = {"conventions": origin.scene.conventions, "base": Base(objects=origin.scene.objects)}
        empty = empty.model_copy(update=given)
        empty.base_scene()  # a tree or a matrix that is unsound is said now
    return empty, True


def free_id(db: Session, title: str) -> str:
    """Return an id that no exercise has yet, made of a title."""
    stem = re.sub(r"\W+", "-", title.lower()).strip("-")[:100] or NEW
    taken = plans.ids_taken(db)
    return next(i for i in (stem, *(f"{stem}-{n}" for n in range(2, len(taken) + 3))) if i not in taken)


def name_exercise(db: Session, stored: StoredPlan) -> None:
    """Give an exercise that began without a title its id, now that it has one and is published for the first time."""
    if re.fullmatch(rf"{NEW}(-\d+)?", stored.exercise):
        stored.exercise = free_id(db, CARD.read(stored.document, stored.shape).title)


def card_of(plan: Plan) -> Card:
    """Return a plan without its steps."""
    said = {name: getattr(plan, name) for name in Card.model_fields if name in plan.model_fields_set}
    return Card.model_validate(said)


def _keep_steps(db: Session, stored: StoredPlan, part: str, steps: Sequence[Step]) -> None:
    """Replace the steps of a part."""
    save_steps(db, opened_steps(db, PlanSteps, **_key_of(stored, part)), DraftSteps.of(tuple(steps)))


def _key_of(stored: StoredPlan, part: str) -> dict[str, int | str]:
    return {"plan_id": stored.id, "part": part, "person_id": stored.owner_id}


def steps_row(db: Session, stored: StoredPlan, part: str) -> PlanSteps:
    """Return the saved steps of a part of a plan, or an empty list."""
    return get_steps(db, PlanSteps, **_key_of(stored, part))


def saved_state(db: Session, stored: StoredPlan, parts: Sequence[str]) -> tuple[object, ...]:
    """Return a key for what is computed from a plan's card and these parts: it changes with every save."""
    rows = [steps_row(db, stored, part) for part in parts]
    saves = ((row.revision, row.saved_at if row.revision else None) for row in rows)
    return (stored.id, stored.exercise, stored.revision, stored.saved_at, *saves)


def whole_plan(db: Session, stored: StoredPlan) -> Plan:
    """Return a plan with its steps, those that count."""
    card = CARD.read(stored.document, stored.shape)
    stage, reference = (steps_row(db, stored, part).draft.counting() for part in ("stage", "reference"))
    said = {name: getattr(card, name) for name in card.model_fields_set}
    return Plan(
        format="cube-drill/plan",
        version=1,
        id=stored.exercise,
        stage=stage,
        reference=None if card.target is not None and not reference else reference,
        **said,
    )


def open_plan(db: Session, person: Person, plan_id: int) -> PlanResponse:
    """Return a plan to somebody who may work on it."""
    stored = plan_for(db, person, plan_id)
    return PlanResponse(
        plan=stored.id,
        exercise=stored.exercise,
        revision=stored.revision,
        saved_at=stored.saved_at,
        owner=stored.owner.name,
        own=stored.owner_id == person.id,
        may_edit=may_edit(db, person, stored),
        archived=stored.archived,
        card=CARD.read(stored.document, stored.shape),
        stage=steps_row(db, stored, "stage").draft.cursor,
        reference=steps_row(db, stored, "reference").draft.cursor,
        versions=shown_versions(plans.settings_of(db, person.id), plans.versions_of(db, stored.exercise)),
        seen=seen_of(db, stored),
    )


def shown_versions(settings: Sequence[Assignment], versions: Sequence[ExerciseVersion]) -> tuple[VersionResponse, ...]:
    """Return versions with the classes that they are assigned to. settings: assignments in classes of the person."""
    assigned_to: dict[int, list[str]] = {}
    for item in settings:
        assigned_to.setdefault(item.exercise_version_id, []).append(item.classroom.name)
    return tuple(
        VersionResponse(
            id=v.id, number=v.number, published_at=v.published_at, assigned_to=tuple(assigned_to.get(v.id, ()))
        )
        for v in versions
    )


def save_card(db: Session, person: Person, plan_id: int, revision: int, card: Card) -> SavedCardResponse:
    """Save a card against the revision it was made on; raise RefusedError "stale-plan"."""
    stored = plan_for(db, person, plan_id, "edit")
    kept = card.as_given_in(CARD.read(stored.document, stored.shape))
    if not plans.save_card(db, stored, revision, CARD.written(kept), CARD.number):
        raise RefusedError("stale-plan")
    return SavedCardResponse(revision=stored.revision, saved_at=stored.saved_at)


def freeze_target(db: Session, person: Person, plan_id: int, seen: SeenResponse) -> PlanResponse:
    """Make where the reference leads the plan's own target, which stays when steps change.

    Raises RefusedError "stale-plan" or "nothing-there".
    """
    stored = plan_for(db, person, plan_id, "edit")
    if seen != seen_of(db, stored):
        raise RefusedError("stale-plan")
    try:
        frozen = whole_plan(db, stored).frozen_target()
    except ValidationError:
        raise RefusedError("nothing-there") from None
    card = CARD.read(stored.document, stored.shape).model_copy(update={"target": frozen})
    plans.save_card(db, stored, stored.revision, CARD.written(card), CARD.number)
    return open_plan(db, person, plan_id)


def change_conventions(
    db: Session, person: Person, plan_id: int, seen: SeenResponse, wanted: tuple[Conventions, Keep]
) -> PlanResponse:
    """Put a plan into other conventions, with steps that are undone or switched off.

    wanted: the conventions, and what stays as it is. Raises RefusedError "stale-plan".
    """
    stored = plan_for(db, person, plan_id, "edit")
    if seen != seen_of(db, stored):
        raise RefusedError("stale-plan")
    rows = {part: opened_steps(db, PlanSteps, **_key_of(stored, part)) for part in ("stage", "reference")}
    lists = {part: row.draft.steps for part, row in rows.items()}
    after = in_conventions(whole_plan(db, stored).model_copy(update=lists), *wanted)
    plans.save_card(db, stored, stored.revision, CARD.written(card_of(after)), CARD.number)
    for part, row in rows.items():
        save_steps(db, row, row.draft.model_copy(update={"steps": getattr(after, part)}))
    return open_plan(db, person, plan_id)


def seen_of(db: Session, stored: StoredPlan) -> SeenResponse:
    """Return the revisions of a plan's parts."""
    stage, reference = (steps_row(db, stored, part).revision for part in ("stage", "reference"))
    return SeenResponse(card=stored.revision, stage=stage, reference=reference)


def set_archived(db: Session, person: Person, plan_id: int, archived: bool) -> None:
    """Archive a plan, or take it out again; raise RefusedError "not-yours"."""
    own_plan(db, person, plan_id).archived = archived


def step_editor_of(db: Session, person: Person, plan_id: int, part: Part) -> StepEditor:
    """Return the step editor for a part of a plan. Everybody has their own steps for a trial.

    Raises the CoreError of an earlier part that cannot be carried out.
    """
    stored = plan_for(db, person, plan_id)
    whose = person.id if part == "trial" else stored.owner_id
    key = (("plan_id", stored.id), ("part", part), ("person_id", whose))
    earlier = ("stage", "reference")[: ("stage", "reference", "trial").index(part)]
    mark = (part, *saved_state(db, stored, earlier))
    ready = _KEPT.get(mark, lambda: _ready(whole_plan(db, stored), part))
    view_only = part != "trial" and not may_edit(db, person, stored)
    return StepEditor(db, ready, PlanSteps, key, view_only_of=stored.owner.name if view_only else "")


def _ready(plan: Plan, part: Part) -> PreparedExercise:
    if part == "trial":
        return ready_of(plan)
    if part == "stage":
        start = plan.base_scene()
        return PreparedExercise(plan.in_the_making(), start, start)
    start = plan.staged()[-1].scene
    return PreparedExercise(plan.in_the_making(plan.rules.kinds), start, start)


def ready_of(plan: Plan) -> PreparedExercise:
    """Return a plan as the exercise that it would be.

    Raises the CoreError of what cannot be carried out, or RefusedError "unsound" where something is missing.
    """
    try:
        exercise = plan.exercise()
    except ValidationError as error:
        missing = sentence_of(error.errors(include_url=False)[0]["msg"])
        raise RefusedError("unsound", first=missing) from None
    require_sound(exercise)
    return PreparedExercise(exercise, exercise.start_scene(), exercise.target_scene())


def open_part(db: Session, person: Person, plan_id: int, part: Part) -> PlanPartResponse:
    """Return a part of a plan at which steps are done."""
    editor = step_editor_of(db, person, plan_id, part)
    return PlanPartResponse(
        exercise=shown_exercise(editor.ready, while_working(editor.ready.exercise.rules)),
        draft=shown(editor, editor.get()),
    )


def try_checks(db: Session, person: Person, plan_id: int, checks: tuple[Check, ...], apart: bool) -> CheckedResponse:
    """Return how these checks would judge: the reference, and every typical mistake. Nothing is saved.

    apart: whether to return the exercise, and which mistakes cannot be told apart, too; while a tolerance is dragged
    neither is needed.
    """
    stored = plan_for(db, person, plan_id)
    plan = whole_plan(db, stored).model_copy(update={"checks": checks})
    ready = ready_of(plan)
    states: list[State] = replay(ready.start, plan.reference) if plan.reference else []
    work = LoadedSubmission(states[-1].scene, states) if states else LoadedSubmission(ready.target)
    return CheckedResponse(
        exercise=shown_exercise(ready, EVERYTHING) if apart else None,
        steps=shown_steps(states) if states and apart else (),
        halos=shown_halos(ready.exercise, ready.target),
        results=judge_loaded(ready.exercise, ready.target, work).checks,
        separation=separate(ready.exercise, ready.start, ready.target, cache=_check_cache_of(stored, plan), apart=apart)
        if states
        else None,
    )


def _check_cache_of(stored: StoredPlan, plan: Plan) -> CheckCache:
    """Return what checks of a plan told of its mistakes before, if all but its checks is as it was then."""
    bare = plan.model_copy(update={"checks": ()})
    kept = _TOLD.find(stored.id)
    if kept is None or kept[0] != bare:
        kept = (bare, {})
        _TOLD.put(stored.id, kept)
    return kept[1]


def proposed(db: Session, person: Person, plan_id: int) -> ProposalsResponse:
    """Return checks proposed from what the reference changes; raise as `ready_of` does."""
    plan = whole_plan(db, plan_for(db, person, plan_id)).model_copy(update={"checks": ()})
    return ProposalsResponse(proposals=propose(ready_of(plan).exercise))
