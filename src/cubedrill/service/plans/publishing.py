"""Publishing a plan: what is unsound, what changed, the next version, and setting it for a class."""

from __future__ import annotations

from typing import Final

from pydantic import ValidationError
from sqlalchemy.orm import Session

from cubedrill.core.authoring.changes import changed
from cubedrill.core.authoring.plan import Plan
from cubedrill.core.authoring.soundness import Finding, Place, findings
from cubedrill.core.errors import CoreError
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.lru_cache import LruCache
from cubedrill.service.access import plan_for
from cubedrill.service.assignments.settings import AssignmentOptions, assign_to_class
from cubedrill.service.errors import RefusedError
from cubedrill.service.plans.plan import name_exercise, saved_state, seen_of, whole_plan
from cubedrill.service.plans.responses import ClassResponse, PublishedResponse, SeenResponse, SoundnessResponse
from cubedrill.store.documents import EXERCISE
from cubedrill.store.people import classes
from cubedrill.store.plans import plans
from cubedrill.store.plans.versions import add_version, newest_version
from cubedrill.store.tables import Event, Person, StoredPlan

Judged = tuple[Exercise | None, tuple[Finding, ...]]
_JUDGED: Final[LruCache[tuple[object, ...], Judged]] = LruCache(50)


def soundness(db: Session, person: Person, plan_id: int) -> SoundnessResponse:
    """Return what stands in the way of publishing a plan, and what publishing it would change."""
    stored = plan_for(db, person, plan_id)
    plan = whole_plan(db, stored)
    exercise, found = _judged_once(db, stored)
    newest = newest_version(db, stored.exercise)
    before = EXERCISE.read(newest.document, newest.shape) if newest else None
    return SoundnessResponse(
        findings=found,
        untouched=_untouched(plan),
        changes=changed(before, exercise) if before and exercise else (),
        number=newest.number + 1 if newest else 1,
        seen=seen_of(db, stored),
        classes=tuple(
            ClassResponse(id=c.id, name=c.name, time_zone=c.time_zone) for c in classes.classes_taught(db, person.id)
        ),
    )


def _judged_once(db: Session, stored: StoredPlan) -> Judged:
    """Return the result of `_judged`, computed once for the page and for publishing from it."""
    return _JUDGED.get(saved_state(db, stored, ("stage", "reference")), lambda: _judged(whole_plan(db, stored)))


def _untouched(plan: Plan) -> tuple[Place, ...]:
    nothing: dict[Place, bool] = {
        "stage": not plan.base.objects and not plan.stage,
        "target": plan.target is None and not plan.reference,
        "checks": not plan.checks,
    }
    return tuple(place for place, empty in nothing.items() if empty)


def _judged(plan: Plan) -> tuple[Exercise | None, tuple[Finding, ...]]:
    """Return the exercise that a plan would be, and what is unsound about it; none where it cannot be one at all."""
    if not plan.title.strip():
        return None, (Finding(code="no-title", text="The title is missing. Add one.", place="stage", stops=True),)
    try:
        if not plan.staged()[-1].scene.objects:
            text = "The stage is empty. Add a solid from the rack."
            return None, (Finding(code="nothing-there", text=text, place="stage", stops=True),)
        exercise = plan.exercise()
    except CoreError as error:
        return None, (Finding(code=error.code, text=error.text, place="stage", stops=True),)
    except ValidationError as error:
        text = str(error.errors(include_url=False)[0]["msg"])
        return None, (
            Finding(code="not-valid", text=f"The exercise is not complete: {text}.", place="checks", stops=True),
        )
    return exercise, findings(exercise)


def publish(
    db: Session, person: Person, plan_id: int, seen: SeenResponse, assigned_to: tuple[int, AssignmentOptions] | None
) -> PublishedResponse:
    """Publish a plan as it was seen as the next version. assigned_to: the class to assign it to, and the options.

    Raises RefusedError "stale-plan" if it changed since, "unsound" with the first finding that blocks it, "not-found"
    for a class that the person does not teach.
    """
    stored = plan_for(db, person, plan_id, "edit")
    if seen != seen_of(db, stored):
        raise RefusedError("stale-plan")
    exercise, found = _judged_once(db, stored)
    plans.publish_in_turn(db, stored.exercise)
    db.expire_all()  # what was judged is what is published: nobody changed it meanwhile
    if seen != seen_of(db, stored):
        raise RefusedError("stale-plan")
    if exercise is not None and newest_version(db, stored.exercise) is None:
        plans.name_in_turn(db)
        name_exercise(db, stored)
        exercise = exercise.model_copy(update={"id": stored.exercise})
    stopping = next((finding for finding in found if finding.stops), None)
    if exercise is None or stopping is not None:
        raise RefusedError("unsound", first=stopping.text if stopping else "")
    version = add_version(db, exercise, person.id)
    facts = {"plan": stored.id, "version": version.id}
    db.add(Event(person_id=person.id, kind="published", facts=facts))
    assignment = None
    if assigned_to is not None:
        class_id, options = assigned_to
        assignment = assign_to_class(db, person, class_id, version.id, options)
    return PublishedResponse(version=version.id, number=version.number, assignment=assignment)


def document_of(db: Session, person: Person, plan_id: int) -> dict[str, object]:
    """Return the exercise file that a plan would be published as; raise RefusedError "unsound"."""
    exercise, found = _judged(whole_plan(db, plan_for(db, person, plan_id)))
    if exercise is None:
        raise RefusedError("unsound", first=found[0].text)
    written: dict[str, object] = EXERCISE.written(exercise)
    return written
