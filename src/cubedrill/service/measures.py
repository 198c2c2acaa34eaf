"""Measuring on the bench: of one thing or between two, in the scene after some steps. Nothing of it is a step."""

from __future__ import annotations

from collections.abc import Iterable

from cubedrill.core.errors import CoreError
from cubedrill.core.scene.measuring import Asked, measured
from cubedrill.core.scene.scene import Scene
from cubedrill.core.values import as_vector
from cubedrill.service.desks import Desk
from cubedrill.service.draft import DraftSteps
from cubedrill.service.errors import RefusedError
from cubedrill.service.views import AmountView, MeasuredView, MeasuresView


def measures(desk: Desk, work: DraftSteps, asked: Iterable[Asked]) -> MeasuresView:
    """Return what was measured; raise RefusedError "not-measured" where the exercise switches it off."""
    if desk.ready.exercise.rules.measure == "hidden":
        raise RefusedError("not-measured")
    scene = desk.after(work).states[-1].scene
    return MeasuresView(measured=tuple(_shown(scene, each) for each in asked))


def _shown(scene: Scene, asked: Asked) -> MeasuredView:
    try:
        told = measured(scene, asked)
    except CoreError as error:
        return MeasuredView(amounts=(), points=None, why=error.text)
    amounts = tuple(AmountView(what=a.what, value=a.value, unit=a.unit) for a in told.amounts)
    points = None if told.points is None else (as_vector(told.points[0]), as_vector(told.points[1]))
    return MeasuredView(amounts=amounts, points=points, why="")
