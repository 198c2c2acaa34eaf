"""Measuring on the bench: of one thing or between two, in the scene after some steps. Nothing of it is a step."""

from __future__ import annotations

from collections.abc import Iterable

from sqlalchemy.orm import Session

from cubedrill.core.errors import CoreError
from cubedrill.core.scene.measuring import Asked, measured
from cubedrill.core.scene.scene import Scene
from cubedrill.core.steps.replay import replay_edited
from cubedrill.core.values import as_vector
from cubedrill.service.access import assignment_for
from cubedrill.service.draft import DraftSteps
from cubedrill.service.errors import RefusedError
from cubedrill.service.published import exercise_set
from cubedrill.service.replays import kept
from cubedrill.service.views import AmountView, MeasuredView, MeasuresView
from cubedrill.store.tables import Person


def measures(db: Session, person: Person, assignment_id: int, work: DraftSteps, asked: Iterable[Asked]) -> MeasuresView:
    """Return what was measured; raise RefusedError "not-measured" where the exercise switches it off."""
    assignment = assignment_for(db, person, assignment_id, "student")
    ready = exercise_set(assignment)
    if ready.exercise.rules.measure == "hidden":
        raise RefusedError("not-measured")
    found = replay_edited(ready.start, work.steps[: work.cursor], work.off, kept((assignment.id, person.id)))
    scene = found.states[-1].scene
    return MeasuresView(measured=tuple(_shown(scene, each) for each in asked))


def _shown(scene: Scene, asked: Asked) -> MeasuredView:
    try:
        told = measured(scene, asked)
    except CoreError as error:
        return MeasuredView(amounts=(), points=None, why=error.text)
    amounts = tuple(AmountView(what=a.what, value=a.value, unit=a.unit) for a in told.amounts)
    points = None if told.points is None else (as_vector(told.points[0]), as_vector(told.points[1]))
    return MeasuredView(amounts=amounts, points=points, why="")
