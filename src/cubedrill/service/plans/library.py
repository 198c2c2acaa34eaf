"""The library: all plans and published exercises that an instructor may see."""

from __future__ import annotations

import itertools
from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Final

from sqlalchemy.orm import Session

from cubedrill.core.authoring.sketch import sketched
from cubedrill.core.judging.exercise import Exercise
from cubedrill.core.lru_cache import LruCache
from cubedrill.formats.drawing import svg_of
from cubedrill.service.access import assignment_for, require_instructor, version_for
from cubedrill.service.disclosure import as_seen, while_working
from cubedrill.service.plans.plan import shown_versions
from cubedrill.service.plans.responses import ExerciseRowResponse, LibraryResponse, PlanRowResponse
from cubedrill.service.prepared import PreparedExercise, assigned_exercise, version_ready
from cubedrill.store.documents import CARD, EXERCISE
from cubedrill.store.marks.marks import Key, Tally, tallies_of_assignments
from cubedrill.store.plans import plans
from cubedrill.store.tables import Assignment, ExerciseVersion, Person, StoredPlan

_DRAWN: Final[LruCache[tuple[int, datetime], str]] = LruCache(200)


def library_of(db: Session, person: Person) -> LibraryResponse:
    """Return what somebody may see; raise RefusedError "wrong-role" for who teaches no class."""
    require_instructor(db, person)
    counts = plans.step_counts(db)
    seen = plans.plans_seen_by(db, person.id)
    shares = Counter(share.plan_id for share in plans.shares_of(db, [plan.id for plan in seen]))
    rights = plans.rights_of(db, person.id)
    versions = plans.versions_seen_by(db, person.id)
    settings = plans.settings_of(db, person.id)
    tallies = tallies_of_assignments(db, [item.id for item in settings])
    by_exercise = itertools.groupby(versions, key=lambda version: version.exercise)
    return LibraryResponse(
        plans=tuple(_plan_row(person, plan, counts, (shares[plan.id], rights.get(plan.id, set()))) for plan in seen),
        exercises=tuple(_exercise_row(list(of_one), settings, tallies) for _exercise, of_one in by_exercise),
    )


def _plan_row(
    person: Person, plan: StoredPlan, counts: dict[tuple[int, str], int], shared: tuple[int, set[str]]
) -> PlanRowResponse:
    """Return the row of a plan. shared: the number of shares, and the rights of the viewer."""
    card = CARD.read(plan.document, plan.shape)
    return PlanRowResponse(
        plan=plan.id,
        title=card.title,
        exercise=plan.exercise,
        owner=plan.owner.name,
        own=plan.owner_id == person.id,
        may_edit=plan.owner_id == person.id or "edit" in shared[1],
        shared=shared[0] if plan.owner_id == person.id else 0,
        archived=plan.archived,
        saved_at=plan.saved_at,
        stage=counts.get((plan.id, "stage"), 0),
        reference=counts.get((plan.id, "reference"), 0),
        checks=len(card.checks),
    )


def _exercise_row(
    versions: list[ExerciseVersion], settings: Sequence[Assignment], tallies: Mapping[Key, Tally]
) -> ExerciseRowResponse:
    exercise = version_ready(versions[-1]).exercise
    ids = {version.id for version in versions}
    assigned = {item.id for item in settings if item.exercise_version_id in ids}
    theirs = [tally for (assignment, _person), tally in tallies.items() if assignment in assigned]
    return ExerciseRowResponse(
        exercise=exercise.id,
        title=exercise.title,
        trains=trained(exercise),
        versions=shown_versions(settings, versions),
        submitted=len(theirs),
        passed=sum(tally.passed for tally in theirs),
    )


def trained(exercise: Exercise) -> tuple[str, ...]:
    """Return what an exercise trains: the kinds of step of its reference, spaces and pivots beside the plain ones."""
    steps = exercise.reference.steps if exercise.reference else ()
    kinds = [step.op for step in steps]
    spaces = [_space(getattr(step, "space", "world")) for step in steps]
    pivots = [_pivot(getattr(step, "pivot", "own")) for step in steps]
    return tuple(dict.fromkeys((*kinds, *(word for word in (*spaces, *pivots) if word))))


def _space(space: object) -> str:
    if isinstance(space, str):
        return "" if space == "world" else f"{space} space"
    return "axes of something else"


def _pivot(pivot: object) -> str:
    return "" if pivot == "own" else "another pivot"


def version_document(db: Session, person: Person, version_id: int) -> tuple[str, dict[str, object]]:
    """Return a published version as a file: its name, and the document."""
    version = version_for(db, person, version_id)
    written: dict[str, object] = EXERCISE.written(EXERCISE.read(version.document, version.shape))
    return f"{version.exercise}-{version.number}.json", written


def version_drawing(db: Session, person: Person, version_id: int) -> str:
    """Return a small drawing of a version as SVG: what is given, and beside it the target."""
    version = version_for(db, person, version_id)
    return _DRAWN.get((version.id, version.published_at), lambda: _drawing(version_ready(version)))


def set_drawing(db: Session, person: Person, assignment_id: int) -> str:
    """Return a small drawing of an assignment for a student: the target beside it where its outline is to be seen."""
    assignment = assignment_for(db, person, assignment_id, "student")
    ready, version = assigned_exercise(assignment), assignment.exercise_version
    seen = while_working(ready.exercise.rules)
    if not seen.target:
        return _drawing(as_seen(ready, seen))
    return _DRAWN.get((version.id, version.published_at), lambda: _drawing(ready))


def _drawing(ready: PreparedExercise) -> str:
    scenes = (ready.start,) if ready.target is ready.start else (ready.start, ready.target)
    return svg_of(sketched(scenes))
